import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { JobCard, JobRow } from '@diurna/contract/jobs';
import type { Part } from '@diurna/contract/stores';
import { cardAtWork, foldCard, placedText, stepAtHand } from '@diurna/core/visit';
import { confirmGates, openTwinYard, PARTS_CSV, write } from '../test/yard.ts';
import { ALL_THE_SAME } from '../test/cards.ts';

/** What the phone works out and what the book works out are one thing. */
const NOW = '2026-04-15T10:00:00Z';
let own: Awaited<ReturnType<typeof openTwinYard>>;
beforeAll(async () => {
  own = await openTwinYard(() => new Date(NOW));
  await own.ilse.post('/exchange/parts', PARTS_CSV);
});
afterAll(async () => {
  await own.yard.close();
});

const handOut = async (tasks: { engineId: number; task: string }[]) =>
  (
    await own.ilse.post<{ id: number }>('/jobs', {
      insist: ALL_THE_SAME,
      boatId: own.boatId,
      technicianId: own.yard.people.technician,
      day: '2026-04-15',
      tasks,
    })
  ).id;
const card = (id: number) => own.ines.get<JobCard>(`/jobs/${id}`);
const onHand = async (number: string) =>
  (await own.ilse.get<{ rows: Part[] }>('/stores/parts')).rows.find((p) => p.number === number)!.onHand[0]!.quantity;

describe('one truth about a card', () => {
  test('what a finish leaves unsaid the book works out: parts and the volume put in', async () => {
    const before = await onHand('LUBE');
    const id = await handOut([{ engineId: own.starboard, task: 'gear-lube' }]);
    await confirmGates(own.ines, id);
    const c = await card(id);
    await own.ines.post(`/jobs/${id}/finish`, {
      version: c.version,
      hours: [],
      remark: null,
      parts: [],
      tasks: c.tasks.map(({ engineId, task }) => ({ engineId, task, done: true })),
    });
    // The label of this model says 0.64 L.
    expect(await onHand('LUBE')).toBe(before - 640);
    const { rows } = await own.ilse.get<{ rows: { task: string; volume: unknown }[] }>(
      `/service/entries?engineId=${own.starboard}`,
    );
    expect(rows.find((e) => e.task === 'gear-lube')!.volume).toEqual({ value: 0.64, unit: 'L' });
  });

  test('the list names the step at hand as the phone does, at every state of a card', async () => {
    const id = await handOut([
      { engineId: own.port, task: 'gear-lube' },
      { engineId: own.starboard, task: 'engine-oil' },
    ]);
    const at = Date.parse(NOW);
    let compared = 0;
    for (let i = 0; i < 60; i++) {
      const c = await card(id);
      const hand = stepAtHand(cardAtWork(c.steps, foldCard(c.entries)), at).at;
      const row = (await own.ines.get<{ rows: JobRow[] }>('/jobs?status=open')).rows.find((r) => r.id === id)!;
      if (row.progress!.done > 0)
        expect({ i, now: row.progress!.now }).toEqual({ i, now: hand && placedText(c.engines, hand.step) });
      compared++;
      if (!hand) break;
      await write(own.ines, id, { kind: 'tick', step: hand.step.id, done: true });
    }
    expect(compared).toBeGreaterThan(20);
  });
});
