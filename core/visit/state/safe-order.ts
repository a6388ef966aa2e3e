import type { Step } from '../step.ts';
import { factOf, FACTS, needsOf, SOON_CLOSED, type Fact, type Need } from './facts.ts';

/** Two steps that no order of the card can keep apart. */
export interface Clash {
  /** The step that needs the fact. */
  step: Step;
  /** What it needs whole, or open. */
  need: Need;
  /** The step that stands in its way; null = it is so from the beginning, or no step opens it. */
  by: Step | null;
}

/** A clash in the words of the yard. */
export function clashText({ step, need, by }: Clash): string {
  const { fact, open } = factOf(need);
  if (open) return `"${step.text}" needs that ${FACTS[fact].open}, and no step before it sees to that.`;
  const what =
    step.turns === null
      ? `"${step.text}" would come`
      : `"${step.text}" would ${step.turns === 'crank' ? 'crank' : 'run'} the engine`;
  return by === null
    ? `${what} while ${fact === 'sump oil' ? 'nobody knows that there is oil in it' : FACTS[fact].open}: nothing before it sees to that.`
    : `${what} while ${FACTS[fact].open}: "${by.text}" is neither over before it nor can it wait for it.`;
}

/** A time in which a fact is open: from the start of one step to the end of another, or for good. Steps by place. */
export interface Gap {
  engineId: number | null;
  fact: Fact;
  /** -1 = from the beginning of the visit. */
  opener: number;
  closer: number | null;
}

const WORD = 32;

/** Which steps come after which, grown edge by edge; steps by place. */
export class Precedence {
  readonly #rows: Uint32Array[];
  constructor(steps: readonly Step[]) {
    const n = steps.length;
    const words = Math.ceil(n / WORD);
    this.#rows = steps.map(() => new Uint32Array(words));
    const at = new Map(steps.map((s, i) => [s.id, i]));
    steps.forEach((s, i) => {
      for (const id of s.after) {
        const before = at.get(id.replace(/ started$/, ''));
        if (before !== undefined) this.add(before, i);
      }
    });
  }
  /** Whether b comes after a. */
  has(a: number, b: number): boolean {
    return ((this.#rows[a]![b >>> 5]! >>> (b & 31)) & 1) === 1;
  }
  add(a: number, b: number): void {
    if (this.has(a, b)) return;
    const more = this.#rows[b]!;
    for (let x = 0; x < this.#rows.length; x++) {
      if (x !== a && !this.has(x, a)) continue;
      const row = this.#rows[x]!;
      for (let w = 0; w < row.length; w++) row[w]! |= more[w]!;
      row[b >>> 5]! |= 1 << (b & 31);
    }
  }
}

/**
 * Adds what has to come before what so that no step meets an engine it must not meet: for each step that needs a fact
 * whole, and each time that fact is open, the step comes before it or after it. Runs that are early come before
 * whatever
 * is opened, late ones after; cranking comes before where it can, while the engine is warm.
 *
 * @param steps of all engines of the visit
 * @param open what is open when the technician comes, by engine
 * @param clashes hears of what no order can keep apart
 * @returns the same steps, with more prerequisites where they are wanted
 */
export function safeOrder(
  steps: readonly Step[],
  open: ReadonlyMap<number, readonly Fact[]> = new Map(),
  clashes: (clash: Clash) => void = () => undefined,
): Step[] {
  const keeper = new Keeper(steps, open, clashes);
  let pending: Pending[] = [];
  for (const at of byWeight(steps)) pending.push(...keeper.meets(at));
  // What can lie one way only is settled before what has a choice; each choice may leave others one way only.
  while (pending.length > 0) {
    const free: Pending[] = [];
    let forced = false;
    for (const p of pending) {
      const ways = keeper.waysOf(p);
      if (ways === 'kept') continue;
      if (ways.before && ways.after) free.push(p);
      else {
        forced = true;
        keeper.settle(p, ways.before);
      }
    }
    pending = free;
    const [choice] = forced ? [] : pending;
    const turns = choice && steps[choice.at]!.turns;
    if (choice) keeper.settle(choice, turns === 'early' || turns === 'crank');
  }
  return keeper.ordered();
}

/** A step and a time it has to keep clear of. */
interface Pending {
  at: number;
  gap: Gap;
}

/** Keeps steps clear of the times in which something is open that they need whole. */
class Keeper {
  readonly #steps: readonly Step[];
  readonly #order: Precedence;
  readonly #gaps: Gap[];
  readonly #added: string[][];
  readonly #clashes: (clash: Clash) => void;

  constructor(steps: readonly Step[], open: ReadonlyMap<number, readonly Fact[]>, clashes: (clash: Clash) => void) {
    this.#steps = steps;
    this.#order = new Precedence(steps);
    this.#gaps = gapsOf(steps, this.#order, open);
    this.#added = steps.map((): string[] => []);
    this.#clashes = clashes;
  }

  /** The times a step has to keep clear of; what it needs open is seen to at once. */
  meets(at: number): Pending[] {
    const step = this.#steps[at]!;
    return needsOf(step).flatMap((need): Pending[] => {
      const { fact, open } = factOf(need);
      const met = this.#gaps.filter(
        (g) => g.fact === fact && (g.engineId === step.engineId || (FACTS[fact].shared && !open)),
      );
      if (open) {
        this.#beWithin(at, met, need);
        return [];
      }
      return met
        .filter((g) => at !== g.opener && (at !== g.closer || step.turns !== null))
        .map((gap): Pending => ({ at, gap }));
    });
  }

  /** Whether the step can still come before that time, or after it; or already does. */
  waysOf({ at, gap: { opener, closer } }: Pending): 'kept' | { before: boolean; after: boolean } {
    if (opener >= 0 && this.#order.has(at, opener)) {
      this.#put(at, opener);
      return 'kept';
    }
    if (closer !== null && this.#order.has(closer, at)) {
      this.#put(closer, at);
      return 'kept';
    }
    return { before: opener >= 0 && !this.#order.has(opener, at), after: this.#canFollow(at, closer) };
  }

  settle({ at, gap: { fact, opener, closer } }: Pending, first: boolean): void {
    if (first) this.#put(at, opener);
    else if (this.#canFollow(at, closer)) this.#put(closer, at);
    else this.#clashes({ step: this.#steps[at]!, need: fact, by: opener < 0 ? null : this.#steps[opener]! });
  }

  ordered(): Step[] {
    return this.#steps.map((s, i) =>
      this.#added[i]!.length === 0 ? s : { ...s, after: [...new Set([...s.after, ...this.#added[i]!])] },
    );
  }

  /** Nothing is closed by running it. */
  #canFollow(at: number, closer: number | null): closer is number {
    return closer !== null && closer !== at && !this.#order.has(at, closer);
  }

  #put(first: number, then: number): void {
    // What comes after another's hands alone has to be told to wait for its waiting, too.
    if (this.#order.has(first, then) && this.#steps[first]!.wait === 0) return;
    this.#order.add(first, then);
    if (!this.#steps[then]!.after.includes(this.#steps[first]!.id)) this.#added[then]!.push(this.#steps[first]!.id);
  }

  #beWithin(at: number, met: readonly Gap[], need: Need): void {
    const order = this.#order;
    const fits = met.find(
      ({ opener, closer }) => !order.has(at, opener) && (closer === null || !order.has(closer, at)),
    );
    if (!fits) {
      this.#clashes({ step: this.#steps[at]!, need, by: null });
      return;
    }
    this.#put(fits.opener, at);
    if (fits.closer !== null) this.#put(at, fits.closer);
  }
}

/** Runs first, then cranking, then the rest: what can only lie one way is settled before what has a choice. */
function byWeight(steps: readonly Step[]): number[] {
  const weight = ({ turns }: Step) => (turns === 'early' ? 0 : turns === 'late' ? 1 : turns === 'crank' ? 2 : 3);
  return steps.map((_, i) => i).sort((a, b) => weight(steps[a]!) - weight(steps[b]!) || a - b);
}

/** A time in which something better soon closed is open, with the steps that lead from the one to the other. */
export interface OpenTime {
  opener: number;
  closer: number;
  /** Besides the opener; the closer too. */
  steps: number[];
}

/** When things stand open that are better soon closed, from what has to come before what. */
export function openTimes(steps: readonly Step[]): OpenTime[] {
  const order = new Precedence(steps);
  return gapsOf(steps, order, new Map()).flatMap(({ fact, opener, closer }) =>
    closer === null || !SOON_CLOSED.has(fact)
      ? []
      : [
          {
            opener,
            closer,
            steps: steps.flatMap((_, i) => (i === closer || (order.has(opener, i) && order.has(i, closer)) ? [i] : [])),
          },
        ],
  );
}

/**
 * When each fact of each engine is open, as the card has it.
 *
 * @param open what is open when the technician comes, by engine
 */
export const gapsIn = (
  steps: readonly Step[],
  open: ReadonlyMap<number, readonly Fact[]> = new Map(),
  order = new Precedence(steps),
): Gap[] => gapsOf(steps, order, open);

/** When each fact of each engine is open. */
function gapsOf(steps: readonly Step[], order: Precedence, open: ReadonlyMap<number, readonly Fact[]>): Gap[] {
  /** Of those that close it, the first that comes after the opening. */
  const closerOf = (engineId: number | null, fact: Fact, opener: number): number | null => {
    const later = steps.flatMap((s, i) =>
      s.engineId === engineId && s.closes.includes(fact) && (opener < 0 || order.has(opener, i)) ? [i] : [],
    );
    return later.find((c) => !later.some((x) => x !== c && order.has(x, c))) ?? null;
  };
  return [
    ...[...open].flatMap(([engineId, facts]) =>
      facts.map((fact): Gap => ({ engineId, fact, opener: -1, closer: closerOf(engineId, fact, -1) })),
    ),
    ...steps.flatMap((s, i) =>
      s.opens
        .filter((fact) => !s.closes.includes(fact))
        .map((fact): Gap => ({ engineId: s.engineId, fact, opener: i, closer: closerOf(s.engineId, fact, i) })),
    ),
  ];
}
