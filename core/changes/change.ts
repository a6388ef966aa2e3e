import type { Day } from '../calendar/index.ts';
import type { TaskKind } from '../service/index.ts';

/** A task as it stands on a card. */
export interface CardTask {
  engineId: number;
  task: TaskKind;
  state: 'open' | 'done' | 'left';
  /** The version of the task's steps the card was issued with. */
  templateVersion: number;
}

/** Where a card stands: whose, when and with what; not `open` = called off. */
export interface CardStand {
  technicianId: number;
  day: Day;
  /** Minutes after midnight at the base; null = some time of the day. */
  startMinute: number | null;
  pinned: boolean;
  open: boolean;
  remark: string | null;
  insisted: { why: string; against: string[] } | null;
  tasks: CardTask[];
}

/** What becomes of one card; null before = it was not there. */
export interface CardChange {
  boatId: number;
  before: CardStand | null;
  after: CardStand;
}

/** In the order people read them in. */
export const CHANGE_KINDS = ['new', 'given', 'moved', 'work', 'called off', 'hour', 'none'] as const;
export type ChangeKind = (typeof CHANGE_KINDS)[number];

/** The name of a task on cards: of one engine one task stands once. */
export const cardTaskKey = (t: Pick<CardTask, 'engineId' | 'task'>): string => `${t.engineId} ${t.task}`;

const workOf = (c: CardStand) =>
  c.tasks
    .filter((t) => t.state !== 'done')
    .map(cardTaskKey)
    .sort()
    .join();

/**
 * What a change is to the people it touches: given to another person weighs more than another day, that more than other
 * work.
 */
export function changeKind({ before, after }: Pick<CardChange, 'before' | 'after'>): ChangeKind {
  if (before === null || (!before.open && after.open)) return 'new';
  if (!after.open) return before.open ? 'called off' : 'none';
  if (before.technicianId !== after.technicianId) return 'given';
  if (before.day !== after.day) return 'moved';
  if (workOf(before) !== workOf(after)) return 'work';
  return before.startMinute !== after.startMinute || before.pinned !== after.pinned ? 'hour' : 'none';
}

/** Whether the people of a card have to hear of it: who works on what on which day. */
export const concernsPeople = (kind: ChangeKind): boolean => kind !== 'hour' && kind !== 'none';

const whenOf = ({ before, after }: Pick<CardChange, 'before' | 'after'>) => {
  const { day, startMinute } = after.open ? after : (before ?? after);
  return `${day} ${String(startMinute ?? 0).padStart(4, '0')}`;
};

/** The changes of each kind, in the order people read them in, each kind by day and hour; empty kinds left out. */
export function groupedChanges<C extends Pick<CardChange, 'before' | 'after'>>(
  changes: readonly C[],
): { kind: ChangeKind; changes: C[] }[] {
  const inOrder = changes
    .map((c) => ({ c, kind: changeKind(c), when: whenOf(c) }))
    .sort((a, b) => (a.when < b.when ? -1 : a.when > b.when ? 1 : 0));
  return CHANGE_KINDS.map((kind) => ({ kind, changes: inOrder.filter((x) => x.kind === kind).map((x) => x.c) })).filter(
    (g) => g.changes.length > 0,
  );
}
