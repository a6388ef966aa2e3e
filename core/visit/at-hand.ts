import type { Position } from '../fleet/index.ts';
import { engineName } from '../fleet/index.ts';
import { plural } from '../units/index.ts';
import { progressOf, tasksDone, waitsUntil, type CardState } from './card.ts';
import type { VisitTask } from './minutes.ts';
import type { TimedStep } from './order/order.ts';
import type { Fact } from './state/facts.ts';
import { foundOpen } from './state/found.ts';
import { EngineState, never } from './state/open-now.ts';
import type { Step } from './step.ts';
import { visitSteps } from './steps.ts';
import type { Stance } from './template.ts';

/**
 * A card that is worked: its steps in working order with what its entries add up to. The phone, the list on the
 * desk, the server and the print all ask it what is at hand, what runs and what is still to be confirmed.
 */
export interface CardAtWork {
  steps: readonly TimedStep[];
  state: CardState;
  byId: ReadonlyMap<string, TimedStep>;
  /** Steps of a task that was ticked as a whole, done in another way, and those left out: nobody is sent to them. */
  passed: ReadonlySet<string>;
  /** Tasks that are done, by `engine task`. */
  done: ReadonlySet<string>;
  /** What stands open on its engines, and what a step would meet. */
  engines: EngineState;
}

/**
 * Puts a card's steps and the state of its entries together.
 *
 * @param open what was open when the technician came, by engine
 */
export function cardAtWork(
  steps: readonly TimedStep[],
  state: CardState,
  open: ReadonlyMap<number, readonly Fact[]> = new Map(),
): CardAtWork {
  const plain = steps.map((t) => t.step);
  const whole = passedOf(plain, state);
  // What was left out is passed by, but it has not been done to the engine.
  const passed = new Set([...whole, ...[...state.skipped.keys()].filter((id) => !state.ticks.has(id))]);
  return {
    steps,
    state,
    byId: new Map(steps.map((t) => [t.step.id, t])),
    passed,
    done: tasksDone(plain, state),
    engines: new EngineState(plain, open, (id) => state.ticks.has(id) || whole.has(id), foundOpen(plain, state)),
  };
}

/** Steps of a task that was ticked as a whole; what a person confirms is confirmed all the same. */
export const passedOf = (steps: readonly Step[], state: CardState): Set<string> =>
  new Set(
    steps
      .filter(
        (s) =>
          s.gate === null &&
          s.task !== null &&
          state.tasks.get(`${s.engineId} ${s.task}`) === true &&
          !state.ticks.has(s.id),
      )
      .map((s) => s.id),
  );

/**
 * How an engine stands now: as the step ticked last that wanted it some way left it; level when the technician comes.
 */
function stanceNow({ steps, state }: CardAtWork, engineId: number | null): Stance {
  let stance: Stance = 'level';
  let last = -Infinity;
  for (const { step } of steps) {
    const tick = step.engineId === engineId && step.stance !== null ? state.ticks.get(step.id) : undefined;
    if (tick === undefined || tick.at < last) continue;
    last = tick.at;
    stance = step.stance!;
  }
  return stance;
}

/** Steps nobody has ticked or passed, and of these the ones whose prerequisites are behind. */
function stepsLeft({ steps, state, byId, passed }: CardAtWork): { left: TimedStep[]; open: TimedStep[] } {
  const left = steps.filter(({ step }) => !state.ticks.has(step.id) && !passed.has(step.id));
  const behind = (id: string) => {
    const name = id.replace(/ started$/, '');
    return !byId.has(name) || state.ticks.has(name) || passed.has(name);
  };
  return { left, open: left.filter(({ step }) => step.after.every(behind)) };
}

/**
 * The step at hand: the first in working order that is open and waits for nothing; else the first that only
 * waits. An engine is not moved while something drains the way it stands, and what a finding forbids is passed over
 * while anything else is left.
 *
 * @param now milliseconds since 1970
 * @returns the step with how its engine has to be moved for it, and for how many milliseconds it still waits
 */
export function stepAtHand(card: CardAtWork, now: number): { at: TimedStep | null; waits: number } {
  const { steps, state, byId, engines } = card;
  const { left, open: all } = stepsLeft(card);
  const may = engines.found.length === 0 ? all : all.filter(({ step }) => !never(step, engines.hindrances(step)));
  const open = may.length > 0 ? may : all;
  const over = (step: Step) => (waitsUntil(step, state) ?? 0) - now;
  const drains = steps.filter(({ step }) => step.stance !== null && over(step) > 0);
  const wait = (step: Step) =>
    Math.max(
      0,
      ...step.after
        .filter((id) => !id.endsWith(' started'))
        .map((id) => {
          const before = byId.get(id);
          return before ? over(before.step) : 0;
        }),
      ...(step.stance === null
        ? []
        : drains
            .filter((d) => d.step.engineId === step.engineId && d.step.stance !== step.stance)
            .map((d) => over(d.step))),
    );
  const asItStands = (t: TimedStep): TimedStep => ({
    ...t,
    move: t.step.stance === null || t.step.stance === stanceNow(card, t.step.engineId) ? null : t.step.stance,
  });
  const free = open.find(({ step }) => wait(step) <= 0);
  if (free) return { at: asItStands(free), waits: 0 };
  const soonest = [...open].sort((a, b) => wait(a.step) - wait(b.step))[0];
  return soonest ? { at: asItStands(soonest), waits: wait(soonest.step) } : { at: left[0] ?? null, waits: 0 };
}

/**
 * When a second pair of hands is wanted from the step at hand on, and how long, in minutes; what follows at once is
 * told as one.
 */
export function secondHands(
  { steps, state, passed }: Pick<CardAtWork, 'steps' | 'state' | 'passed'>,
  at: TimedStep,
): { from: number; minutes: number }[] {
  const found: { from: number; minutes: number }[] = [];
  for (const t of steps) {
    if (!t.step.twoPeople || t.step.id === at.step.id || state.ticks.has(t.step.id) || passed.has(t.step.id)) continue;
    const from = Math.max(0, t.start - at.start);
    const last = found.at(-1);
    if (last && from - (last.from + last.minutes) < 1) last.minutes = from + (t.end - t.start) - last.from;
    else found.push({ from, minutes: t.end - t.start });
  }
  return found;
}

/**
 * Drains and settlings of a minute or more: those that run, and those that are over and still wait for the next step.
 */
export function timersOf(
  { steps, state }: Pick<CardAtWork, 'steps' | 'state'>,
  now: number,
): { step: Step; until: number; over: boolean }[] {
  return steps
    .flatMap(({ step }) => {
      const until = step.wait >= 1 ? waitsUntil(step, state) : null;
      if (until === null) return [];
      const over = until <= now;
      const taken = steps.some((t) => t.step.after.includes(step.id) && state.ticks.has(t.step.id));
      return over && taken ? [] : [{ step, until, over }];
    })
    .sort((a, b) => a.until - b.until);
}

/** How far a card is, "12 of 40 steps". */
export function progressText({ steps, state }: Pick<CardAtWork, 'steps' | 'state'>): string {
  const { done, total } = progressOf(
    steps.map((t) => t.step),
    state,
    0,
  );
  return `${done} of ${plural(total, 'step')}`;
}

/** A step in words, with its engine where the visit has several. */
export function placedText(
  engines: readonly { id: number; position: Position }[],
  step: Pick<Step, 'engineId' | 'text'>,
): string {
  const engine = engines.length > 1 ? engines.find((e) => e.id === step.engineId) : undefined;
  if (!engine) return step.text;
  const place = engineName('', engine.position).trim();
  return `${place[0]!.toUpperCase()}${place.slice(1)}: ${step.text.charAt(0).toLowerCase()}${step.text.slice(1)}`;
}

/**
 * The gates of the work that was done: each is confirmed by a person before the boat goes back on hire. What the
 * card was issued with counts; the gates themselves are the same in every version.
 *
 * @param work the tasks of the card
 * @param done those that are done, by `engine task`
 */
export function gatesOf(
  steps: readonly Step[],
  work: readonly VisitTask[],
  done: ReadonlySet<string>,
): (Step & { gate: NonNullable<Step['gate']> })[] {
  const doing = work.filter((t) => done.has(`${t.engineId} ${t.task}`));
  const wanted = new Set(visitSteps(doing).flatMap((s) => (s.gate === null ? [] : [s.id])));
  return steps.filter(
    (s): s is Step & { gate: NonNullable<Step['gate']> } =>
      s.gate !== null && (wanted.has(s.id) || (s.task !== null && done.has(`${s.engineId} ${s.task}`))),
  );
}
