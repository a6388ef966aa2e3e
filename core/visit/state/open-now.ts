import type { Step } from '../step.ts';
import { factOf, FACTS, needsOf, type Fact } from './facts.ts';
import type { FoundOpen } from './found.ts';
import { gapsIn, Precedence, type Gap } from './safe-order.ts';

/** Something that stands open on an engine at this moment of the work. */
export interface OpenNow {
  engineId: number;
  fact: Fact;
  /** The step that opened it; null = it was so when the technician came. */
  by: Step | null;
  /** The step that closes it; null = it stays open when the card is done. */
  closer: Step | null;
}

/** What a step would meet if it were done now. */
export type Hindrance =
  /** Open, and has to be whole. */
  | { kind: 'open'; fact: Fact; by: Step | null }
  /** Whole, and has to be open. */
  | { kind: 'whole'; fact: Fact }
  /** A person confirms what only that step shows. */
  | { kind: 'not run'; step: Step };

/** A card's engines as the ticks leave them. Steps ticked in any order: what counts is which are ticked. */
export class EngineState {
  readonly #steps: readonly Step[];
  readonly #open: ReadonlyMap<number, readonly Fact[]>;
  #gaps: readonly Gap[] | null;
  #order: Precedence | null = null;
  readonly #ticked: (id: string) => boolean;
  /** What readings say is open. */
  readonly found: readonly FoundOpen[];

  /**
   * @param open what was open when the technician came, by engine
   * @param ticked whether a step was ticked, or its task as a whole
   * @param found what readings say is open
   * @param gaps when things are open on the card, where that is known
   */
  constructor(
    steps: readonly Step[],
    open: ReadonlyMap<number, readonly Fact[]>,
    ticked: (id: string) => boolean,
    found: readonly FoundOpen[] = [],
    gaps: readonly Gap[] | null = null,
  ) {
    this.#steps = steps;
    this.#open = open;
    this.#gaps = gaps;
    this.#ticked = ticked;
    this.found = found;
  }

  /** Looked for once it is asked: most looks at a card do not. */
  #times(): readonly Gap[] {
    return (this.#gaps ??= gapsIn(this.#steps, this.#open));
  }

  #isOpen({ opener, closer }: Gap): boolean {
    return (
      (opener < 0 || this.#ticked(this.#steps[opener]!.id)) &&
      (closer === null || !this.#ticked(this.#steps[closer]!.id))
    );
  }

  /**
   * The first of the steps whose work a run, or what is confirmed by it, did not see: closed only after it was ticked.
   * A
   * run before the oil was in says nothing of the engine as it is now.
   *
   * @param placeOf where in the record a step was ticked; undefined = it is not
   */
  overtaken(step: Step, placeOf: (id: string) => number | undefined): Step | null {
    const place = placeOf(step.id);
    if (place === undefined) return null;
    const later = (other: Step | undefined) => other !== undefined && (placeOf(other.id) ?? -1) > place;
    if (step.turns === 'late') {
      this.#order ??= new Precedence(this.#steps);
      const at = this.#steps.findIndex((s) => s.id === step.id);
      const needs = new Set<string>(needsOf(step));
      for (const { fact, engineId, closer } of this.#times())
        if (
          closer !== null &&
          needs.has(fact) &&
          (engineId === step.engineId || FACTS[fact].shared) &&
          this.#order.has(closer, at) &&
          later(this.#steps[closer])
        )
          return this.#steps[closer]!;
    }
    if (step.gate === null || step.gate === 'cowl on') return null;
    return this.#steps.find((s) => s.turns === 'late' && step.after.includes(s.id) && later(s)) ?? null;
  }

  /** What stands open, one for each engine and fact. */
  open(): OpenNow[] {
    const found = new Map<string, OpenNow>();
    for (const gap of this.#times()) {
      if (gap.engineId === null || !this.#isOpen(gap)) continue;
      const key = `${gap.engineId} ${gap.fact}`;
      if (!found.has(key))
        found.set(key, {
          engineId: gap.engineId,
          fact: gap.fact,
          by: gap.opener < 0 ? null : this.#steps[gap.opener]!,
          closer: gap.closer === null ? null : this.#steps[gap.closer]!,
        });
    }
    return [...found.values(), ...this.found.map((f) => ({ ...f, by: null }))];
  }

  /** What keeps a step from being done now; empty = nothing does. */
  hindrances(step: Step): Hindrance[] {
    const found: Hindrance[] = [];
    for (const need of needsOf(step)) {
      const { fact, open } = factOf(need);
      const met = this.#times().filter(
        (g) =>
          g.fact === fact &&
          (g.engineId === step.engineId || (FACTS[fact].shared && !open)) &&
          (g.opener < 0 || this.#steps[g.opener]!.id !== step.id) &&
          (g.closer === null || this.#steps[g.closer]!.id !== step.id),
      );
      if (open) {
        if (!met.some((g) => this.#isOpen(g))) found.push({ kind: 'whole', fact });
      } else {
        const gap = met.find((g) => this.#isOpen(g));
        if (gap) found.push({ kind: 'open', fact, by: gap.opener < 0 ? null : this.#steps[gap.opener]! });
        else if (
          this.found.some(
            (f) => f.fact === fact && f.closer?.id !== step.id && (f.engineId === step.engineId || FACTS[fact].shared),
          )
        )
          found.push({ kind: 'open', fact, by: null });
      }
    }
    // The cowl goes on after whatever was run; what the run alone shows is confirmed after it.
    if (step.gate !== null && step.gate !== 'cowl on')
      for (const id of step.after) {
        const before = this.#steps.find((s) => s.id === id);
        if (before && before.turns === 'late' && !this.#ticked(before.id))
          found.push({ kind: 'not run', step: before });
      }
    return found;
  }
}

/** A hindrance in words. */
export function hindranceText(h: Hindrance): string {
  if (h.kind === 'not run') return `"${h.step.text}" comes before this.`;
  if (h.kind === 'whole') return `It wants that ${FACTS[h.fact].open}, and that is not so.`;
  if (h.by === null && h.fact === 'sump oil') return 'Nobody knows yet that there is oil in it.';
  const what = FACTS[h.fact].open;
  return `${what[0]!.toUpperCase()}${what.slice(1)}.`;
}

/**
 * A run with something open wrecks the engine, a gate without its run means nothing, and fresh lube in a case that let
 * water in hides it: these are never ticked.
 */
export const never = (step: Step, hindrances: readonly Hindrance[]): boolean =>
  hindrances.length > 0 &&
  (step.turns !== null ||
    hindrances.some((h) => h.kind === 'not run' || (h.kind === 'open' && NEVER_PAST.has(h.fact))));
const NEVER_PAST = new Set<Fact>(['water in case', 'wear in case']);
