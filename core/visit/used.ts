import { millilitresOf, readingKey, type ReadingKind, type ReadingValue } from '../findings/index.ts';
import { TASKS, type TaskKind } from '../service/index.ts';
import {
  fromMillilitres,
  parseAmount,
  round,
  toMillilitres,
  unitTrap,
  VOLUME_UNITS,
  type PrintedVolume,
  type VolumeUnit,
} from '../units/index.ts';
import { typedOf } from './typed.ts';

/** A card as far as it says what is used on it. */
export interface CardUse<P extends PlannedPart = PlannedPart> {
  tasks: readonly { engineId: number; task: TaskKind; state: 'open' | 'done' | 'left' }[];
  engines: readonly { id: number; sump: PrintedVolume | null; gearCase: PrintedVolume | null }[];
  parts: readonly P[];
}

/** A part that tasks of a card take, each or mL for all of them together. */
export interface PlannedPart {
  partId: number;
  unit: 'each' | 'mL';
  quantity: number;
  tasks: readonly { engineId: number; task: TaskKind }[];
}

/** What was typed on a card for its finish, read from the card's entries. */
export interface CardDraft {
  hours: Record<number, { count: string; reason: string }>;
  /** Volume put in, by "engine task". */
  volumes: Record<string, { value: string; unit: VolumeUnit }>;
  /** Parts really used, by part; what is not here is used as worked out. */
  parts: Record<number, string>;
}

export const EMPTY_DRAFT: CardDraft = { hours: {}, volumes: {}, parts: {} };

/** Figures of a volume field: "2.45 L"; the figure may still be missing. */
const volumeOf = (text: string): { value: string; unit: VolumeUnit } | null => {
  const unit = VOLUME_UNITS.find((u) => text.endsWith(` ${u}`));
  return unit === undefined ? null : { value: text.slice(0, -unit.length - 1), unit };
};
/** A volume as the card keeps it typed: "2.45 L". */
export const volumeText = (value: string, unit: VolumeUnit) => `${value} ${unit}`;

/** What was typed, by its fields; a name that is none is passed over. */
export function draftOf(texts: ReadonlyMap<string, string>): CardDraft {
  const draft: CardDraft = { hours: {}, volumes: {}, parts: {} };
  for (const [key, text] of texts) {
    const of = typedOf(key);
    if (of?.what === 'part') draft.parts[of.partId] = text;
    if (of?.what === 'hours' || of?.what === 'why') {
      const own = draft.hours[of.engineId] ?? { count: '', reason: '' };
      draft.hours[of.engineId] = of.what === 'hours' ? { ...own, count: text } : { ...own, reason: text };
    }
    const volume = of?.what === 'volume' ? volumeOf(text) : null;
    if (of?.what === 'volume' && volume) draft.volumes[taskKey(of)] = volume;
  }
  return draft;
}

/** "7 engine-oil". */
export const taskKey = (t: { engineId: number; task: TaskKind }) => `${t.engineId} ${t.task}`;

/** The label's volume that the task fills on this engine. */
export function labelVolume(engine: CardUse['engines'][number] | undefined, task: TaskKind): PrintedVolume | null {
  const fills = TASKS[task].fills;
  return fills === 'sump' ? (engine?.sump ?? null) : fills === 'gear case' ? (engine?.gearCase ?? null) : null;
}

/** The volume typed for a task: the figure, what is wrong with it, and the unit it was probably meant in. */
export function readVolume(
  draft: CardDraft,
  key: string,
  label: PrintedVolume,
): { volume: PrintedVolume | null; bad: boolean; trap: VolumeUnit | null } {
  const typed = draft.volumes[key];
  if (!typed || typed.value.trim() === '') return { volume: null, bad: false, trap: null };
  const value = parseAmount(typed.value);
  if (value === null || value === 0) return { volume: null, bad: true, trap: null };
  const volume = { value, unit: typed.unit };
  return { volume, bad: false, trap: unitTrap(volume, label) };
}

/** What was read going in at the steps of a task: before and after the run together, in the first one's unit. */
export function readingVolume(
  readings: Readonly<Record<string, ReadingValue>>,
  t: { engineId: number; task: TaskKind },
): PrintedVolume | null {
  const kinds: ReadingKind[] =
    t.task === 'engine-oil' ? ['oil in', 'oil added'] : t.task === 'gear-lube' ? ['lube in'] : [];
  const read = kinds.flatMap((kind) => {
    const value = readings[readingKey(t.engineId, kind)];
    const ml = value && 'value' in value ? millilitresOf(value) : null;
    return ml === null ? [] : [{ ml, unit: (value as { unit: VolumeUnit }).unit }];
  });
  // Only what was added later says nothing of the whole.
  if (read.length === 0 || readings[readingKey(t.engineId, kinds[0]!)] === undefined) return null;
  const ml = read.reduce((sum, r) => sum + r.ml, 0);
  return ml > 0 ? { value: round(fromMillilitres(ml, read[0]!.unit), 3), unit: read[0]!.unit } : null;
}

/** The volume put into an engine by a task: as typed, else as it was read at the steps, else as the label says. */
export function volumePutIn(
  card: Pick<CardUse, 'engines'>,
  draft: CardDraft,
  t: { engineId: number; task: TaskKind },
  readings: Readonly<Record<string, ReadingValue>>,
): PrintedVolume | null {
  const label = labelVolume(
    card.engines.find((e) => e.id === t.engineId),
    t.task,
  );
  if (label === null) return null;
  return readVolume(draft, taskKey(t), label).volume ?? readingVolume(readings, t) ?? label;
}

/**
 * Millilitres of a fluid that a task takes by the list, where it fills nothing a label tells of: fogging oil,
 * antifreeze.
 */
function asListed(card: CardUse, part: PlannedPart, t: { engineId: number; task: TaskKind }): number {
  const label = (of: { engineId: number; task: TaskKind }) =>
    labelVolume(
      card.engines.find((e) => e.id === of.engineId),
      of.task,
    );
  const own = part.tasks.filter((of) => label(of) === null);
  if (label(t) !== null || own.length === 0) return 0;
  const filled = part.tasks.reduce((sum, of) => {
    const volume = label(of);
    return sum + (volume ? toMillilitres(volume.value, volume.unit) : 0);
  }, 0);
  return Math.max(0, part.quantity - filled) / own.length;
}

/**
 * Parts used: what the ticked tasks take, fluids by the volume really put in where it was typed or read, and
 * the technician's own figure where one was written.
 *
 * @returns each part with what was worked out, and the quantity that counts; null = what was typed is no figure
 */
export function partsUsed<P extends PlannedPart>(
  card: CardUse<P>,
  draft: CardDraft,
  readings: Readonly<Record<string, ReadingValue>> = {},
): (P & { worked: number; used: number | null })[] {
  const done = new Set(card.tasks.filter((t) => t.state === 'done').map(taskKey));
  return card.parts.map((part) => {
    const share = part.tasks.filter((t) => done.has(taskKey(t)));
    const worked =
      part.unit === 'mL'
        ? Math.round(
            share.reduce((sum, t) => {
              const volume = volumePutIn(card, draft, t, readings);
              return sum + (volume ? toMillilitres(volume.value, volume.unit) : asListed(card, part, t));
            }, 0),
          )
        : part.tasks.length === 0
          ? 0
          : (part.quantity * share.length) / part.tasks.length;
    const typed = draft.parts[part.partId];
    return { ...part, worked, used: typed === undefined || typed.trim() === '' ? worked : parseAmount(typed) };
  });
}

/** What was fitted instead of a part: another number that stands for it, of which somebody typed how many went in. */
export function fittedInstead<O extends { partId: number }, P extends PlannedPart & { instead: readonly O[] }>(
  parts: readonly P[],
  draft: CardDraft,
): (P & { worked: number; used: number | null })[] {
  const known = new Set(parts.map((p) => p.partId));
  return parts.flatMap((part) =>
    part.instead.flatMap((other) => {
      const typed = draft.parts[other.partId];
      if (known.has(other.partId) || typed === undefined || typed.trim() === '') return [];
      known.add(other.partId);
      return [{ ...part, ...other, quantity: 0, tasks: [], instead: [], worked: 0, used: parseAmount(typed) }];
    }),
  );
}
