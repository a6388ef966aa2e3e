/** Services of one kind on one model that come up, and what one takes. */
export interface WantedService {
  /** How many come up. */
  wanted: number;
  /** Quantity by part id; none = it takes nothing from the shelf. */
  needs: ReadonlyMap<number, number>;
}

export interface Cover {
  /** How many of each can be done, in their order. */
  done: number[];
  /** Of all. */
  total: number;
  /** Parts of which there is not enough for all that come up, the scarcest first. */
  short: number[];
  /** No choice does more; false where there were too many to try, and `done` is a good one. */
  exact: boolean;
}

const EPS = 1e-9;
/** Choices looked at before a shelf is too entangled for the exact answer. */
const MOST_TRIED = 15_000;

/**
 * The most services a shelf can do at once, where they share parts: all that come up, as far as the parts go. Exact, by
 * depth with a bound for each scarce part (whoever takes least of it first); services that share no scarce part are
 * looked at by themselves.
 *
 * @param onHand quantity by part id; missing or negative counts as none
 */
export function coverTogether(services: readonly WantedService[], onHand: ReadonlyMap<number, number>): Cover {
  const demand = new Map<number, number>();
  for (const s of services) for (const [part, q] of s.needs) demand.set(part, (demand.get(part) ?? 0) + q * s.wanted);
  const there = (part: number) => Math.max(0, onHand.get(part) ?? 0);
  const share = (part: number) => there(part) / demand.get(part)!;
  const short = [...demand.keys()]
    .filter((part) => demand.get(part)! > there(part) + EPS)
    .sort((a, b) => share(a) - share(b) || a - b);
  const done = services.map((s) => s.wanted);
  let exact = true;
  for (const group of groupsOf(services, new Set(short))) {
    const found = most(
      group.map((i) => services[i]!),
      new Map(short.map((p) => [p, there(p)])),
    );
    exact &&= found.exact;
    group.forEach((i, k) => (done[i] = found.done[k]!));
  }
  return { done, total: done.reduce((a, b) => a + b, 0), short, exact };
}

/** Services that share scarce parts, directly or by others between them; those that take none stand nowhere. */
function groupsOf(services: readonly WantedService[], scarce: ReadonlySet<number>): number[][] {
  const groups: { parts: Set<number>; of: number[] }[] = [];
  services.forEach((s, i) => {
    const parts = new Set([...s.needs.keys()].filter((p) => scarce.has(p)));
    if (parts.size === 0 || s.wanted === 0) return;
    const touching = groups.filter((g) => [...parts].some((p) => g.parts.has(p)));
    const joined = { parts, of: [i] };
    for (const g of touching) {
      for (const p of g.parts) joined.parts.add(p);
      joined.of.push(...g.of);
      groups.splice(groups.indexOf(g), 1);
    }
    groups.push(joined);
  });
  return groups.map((g) => g.of.sort((a, b) => a - b));
}

/** How many of each a part that only one kind takes lets be done: no matter of sharing. */
function alone(
  services: readonly WantedService[],
  onHand: ReadonlyMap<number, number>,
  own: readonly number[],
): number[] {
  return services.map((s) =>
    own.reduce((n, p) => {
      const q = s.needs.get(p) ?? 0;
      return q > 0 ? Math.min(n, Math.floor(onHand.get(p)! / q + EPS)) : n;
    }, s.wanted),
  );
}

/** The most that could follow from a place on, with what is left: by each part alone, the least hungry first. */
function boundBy(needs: readonly number[][], wanted: readonly number[], left: readonly number[]) {
  const byNeed = left.map((_, k) => wanted.map((_w, at) => at).sort((a, b) => needs[a]![k]! - needs[b]![k]!));
  return (from: number): number => {
    let least = Infinity;
    left.forEach((there, k) => {
      let rest = there;
      let n = 0;
      for (const at of byNeed[k]!) {
        if (at < from) continue;
        const q = needs[at]![k]!;
        const more = q <= 0 ? wanted[at]! : Math.min(wanted[at]!, Math.floor(rest / q + EPS));
        n += more;
        rest -= more * q;
      }
      least = Math.min(least, n);
    });
    return least;
  };
}

function most(
  services: readonly WantedService[],
  onHand: ReadonlyMap<number, number>,
): { done: number[]; exact: boolean } {
  const shared = (p: number) => services.filter((s) => s.needs.has(p)).length > 1;
  const can = alone(
    services,
    onHand,
    [...onHand.keys()].filter((p) => !shared(p)),
  );
  const wish = (p: number) => services.reduce((sum, s, i) => sum + (s.needs.get(p) ?? 0) * can[i]!, 0);
  const parts = [...onHand.keys()].filter((p) => shared(p) && wish(p) > onHand.get(p)! + EPS);
  if (parts.length === 0) return { done: can, exact: true };
  const left = parts.map((p) => onHand.get(p)!);
  // Whoever takes the smallest share of what there is comes first: a good choice early cuts the rest.
  const weight = (s: WantedService) =>
    parts.reduce(
      (sum, p, k) => sum + (left[k]! > 0 ? (s.needs.get(p) ?? 0) / left[k]! : (s.needs.get(p) ?? 0) * 1e6),
      0,
    );
  const order = services.map((_, i) => i).sort((a, b) => weight(services[a]!) - weight(services[b]!));
  const needs = order.map((i) => parts.map((p) => services[i]!.needs.get(p) ?? 0));
  const wanted = order.map((i) => can[i]!);
  const bound = boundBy(needs, wanted, left);
  const now = wanted.map(() => 0);
  let best = wanted.map(() => 0);
  let bestTotal = -1;
  let tried = 0;
  const follow = (at: number, total: number): void => {
    if (total > bestTotal) {
      bestTotal = total;
      best = [...now];
    }
    if (at === order.length || ++tried > MOST_TRIED || total + bound(at) <= bestTotal) return;
    const fits = needs[at]!.reduce((n, q, k) => (q > 0 ? Math.min(n, Math.floor(left[k]! / q + EPS)) : n), wanted[at]!);
    for (let n = fits; n >= 0; n--) {
      now[at] = n;
      needs[at]!.forEach((q, k) => (left[k]! -= n * q));
      follow(at + 1, total + n);
      needs[at]!.forEach((q, k) => (left[k]! += n * q));
    }
    now[at] = 0;
  };
  follow(0, 0);
  const done = services.map(() => 0);
  order.forEach((i, at) => (done[i] = best[at]!));
  return { done, exact: tried <= MOST_TRIED };
}
