import type { HoldRow, Trend } from '@diurna/contract/findings';
import type { DueRow } from '@diurna/contract/service';
import type { CardAct } from '@diurna/core/visit';
import { Cards, look as chosen } from './cards.ts';
import { confirmGates, fleetWithTwins, openYard } from './yard.ts';

export interface Condition {
  trends: Trend[];
  twins: { position: string; trends: Trend[] }[];
  holds: HoldRow[];
  followUps: { id: number; task: string; waitsFor: string | null }[];
  findings: { key: string; state: string }[];
}

/** An act of a technician: what was proposed is taken, what was seen on an engine. */
export const take = (finding: string): CardAct => ({ kind: 'decide', finding, take: true, reason: null });
export const look = (engineId: number, kind: string, choice: string) => chosen(`${engineId} ${kind}`, choice);

/** Turnstone with her twins, everybody signed in, and cards that are handed out and finished five minutes later. */
export async function openFindings() {
  let now = new Date('2026-04-15T10:00:00Z');
  const yard = await openYard(() => now);
  const [ilse, ines, bram, hanne] = await Promise.all([
    yard.as('coordinator'),
    yard.as('technician'),
    yard.as('dock'),
    yard.as('stores'),
  ]);
  const { boatId, port, starboard } = await fleetWithTwins(ilse);
  const cards = new Cards(ilse, { boatId, technicianId: yard.people.technician });
  const later = (minutes: number) => {
    now = new Date(now.getTime() + minutes * 60_000);
  };
  const hand = (...tasks: [number, string][]) => cards.hand(tasks);
  const finish = (id: number) => {
    later(5);
    return cards.finish(ines, id);
  };
  const due = async (engineId: number) =>
    (await ilse.get<{ rows: DueRow[] }>(`/service/due?engineId=${engineId}&size=50`)).rows;
  return {
    yard,
    ilse,
    ines,
    bram,
    hanne,
    boatId,
    port,
    starboard,
    cards,
    later,
    hand,
    finish,
    due,
    work: async (...tasks: [number, string][]) => {
      const id = await hand(...tasks);
      await confirmGates(ines, id);
      const reply = await finish(id);
      if (reply.status !== 200) throw new Error(reply.body.detail);
      return id;
    },
    asked: async (engineId: number) =>
      (await due(engineId)).filter((r) => r.asked !== null && r.due.task !== 'first-outing').map((r) => r.due.task),
    condition: (engineId: number) => ilse.get<Condition>(`/findings/engines/${engineId}`),
  };
}
