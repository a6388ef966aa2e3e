import { TASK_KINDS, type TaskKind } from '../service/index.ts';

/**
 * What a person types on a card before it is finished: hours of an engine, why they are right though they look
 * wrong, the volume put in, a part really used. Kept as typed, so that a colleague who takes the card over has it.
 */
export type TypedField =
  | { what: 'hours' | 'why'; engineId: number }
  | { what: 'volume'; engineId: number; task: TaskKind }
  | { what: 'part'; partId: number };

/** The field's name on the card. */
export function typedKey(field: TypedField): string {
  switch (field.what) {
    case 'volume':
      return `volume ${field.engineId} ${field.task}`;
    case 'part':
      return `part ${field.partId}`;
    default:
      return `${field.what} ${field.engineId}`;
  }
}

/** The field of a name; null = it names none. */
export function typedOf(key: string): TypedField | null {
  const [what, number, task] = key.split(' ');
  const id = /^[1-9]\d{0,9}$/.test(number ?? '') ? Number(number) : null;
  if (id === null) return null;
  if (what === 'part' && task === undefined) return { what, partId: id };
  if ((what === 'hours' || what === 'why') && task === undefined) return { what, engineId: id };
  return what === 'volume' && TASK_KINDS.includes(task as TaskKind) && key === `volume ${id} ${task}`
    ? { what, engineId: id, task: task as TaskKind }
    : null;
}
