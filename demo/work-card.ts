import type { KnownTraits, Torque } from '@diurna/core/fleet';
import type { Visitor } from './visitor.ts';

export type Seen = { choice: string } | { value: number; unit: string };

interface CardEngine {
  id: number;
  position: string;
  cylinders: number;
  sump: { value: number; unit: string } | null;
  traits: KnownTraits;
}
interface DemoCard {
  version: number;
  elapsed: number;
  engines: CardEngine[];
  tasks: { engineId: number; task: string }[];
  parts: { partId: number; quantity: number; onHand: number }[];
  steps: {
    end: number;
    step: { id: string; engineId: number | null; task: string | null; torque: Torque | null; readings: string[] };
  }[];
  findings: { key: string; state: string }[];
}

/** What is seen where nothing is wrong. */
const WELL: Record<string, Seen> = {
  'oil look': { choice: 'black' },
  'lube look': { choice: 'dark' },
  'filter seat': { choice: 'clean' },
  'oil level found': { choice: 'upper' },
  'oil level before': { choice: 'upper' },
  'oil light': { choice: 'out' },
  'oil level': { choice: 'upper' },
  'gaskets out': { value: 2, unit: 'pieces' },
  stream: { choice: 'strong' },
  'shaft line': { choice: 'none' },
  leak: { choice: 'dry' },
  compression: { value: 128, unit: 'psi' },
  'plug look': { choice: 'light' },
  'plug gap': { value: 1, unit: 'mm' },
  'impeller look': { choice: 'set' },
  'pump metal': { choice: 'smooth' },
  'thermostat look': { choice: 'shut' },
  'anode left': { value: 70, unit: '%' },
  'fuel filter look': { choice: 'clean' },
  'separator look': { choice: 'clean' },
  'tank look': { choice: 'clean' },
  'hub look': { choice: 'sound' },
  'under cowl': { choice: 'sound' },
  shift: { choice: 'all' },
  sheen: { choice: 'none' },
  'battery volts': { value: 12.7, unit: 'V' },
};
const BY_CYLINDER = new Set(['compression', 'plug look']);

export interface WorkedCard {
  boatId: number;
  technicianId: number;
  day: string;
  tasks: { engineId: number; task: string }[];
  finished: Date;
  /** Times the minutes of the card. */
  pace?: number;
  /** What was seen otherwise than well; undefined = well. */
  seen?: (kind: string, engine: CardEngine, part: number | null) => Seen | undefined;
  /** Written at the end, besides the steps. */
  more?: { key: string; value: Seen }[];
  remark: string;
  /** Handed out in the morning: the clock goes on to when it was finished. */
  handedOut?: () => void;
  /** Why it was handed out although something was against it. */
  insist?: string;
  /** What the shelf lacks is not booked; on cards of years ago nothing is, because it was counted since. */
  books: 'what is there' | 'nothing';
}

/**
 * A service worked to its end by somebody: handed out, every step ticked with what was seen, what was found decided as
 * the book proposes, finished.
 */
export async function workCard(desk: Visitor, hands: Visitor, w: WorkedCard): Promise<void> {
  const { id } = await desk.send<{ id: number }>('POST', '/jobs', {
    boatId: w.boatId,
    technicianId: w.technicianId,
    day: w.day,
    tasks: w.tasks,
    ...(w.insist !== undefined && { insist: w.insist }),
  });
  w.handedOut?.();
  const card = await hands.send<DemoCard>('GET', `/jobs/${id}`);
  const minute = 60_000 * (w.pace ?? 1.1);
  const began = w.finished.getTime() - card.elapsed * minute;
  const entry = (at: number, seen: number, act: unknown) => ({ id: crypto.randomUUID(), at, seen, act });
  const entries = card.steps.flatMap(({ end, step }) => {
    const at = began + end * minute;
    const engine = card.engines.find((e) => e.id === step.engineId);
    const seen = step.readings.flatMap((kind) => {
      if (!engine) return [];
      const parts = BY_CYLINDER.has(kind)
        ? Array.from({ length: engine.cylinders }, (_, i) => i + 1)
        : [kind === 'torque' ? step.task : null];
      return parts.flatMap((part) => {
        const value =
          w.seen?.(kind, engine, typeof part === 'number' ? part : null) ??
          volumeOf(kind, engine, id) ??
          torqueOf(kind, step.torque, engine, id) ??
          WELL[kind];
        const key = `${engine.id} ${kind}${part === null ? '' : `#${part}`}`;
        return value ? [entry(at - 2000, 0, { kind: 'read', key, value })] : [];
      });
    });
    return [...seen, entry(at, 0, { kind: 'tick', step: step.id, done: true })];
  });
  const last = (act: unknown) => entry(w.finished.getTime(), 1_000_000, act);
  entries.push(...(w.more ?? []).map(({ key, value }) => last({ kind: 'read', key, value })));
  const write = async (list: unknown[]) => {
    for (let i = 0; i < list.length; i += 100)
      await hands.send('POST', `/jobs/${id}/entries`, { entries: list.slice(i, i + 100) });
  };
  await write(entries);
  const { findings } = await hands.send<DemoCard>('GET', `/jobs/${id}`);
  await write(
    findings
      .filter((f) => f.state === 'open')
      .map((f) => last({ kind: 'decide', finding: f.key, take: true, reason: null })),
  );
  await hands.send('POST', `/jobs/${id}/finish`, {
    version: card.version,
    hours: [],
    remark: w.remark,
    belowZero: false,
    tasks: card.tasks.map(({ engineId, task }) => ({ engineId, task, done: true })),
    parts: card.parts
      .filter((p) => w.books === 'nothing' || p.onHand < p.quantity)
      .map(({ partId }) => ({ partId, quantity: 0 })),
  });
}

/** Never the same twice, and the same in every demo: -0.5 to 0.5. */
const astray = (card: number, engine: number) => (((card * 7 + engine * 5) % 11) - 5) / 10;

/** A little stays in the sump, and a little less than the label goes in. */
function volumeOf(kind: string, { id, sump }: CardEngine, card: number): Seen | undefined {
  const share = kind === 'oil out' ? 0.963 : kind === 'oil in' ? 0.907 : null;
  return share === null || sump === null
    ? undefined
    : { value: Math.round(sump.value * (share + 0.012 * astray(card, id)) * 100) / 100, unit: sump.unit };
}

/** Tightened to what the model says, as a wrench clicks: a little over or under; where it says nothing, by feel. */
function torqueOf(kind: string, torque: Torque | null, { id, traits }: CardEngine, card: number): Seen | undefined {
  const figure = torque === null ? null : (traits[torque] ?? null);
  if (kind !== 'torque' || figure === null) return undefined;
  const middle = typeof figure === 'number' ? figure : (figure.least + figure.most) / 2;
  return { value: Math.round(middle * (1 + 0.06 * astray(card, id)) * 10) / 10, unit: 'N·m' };
}
