import type { TimedStep } from '../order/order.ts';
import { factOf, FACTS, needsOf, type Fact } from './facts.ts';

/** Something an order of work would do to the engine or the person. */
export interface Violation {
  step: string;
  /** Which fact it meets, or what else is wrong. */
  fact: Fact | 'another engine runs';
  /** The step that opened it, or that has an engine running; null = it was so from the beginning. */
  by: string | null;
}

const EPS = 1e-6;

/**
 * Plays an order by the hour and tells what it would do wrong: a step met with a fact open that it needs whole, or
 * whole
 * that it needs open, from its start until its waiting is over; hands anywhere on the boat while an engine runs. Knows
 * nothing of how the order was made.
 *
 * @param open what was open when the technician came, by engine
 */
export function violationsOf(
  timed: readonly TimedStep[],
  open: ReadonlyMap<number, readonly Fact[]> = new Map(),
): Violation[] {
  const found: Violation[] = [];
  const from = (t: TimedStep) => t.start;
  const until = (t: TimedStep) => t.end + t.step.wait;
  const spans = spansOf(timed, open);
  for (const t of timed) {
    for (const need of needsOf(t.step)) {
      const { fact, open: wantsOpen } = factOf(need);
      const met = spans.filter(
        (s) =>
          s.fact === fact &&
          (s.engineId === t.step.engineId || FACTS[fact].shared) &&
          s.from < Math.max(until(t), from(t) + EPS) - EPS &&
          s.until > from(t) + EPS,
      );
      if (!wantsOpen) for (const s of met) found.push({ step: t.step.id, fact, by: s.by });
      else if (!met.some((s) => s.engineId === t.step.engineId && s.from <= from(t) + EPS && s.until >= until(t) - EPS))
        found.push({ step: t.step.id, fact, by: null });
    }
    if (t.step.turns !== null)
      for (const other of timed)
        if (other !== t && from(other) < until(t) - EPS && other.end > from(t) + EPS)
          found.push({ step: other.step.id, fact: 'another engine runs', by: t.step.id });
  }
  return found;
}

/** When each fact of each engine is open, by the hours of the order. */
function spansOf(timed: readonly TimedStep[], open: ReadonlyMap<number, readonly Fact[]>) {
  const spans: { engineId: number | null; fact: Fact; from: number; until: number; by: string | null }[] = [];
  const engines = new Set<number | null>([...timed.map((t) => t.step.engineId), ...open.keys()]);
  for (const engineId of engines) {
    for (const fact of Object.keys(FACTS) as Fact[]) {
      const of = (list: 'opens' | 'closes') =>
        timed
          .filter((t) => t.step.engineId === engineId && t.step[list].includes(fact))
          .map((t) => ({ at: list === 'opens' ? t.start : t.end + t.step.wait, by: t.step.id, list }));
      const events = [...of('opens'), ...of('closes')].sort((a, b) => a.at - b.at);
      let since: { at: number; by: string | null } | null =
        engineId !== null && open.get(engineId)?.includes(fact) ? { at: -Infinity, by: null } : null;
      for (const e of events) {
        if (e.list === 'opens') since ??= e;
        else if (since) {
          spans.push({ engineId, fact, from: since.at, until: e.at, by: since.by });
          since = null;
        }
      }
      if (since) spans.push({ engineId, fact, from: since.at, until: Infinity, by: since.by });
    }
  }
  return spans;
}
