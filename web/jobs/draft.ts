import type { JobCard } from '@diurna/contract/jobs';
import { TASKS, type TaskKind } from '@diurna/core/service';
import { millilitresOf, readingKey, type ReadingKind, type ReadingValue } from '@diurna/core/findings';
import { typedOf } from '@diurna/core/visit';
import {
  fromMillilitres,
  round,
  toMillilitres,
  unitTrap,
  VOLUME_UNITS,
  type PrintedVolume,
  type VolumeUnit,
} from '@diurna/core/units';
import { lifeHours, questionReading, type Question } from '@diurna/core/usage';
import { parseCount } from '../day/judge.ts';

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
export const volumeText = (value: string, unit: VolumeUnit) => `${value} ${unit}`;

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

type CardEngine = JobCard['engines'][number];
export const taskKey = (t: { engineId: number; task: TaskKind }) => `${t.engineId} ${t.task}`;

/** The label's volume that the task fills on this engine. */
export function labelVolume(engine: CardEngine | undefined, task: TaskKind): PrintedVolume | null {
  const fills = TASKS[task].fills;
  return fills === 'sump' ? (engine?.sump ?? null) : fills === 'gear case' ? (engine?.gearCase ?? null) : null;
}

/** A decimal with a point or a comma; null when it is none. */
export function parseAmount(text: string): number | null {
  const clean = text.trim().replace(',', '.');
  return /^\d{1,6}(\.\d{1,3})?$/.test(clean) ? Number(clean) : null;
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

export function judgeHours(
  engine: CardEngine,
  typed: { count: string; reason: string } | undefined,
  today: string,
): { count: number | null; bad: boolean; question: Question | null } {
  if (!engine.meter || !typed || typed.count.trim() === '') return { count: null, bad: false, question: null };
  const count = parseCount(typed.count);
  if (count === null) return { count: null, bad: true, question: null };
  return {
    count,
    bad: false,
    question: questionReading(engine.recent, { day: today, hours: lifeHours(engine.meter.offset, count) }),
  };
}

/**
 * Parts used: what the ticked tasks take, fluids by the volume really put in where it was typed, and
 * the technician's own figure where one was written.
 */
export function partsUsed(
  card: JobCard,
  draft: CardDraft,
  readings: Readonly<Record<string, ReadingValue>> = {},
): {
  partId: number;
  name: string;
  number: string;
  unit: 'each' | 'mL';
  onHand: number;
  place: string | null;
  worked: number;
  quantity: number | null;
}[] {
  const done = new Set(card.tasks.filter((t) => t.state === 'done').map(taskKey));
  return card.parts.map((part) => {
    const share = part.tasks.filter((t) => done.has(taskKey(t)));
    let worked = part.tasks.length === 0 ? 0 : (part.quantity * share.length) / part.tasks.length;
    if (part.unit === 'mL') {
      worked = share.reduce((sum, t) => {
        const label = labelVolume(
          card.engines.find((e) => e.id === t.engineId),
          t.task,
        );
        const typed = label ? readVolume(draft, taskKey(t), label).volume : null;
        const volume = typed ?? readingVolume(readings, t) ?? label;
        return sum + (volume ? toMillilitres(volume.value, volume.unit) : 0);
      }, 0);
      worked = Math.round(worked);
    }
    const typed = draft.parts[part.partId];
    const own = typed === undefined || typed.trim() === '' ? worked : parseAmount(typed);
    return {
      partId: part.partId,
      name: part.name,
      number: part.number,
      unit: part.unit,
      onHand: part.onHand,
      place: part.place,
      worked,
      quantity: own,
    };
  });
}
