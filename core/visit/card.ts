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
  | {
      kind: 'decide';
      finding: string;
      take: boolean;
      reason: string | null;
      /** Said by the server alone: it was decided at the desk, not on the dock. */
      desk?: boolean | undefined;
    }
  /** A decision is taken back: what followed from it is called off, and the finding is open again. */
  | { kind: 'undecide'; finding: string }
  /** A step is left out, with the reason; null takes that back. What it would have closed stays open. */
  | { kind: 'skip'; step: string; why: string | null }
  /** A word between the dock and the desk. */
  | { kind: 'say'; text: string }
  /** A second person writes on the card too, or no longer. */
  | { kind: 'join'; personId: number; on: boolean }
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
  /** `nth`: its place among all entries; clocks of two phones differ. */
  ticks: Map<string, { at: number; by: number; nth: number }>;
  readings: Map<string, { value: ReadingValue; at: number; by: number; nth: number }>;
  tasks: Map<string, boolean>;
  pauses: { from: number; to: number | null; why: string | null; by: number }[];
  remark: string | null;
  typed: Map<string, { text: string; at: number; by: number }>;
  holds: { engineId: number; why: string; at: number; by: number; sent: boolean }[];
  photos: { photoId: number | null; step: string | null; at: number; by: number; id: string }[];
  decisions: Map<string, { take: boolean; reason: string | null; desk: boolean; at: number; by: number }>;
  skipped: Map<string, { why: string; at: number; by: number }>;
  talk: { text: string; at: number; by: number; id: string }[];
  /** Who writes on it besides the one whose card it is. */
  helpers: Set<number>;
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
    case 'undecide':
      return `decide ${act.finding}`;
    case 'skip':
      return `skip ${act.step}`;
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
  if (a.kind === 'undecide' && b.kind === 'undecide') return true;
  if (a.kind === 'skip' && b.kind === 'skip') return (a.why === null) === (b.why === null);
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
    skipped: new Map(),
    talk: [],
    helpers: new Set(),
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
  for (const [nth, e] of inOrder.entries()) {
    state.lastSeq = Math.max(state.lastSeq, e.seq ?? 0);
    state.lastAt = Math.max(state.lastAt ?? 0, e.at);
    if (!state.people.includes(e.by)) state.people.push(e.by);
    if (e.against !== null) {
      const take = settled.get(e.id);
      if (take === undefined) state.open.push(e);
      if (take !== true) continue;
    }
    apply(state, e, nth);
  }
  return state;
}

function apply(state: CardState, { act, at, by, id, seq }: CardEntry, nth: number): void {
  switch (act.kind) {
    case 'tick':
      if (!act.done) state.ticks.delete(act.step);
      else if (!state.ticks.has(act.step)) state.ticks.set(act.step, { at, by, nth });
      return;
    case 'read':
      if (act.value === null) state.readings.delete(act.key);
      else state.readings.set(act.key, { value: act.value, at, by, nth });
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
      state.decisions.set(act.finding, { take: act.take, reason: act.reason, desk: act.desk === true, at, by });
      return;
    case 'undecide':
      state.decisions.delete(act.finding);
      return;
    case 'skip':
      if (act.why === null) state.skipped.delete(act.step);
      else state.skipped.set(act.step, { why: act.why, at, by });
      return;
    case 'say':
      state.talk.push({ text: act.text, at, by, id });
      return;
    case 'join':
      if (act.on) state.helpers.add(act.personId);
      else state.helpers.delete(act.personId);
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

/**
 * Tasks that are done: every step ticked or left out for a reason, and not all left out; or ticked as a whole. One that
 * was un-ticked as a whole is not.
 */
export function tasksDone(steps: readonly Step[], state: CardState): Set<string> {
  const done = new Set<string>();
  const of = new Map<string, Step[]>();
  for (const s of steps)
    if (s.task !== null) of.set(`${s.engineId} ${s.task}`, [...(of.get(`${s.engineId} ${s.task}`) ?? []), s]);
  for (const [key, own] of of)
    if (
      state.tasks.get(key) ??
      (own.every((s) => state.ticks.has(s.id) || state.skipped.has(s.id)) && own.some((s) => state.ticks.has(s.id)))
    )
      done.add(key);
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
 * Whether an answer ticks its step by itself: it is the last the step still wants, and all that was looked at there is
 * as it should be. A step with anything wrong, or with a reading that was not possible, is ticked by hand. Common
 * practice, no source: an answer without an "and next" saves a tap at every look.
 *
 * @param keys the readings the answer is for
 */
export function answerTicks(
  step: Step,
  cylinders: number,
  state: CardState,
  keys: readonly string[],
  value: ReadingValue,
): boolean {
  if (state.ticks.has(step.id)) return false;
  if (readingsWanted(step, cylinders, state).some((key) => !keys.includes(key))) return false;
  return keysAsked(step, cylinders)
    .filter(({ kind }) => READINGS[kind].needed)
    .every(({ key, kind }) => {
      const given = keys.includes(key) ? value : state.readings.get(key)!.value;
      if ('not' in given) return false;
      const { options } = READINGS[kind];
      return !('choice' in given) || options?.find((o) => o.key === given.choice)?.tone === 'fine';
    });
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
