import { readingKey, READINGS, type ReadingKind, type ReadingValue } from '../findings/index.ts';
import type { TaskKind } from '../service/index.ts';
import type { Step } from './step.ts';

/** What a person does on a card. Kept one after the other, never changed: the card is what they add up to. */
export type CardAct =
  /** `why`: it was done although the engine stood otherwise than the step wants. */
  | { kind: 'tick'; step: string; done: boolean; why?: string | undefined }
  | { kind: 'read'; key: string; value: ReadingValue | null }
  /** A task ticked as a whole, done in another way than by its steps. */
  | { kind: 'task'; engineId: number; task: TaskKind; done: boolean }
  | { kind: 'pause'; on: boolean; why: string | null }
  | { kind: 'remark'; text: string }
  /** A figure typed for the finish, as it was typed; the field is one of `TypedField`. */
  | { kind: 'type'; field: string; text: string }
  /** The engine must not go out, said by hand. */
  | { kind: 'hold'; engineId: number; why: string }
  | { kind: 'photo'; step: string | null; photoId: number | null }
  /** What becomes of a finding: as proposed, or otherwise for a reason. */
  | { kind: 'decide'; finding: string; take: boolean; reason: string | null }
  /** Of two people's entries about the same thing, whether the later one counts. */
  | { kind: 'settle'; entry: string; take: boolean };

export interface CardEntry {
  /** Made on the phone, so that an entry sent twice is kept once. */
  id: string;
  /** Its place in the card's record; null while it waits on the phone. */
  seq: number | null;
  by: number;
  /** When it was done, by the phone's clock: milliseconds since 1970. */
  at: number;
  act: CardAct;
  /** The last place in the record the phone knew of. */
  seen: number;
  /** An entry of somebody else about the same thing that the phone did not know of; it counts only when settled so. */
  against: number | null;
}

export interface CardState {
  ticks: Map<string, { at: number; by: number }>;
  readings: Map<string, { value: ReadingValue; at: number; by: number }>;
  tasks: Map<string, boolean>;
  pauses: { from: number; to: number | null; why: string | null; by: number }[];
  remark: string | null;
  typed: Map<string, { text: string; at: number; by: number }>;
  holds: { engineId: number; why: string; at: number; by: number; sent: boolean }[];
  photos: { photoId: number | null; step: string | null; at: number; by: number; id: string }[];
  decisions: Map<string, { take: boolean; reason: string | null; at: number; by: number }>;
  /** Entries that stand against another's and wait for somebody to settle it. */
  open: CardEntry[];
  /** Who had a hand in it, by the order they came. */
  people: number[];
  lastAt: number | null;
  lastSeq: number;
}

/** What an entry is about: two entries of one slot can contradict each other. Null = it contradicts nothing. */
export function slotOf(act: CardAct): string | null {
  switch (act.kind) {
    case 'tick':
      return `tick ${act.step}`;
    case 'read':
      return `read ${act.key}`;
    case 'task':
      return `task ${act.engineId} ${act.task}`;
    case 'pause':
      return 'pause';
    case 'decide':
      return `decide ${act.finding}`;
    case 'remark':
      return 'remark';
    case 'type':
      return `type ${act.field}`;
    default:
      return null;
  }
}

/** Whether two entries of one slot say the same. */
export function sayTheSame(a: CardAct, b: CardAct): boolean {
  if (a.kind === 'tick' && b.kind === 'tick') return a.done === b.done;
  if (a.kind === 'task' && b.kind === 'task') return a.done === b.done;
  if (a.kind === 'pause' && b.kind === 'pause') return a.on === b.on;
  if (a.kind === 'decide' && b.kind === 'decide') return a.take === b.take;
  if (a.kind === 'read' && b.kind === 'read') return JSON.stringify(a.value) === JSON.stringify(b.value);
  if (a.kind === 'type' && b.kind === 'type') return a.text === b.text;
  return a.kind === 'remark' && b.kind === 'remark' && a.text === b.text;
}

/**
 * The entry of the record a new one stands against: about the same thing, by somebody else, unknown to the
 * phone when it was made, and saying otherwise. Null = none.
 */
export function standsAgainst(
  entry: Pick<CardEntry, 'act' | 'by' | 'seen'>,
  record: readonly CardEntry[],
): CardEntry | null {
  const slot = slotOf(entry.act);
  if (slot === null) return null;
  let latest: CardEntry | null = null;
  for (const e of record) if (e.seq !== null && e.against === null && slotOf(e.act) === slot) latest = e;
  return latest && latest.by !== entry.by && latest.seq! > entry.seen && !sayTheSame(latest.act, entry.act)
    ? latest
    : null;
}

/** The card as its entries add up to, in the order of the record; those that wait on the phone come last. */
export function foldCard(entries: readonly CardEntry[]): CardState {
  const state: CardState = {
    ticks: new Map(),
    readings: new Map(),
    tasks: new Map(),
    pauses: [],
    remark: null,
    typed: new Map(),
    holds: [],
    photos: [],
    decisions: new Map(),
    open: [],
    people: [],
    lastAt: null,
    lastSeq: 0,
  };
  const settled = new Map<string, boolean>();
  for (const e of entries) if (e.act.kind === 'settle') settled.set(e.act.entry, e.act.take);
  const inOrder = [
    ...entries.filter((e) => e.seq !== null).sort((a, b) => a.seq! - b.seq!),
    ...entries.filter((e) => e.seq === null),
  ];
  for (const e of inOrder) {
    state.lastSeq = Math.max(state.lastSeq, e.seq ?? 0);
    state.lastAt = Math.max(state.lastAt ?? 0, e.at);
    if (!state.people.includes(e.by)) state.people.push(e.by);
    if (e.against !== null) {
      const take = settled.get(e.id);
      if (take === undefined) state.open.push(e);
      if (take !== true) continue;
    }
    apply(state, e);
  }
  return state;
}

function apply(state: CardState, { act, at, by, id, seq }: CardEntry): void {
  switch (act.kind) {
    case 'tick':
      if (!act.done) state.ticks.delete(act.step);
      else if (!state.ticks.has(act.step)) state.ticks.set(act.step, { at, by });
      return;
    case 'read':
      if (act.value === null) state.readings.delete(act.key);
      else state.readings.set(act.key, { value: act.value, at, by });
      return;
    case 'task':
      state.tasks.set(`${act.engineId} ${act.task}`, act.done);
      return;
    case 'pause': {
      const last = state.pauses.at(-1);
      if (act.on && (!last || last.to !== null)) state.pauses.push({ from: at, to: null, why: act.why, by });
      if (!act.on && last?.to === null) last.to = at;
      return;
    }
    case 'remark':
      state.remark = act.text === '' ? null : act.text;
      return;
    case 'type':
      if (act.text === '') state.typed.delete(act.field);
      else state.typed.set(act.field, { text: act.text, at, by });
      return;
    case 'hold':
      state.holds.push({ engineId: act.engineId, why: act.why, at, by, sent: seq !== null });
      return;
    case 'photo':
      state.photos.push({ photoId: act.photoId, step: act.step, at, by, id });
      return;
    case 'decide':
      state.decisions.set(act.finding, { take: act.take, reason: act.reason, at, by });
      return;
    case 'settle':
  }
}

/** Readings as findings take them. */
export const readingsOf = (state: CardState): Record<string, ReadingValue> =>
  Object.fromEntries([...state.readings].map(([key, { value }]) => [key, value]));

/** What is begun on an engine: tasks with a step ticked, or ticked as a whole. */
export function tasksBegun(steps: readonly Step[], state: CardState, engineId: number): Set<TaskKind> {
  const begun = new Set<TaskKind>();
  for (const s of steps)
    if (
      s.task !== null &&
      s.engineId === engineId &&
      (state.ticks.has(s.id) || state.tasks.get(`${engineId} ${s.task}`))
    )
      begun.add(s.task);
  return begun;
}

/** Tasks that are done: every step ticked, or ticked as a whole; one that was un-ticked as a whole is not. */
export function tasksDone(steps: readonly Step[], state: CardState): Set<string> {
  const done = new Set<string>();
  const of = new Map<string, Step[]>();
  for (const s of steps)
    if (s.task !== null) of.set(`${s.engineId} ${s.task}`, [...(of.get(`${s.engineId} ${s.task}`) ?? []), s]);
  for (const [key, own] of of) if (state.tasks.get(key) ?? own.every((s) => state.ticks.has(s.id))) done.add(key);
  for (const [key, is] of state.tasks) if (is) done.add(key);
  return done;
}

export interface AskedReading {
  key: string;
  kind: ReadingKind;
  part: string | null;
}

/**
 * Keys of the readings a step asks for, with its engine's cylinders told one by one; what goes to the waste is asked by
 * stream elsewhere.
 */
export function keysAsked(step: Step, cylinders: number): AskedReading[] {
  return step.readings.flatMap((kind): AskedReading[] => {
    if (kind === 'waste') return [];
    const engineId = READINGS[kind].per === 'visit' ? 0 : (step.engineId ?? 0);
    const parts =
      READINGS[kind].per === 'cylinder'
        ? Array.from({ length: cylinders }, (_, i) => String(i + 1))
        : [kind === 'torque' || kind === 'screw' ? step.task : null];
    return parts.map((part) => ({ kind, part, key: readingKey(engineId, kind, part) }));
  });
}

/** The readings a step still wants before it can be ticked. */
export function readingsWanted(step: Step, cylinders: number, state: CardState): string[] {
  return keysAsked(step, cylinders)
    .filter(({ key, kind }) => READINGS[kind].needed && !state.readings.has(key))
    .map(({ key }) => key);
}

/**
 * When what passes by itself after a step is over, in milliseconds since 1970; null where nothing does or it is not
 * ticked.
 */
export function waitsUntil(step: Step, state: CardState): number | null {
  const tick = state.ticks.get(step.id);
  return tick === undefined || step.wait <= 0 ? null : tick.at + step.wait * 60_000;
}

export interface CardProgress {
  done: number;
  total: number;
  /** What drains or settles, with when it is over; those that are over are left out. */
  waits: { step: string; until: number }[];
  paused: { since: number; why: string | null } | null;
  /** Entries that wait for somebody to settle them. */
  unsettled: number;
  lastAt: number | null;
}

/** How far a card is at that moment (`now`: milliseconds since 1970). */
export function progressOf(steps: readonly Step[], state: CardState, now: number): CardProgress {
  const pause = state.pauses.at(-1);
  return {
    done: steps.filter((s) => state.ticks.has(s.id)).length,
    total: steps.length,
    waits: steps
      .flatMap((s) => {
        const until = waitsUntil(s, state);
        return until !== null && until > now ? [{ step: s.id, until }] : [];
      })
      .sort((a, b) => a.until - b.until),
    paused: pause?.to === null ? { since: pause.from, why: pause.why } : null,
    unsettled: state.open.length,
    lastAt: state.lastAt,
  };
}

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
