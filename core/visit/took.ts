import { readingOf } from '../findings/index.ts';
import type { TaskKind } from '../service/index.ts';
import { waitsUntil, type CardEntry, type CardState } from './card.ts';
import type { Step } from './step.ts';

/**
 * When hands began on each task and when it was over, in milliseconds since 1970, by `engine task`: its first reading or
 * tick and its last tick, or when it was ticked as a whole.
 */
export function workTimes(
  steps: readonly Step[],
  state: CardState,
  record: readonly CardEntry[],
): Map<string, { from: number; to: number }> {
  const times = new Map<string, { from: number; to: number }>();
  const add = (key: string, at: number) => {
    const known = times.get(key);
    times.set(key, { from: Math.min(known?.from ?? at, at), to: Math.max(known?.to ?? at, at) });
  };
  for (const s of steps) {
    const tick = s.task === null ? undefined : state.ticks.get(s.id);
    if (!tick) continue;
    const key = `${s.engineId} ${s.task}`;
    add(key, tick.at);
    for (const [name, { at }] of state.readings) {
      const of = readingOf(name);
      if (of?.engineId === s.engineId && s.readings.includes(of.kind)) add(key, Math.min(at, tick.at));
    }
  }
  for (const { act, at } of record) if (act.kind === 'task' && act.done) add(taskName(act), at);
  return times;
}
const taskName = (t: { engineId: number; task: TaskKind }) => `${t.engineId} ${t.task}`;

/** Longer between two ticks than this many times the estimate, and it was not work: the phone lay somewhere. */
const MOST_TIMES = 6;
const LEAST_MINUTES = 0.2;

/**
 * Minutes hands were on each task, from the times its steps were ticked: a step took from the tick before it, or
 * from when what it waited for was over, pauses taken out. Steps ticked in one go share what the whole took, by
 * their estimates. A gap of several times the estimate counts as the estimate.
 *
 * @returns minutes by `engine task`, only of tasks with every step ticked and never ticked as a whole
 */
export function actualMinutes(steps: readonly Step[], state: CardState): Map<string, number> {
  const ticked = steps
    .filter((s) => state.ticks.has(s.id))
    .sort((a, b) => state.ticks.get(a.id)!.at - state.ticks.get(b.id)!.at);
  const took = new Map<string, number>();
  const paused = (from: number, to: number) =>
    state.pauses.reduce((sum, p) => sum + Math.max(0, Math.min(to, p.to ?? to) - Math.max(from, p.from)), 0);
  let before: number | null = null;
  for (let i = 0; i < ticked.length;) {
    const at = state.ticks.get(ticked[i]!.id)!.at;
    // Ticks within some seconds are one go.
    let end = i + 1;
    while (
      end < ticked.length &&
      state.ticks.get(ticked[end]!.id)!.at - state.ticks.get(ticked[end - 1]!.id)!.at < 5000
    )
      end++;
    const go = ticked.slice(i, end);
    const estimate = go.reduce((sum, s) => sum + s.minutes, 0);
    const last = state.ticks.get(go.at(-1)!.id)!.at;
    const ready = Math.max(
      before ?? -Infinity,
      ...go.flatMap((s) =>
        s.after.flatMap((id) => {
          const other = steps.find((x) => x.id === id);
          const until = other ? waitsUntil(other, state) : null;
          return until !== null && until <= at ? [until] : [];
        }),
      ),
    );
    const minutes = Number.isFinite(ready) ? (last - ready - paused(ready, last)) / 60_000 : estimate;
    const counted = minutes > estimate * MOST_TIMES || minutes < LEAST_MINUTES * go.length ? estimate : minutes;
    for (const s of go) took.set(s.id, (counted * s.minutes) / Math.max(estimate, 1e-9));
    before = last;
    i = end;
  }
  const sum = new Map<string, number>();
  const whole = new Map<string, boolean>();
  for (const s of steps) {
    if (s.task === null) continue;
    const key = `${s.engineId} ${s.task}`;
    whole.set(key, (whole.get(key) ?? true) && state.ticks.has(s.id) && !state.tasks.has(key));
    sum.set(key, (sum.get(key) ?? 0) + (took.get(s.id) ?? 0));
  }
  return new Map(
    [...sum].filter(([key]) => whole.get(key)).map(([key, minutes]) => [key, Math.round(minutes * 10) / 10]),
  );
}

/** What drains for less than this is no drain: a settling. */
const DRAIN_MINUTES = 10;
/** Hands that came so much later than they had to had waited for it. */
const IDLE_MINUTES = 1.5;
/** Shorter or longer than these times the estimate it was something else: a card ticked afterwards, an evening. */
const LEAST_TIMES = 0.25;

/**
 * Minutes each task's drain really took: from its tick to the next step that had to wait for it, where hands stood idle
 * before that step or it came sooner than estimated. Where other work filled the time nobody saw when it was empty,
 * and a pause says nothing.
 *
 * @returns minutes by `engine task`
 */
export function drainsTook(steps: readonly Step[], state: CardState): Map<string, number> {
  const took = new Map<string, number>();
  const at = (id: string) => state.ticks.get(id)?.at ?? null;
  const ticks = [...state.ticks.values()].map((t) => t.at).sort((a, b) => a - b);
  for (const drain of steps) {
    const began = at(drain.id);
    if (drain.task === null || drain.turns !== null || drain.wait < DRAIN_MINUTES || began === null) continue;
    const next = steps
      .filter((s) => s.after.includes(drain.id) && at(s.id) !== null)
      .sort((a, b) => at(a.id)! - at(b.id)!)[0];
    if (!next) continue;
    const ended = at(next.id)!;
    const before = ticks.findLast((t) => t < ended) ?? began;
    const hands = next.minutes * 60_000;
    const minutes = (ended - hands - began) / 60_000;
    const idle = (ended - hands - before) / 60_000;
    if (state.pauses.some((p) => p.from < ended && (p.to ?? Infinity) > began)) continue;
    if (minutes < drain.wait * LEAST_TIMES || minutes > drain.wait * MOST_TIMES) continue;
    if (minutes >= drain.wait && idle < IDLE_MINUTES) continue;
    took.set(`${drain.engineId} ${drain.task}`, Math.round(minutes * 10) / 10);
  }
  return took;
}
