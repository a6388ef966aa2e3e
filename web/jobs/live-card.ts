import type { JobCard as Card } from '@diurna/contract/jobs';
import {
  foldCard,
  progressOf,
  tasksDone,
  visitSteps,
  waitsUntil,
  type CardEntry,
  type CardState,
  type Stance,
  type Step,
  type TimedStep,
} from '@diurna/core/visit';

/** A card as it stands with what this phone has written on it, sent or not. */
export interface LiveCard {
  card: Card;
  state: CardState;
  steps: readonly TimedStep[];
  byId: ReadonlyMap<string, TimedStep>;
  /** Steps of a task that was ticked as a whole: done in another way, nobody is sent through them. */
  passed: ReadonlySet<string>;
  /** Tasks with their state as the entries make it. */
  tasks: Card['tasks'];
  /** Entries that wait on this phone. */
  waiting: number;
  nameOf: (personId: number) => string;
}

/** The card's own entries, then those on the phone; one that the book has already is counted once. */
export function liveCard(card: Card, waiting: readonly CardEntry[], me: { id: number; name: string }): LiveCard {
  const known = new Set(card.entries.map((e) => e.id));
  const own = waiting.filter((e) => !known.has(e.id));
  const state = foldCard([...card.entries, ...own]);
  const plain = card.steps.map((t) => t.step);
  const done = card.status === 'open' ? tasksDone(plain, state) : null;
  const names = new Map([[me.id, me.name], ...card.people.map((p): [number, string] => [p.id, p.name])]);
  const passed = new Set(
    plain
      .filter(
        (s) =>
          s.gate === null &&
          s.task !== null &&
          state.tasks.get(`${s.engineId} ${s.task}`) === true &&
          !state.ticks.has(s.id),
      )
      .map((s) => s.id),
  );
  return {
    passed,
    card,
    state,
    steps: card.steps,
    byId: new Map(card.steps.map((t) => [t.step.id, t])),
    waiting: own.length,
    tasks:
      done === null
        ? card.tasks
        : card.tasks.map((t) => ({ ...t, state: done.has(`${t.engineId} ${t.task}`) ? 'done' : 'open' })),
    nameOf: (id) => (names.get(id) ?? 'a colleague').split(' ')[0]!,
  };
}

/** How an engine stands now: as the step ticked last that wanted it some way left it; level when the technician comes. */
function stanceNow({ steps, state }: Pick<LiveCard, 'steps' | 'state'>, engineId: number | null): Stance {
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

/**
 * The step at hand: the first in working order that is open and waits for nothing; else the first that only
 * waits. An engine is not moved while something drains the way it stands.
 */
export function stepAtHand(
  { steps, state, byId, passed }: Pick<LiveCard, 'steps' | 'state' | 'byId' | 'passed'>,
  now: number,
): { at: TimedStep | null; waits: number } {
  const left = steps.filter(({ step }) => !state.ticks.has(step.id) && !passed.has(step.id));
  const open = left.filter(({ step }) =>
    step.after.every((id) => {
      const name = id.replace(/ started$/, '');
      return !byId.has(name) || state.ticks.has(name) || passed.has(name);
    }),
  );
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
    move:
      t.step.stance === null || t.step.stance === stanceNow({ steps, state }, t.step.engineId) ? null : t.step.stance,
  });
  const free = open.find(({ step }) => wait(step) <= 0);
  if (free) return { at: asItStands(free), waits: 0 };
  const soonest = [...open].sort((a, b) => wait(a.step) - wait(b.step))[0];
  return soonest ? { at: asItStands(soonest), waits: wait(soonest.step) } : { at: left[0] ?? null, waits: 0 };
}

/** When a second pair of hands is wanted from the step at hand on, and how long, in minutes; what follows at once is told as one. */
export function secondHands(
  { steps, state, passed }: Pick<LiveCard, 'steps' | 'state' | 'passed'>,
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

/** Drains and settlings: those that run, and those that are over and still wait for the next step. */
export function timersOf(
  { steps, state }: Pick<LiveCard, 'steps' | 'state'>,
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

export const progressText = (live: LiveCard, now: number) => {
  const { done, total } = progressOf(
    live.steps.map((t) => t.step),
    live.state,
    now,
  );
  return `${done} of ${total} steps`;
};

/** The step with its engine, where the boat has several. */
export function placed(card: Pick<Card, 'engines'>, step: Pick<Step, 'engineId' | 'text'>): string {
  const engine = card.engines.length > 1 ? card.engines.find((e) => e.id === step.engineId) : undefined;
  return engine
    ? `${engine.position[0]!.toUpperCase()}${engine.position.slice(1)}: ${step.text.charAt(0).toLowerCase()}${step.text.slice(1)}`
    : step.text;
}

export const countdown = (ms: number) =>
  `${Math.floor(ms / 60_000)}:${String(Math.floor((ms % 60_000) / 1000)).padStart(2, '0')}`;
const clock = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });
export const clockOfMs = (ms: number) => clock.format(new Date(ms));

/** The gates of the work that is done: those not confirmed keep the card from being finished. */
export function gatesOf(live: LiveCard): { id: string; text: string; gate: string; done: boolean }[] {
  const done = live.tasks.filter((t) => t.state === 'done');
  const cylinders = new Map(live.card.engines.map((e) => [e.id, e.cylinders]));
  const wanted = new Set(
    visitSteps(done.map((t) => ({ engineId: t.engineId, task: t.task, cylinders: cylinders.get(t.engineId) ?? 1 })))
      .filter((s) => s.gate !== null)
      .map((s) => s.id),
  );
  return live.steps
    .filter(
      ({ step }) =>
        step.gate !== null &&
        (wanted.has(step.id) ||
          (step.task !== null && done.some((t) => t.engineId === step.engineId && t.task === step.task))),
    )
    .map(({ step }) => ({
      id: step.id,
      text: placed(live.card, step),
      gate: step.gate!,
      done: live.state.ticks.has(step.id),
    }));
}
