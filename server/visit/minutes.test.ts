import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { JobCard } from '@diurna/contract/jobs';
import { ALL_THE_SAME, Cards, tick } from '../test/cards.ts';
import { asItShould, entryOf, fleetWithTwins, openYard, write, type Client, type Yard } from '../test/yard.ts';

/** Whose first time a task on a model is: the book's own cards, and earlier work written down for somebody by name. */
let yard: Yard;
let now = new Date('2026-04-15T10:00:00Z');
let ilse: Client;
let boatId = 0;
let port = 0;
let starboard = 0;
const people: Record<string, number> = {};
beforeAll(async () => {
  yard = await openYard(() => now);
  ilse = await yard.as('coordinator');
  ({ boatId, port, starboard } = await fleetWithTwins(ilse));
  const admin = await yard.as('administrator');
  for (const name of ['Reva Sand', 'Jory Sand', 'Jory Moor']) {
    people[name] = (
      await admin.post<{ id: number }>('/people', {
        name,
        username: name.toLowerCase().replace(' ', '.'),
        role: 'technician',
        baseId: yard.baseId,
        active: true,
        password: 'a-long-password',
      })
    ).id;
    // Without times measured of a person nobody knows what was a first time: one each, on the other twin.
    await yard.pool.query(
      `insert into service_entry (engine_id, task, done_on, person_id, minutes, entered_at)
        values ($1, 'anodes', '2026-04-15', $2, 15, '2026-04-15T10:00:00Z')`,
      [port, people[name]],
    );
  }
  await ilse.post(
    '/exchange/service',
    [
      'serial,task,done_on,hours,done_by',
      'C60-40116,gear-lube,2025-03-01,100,reva',
      'C60-40117,impeller,2025-03-01,100,Reva Sand ',
      'C60-40116,gear-lube,2025-04-01,110,Jory',
      'C60-40116,spark-plugs,2025-04-01,110,Jory Moor',
      'C60-40116,engine-oil,2025-04-01,110,somebody else',
    ].join('\n'),
  );
});
afterAll(async () => {
  await yard.close();
});

const TASKS = ['engine-oil', 'gear-lube', 'impeller', 'spark-plugs', 'anodes'];
/** Tasks the card calls a first time for this technician. */
async function firstTimes(name: string): Promise<string[]> {
  const { id } = await ilse.post<{ id: number }>('/jobs', {
    insist: ALL_THE_SAME,
    boatId,
    technicianId: people[name],
    day: '2026-04-15',
    tasks: TASKS.map((task) => ({ engineId: port, task })),
  });
  const card = await ilse.get<JobCard>(`/jobs/${id}`);
  await ilse.post(`/jobs/${id}/cancel`, { version: card.version, reason: 'only looked at' });
  return card.basis
    .filter((b) => b.first && b.text.includes('first time on this model'))
    .map((b) => b.task)
    .sort();
}

describe('a first time', () => {
  test('is none where earlier work names the person, in full or by a first name only one has', async () => {
    expect(await firstTimes('Reva Sand')).toEqual(['engine-oil', 'spark-plugs']);
  });
  test('a first name two people share says nothing of either; a full name does', async () => {
    expect(await firstTimes('Jory Sand')).toEqual(['engine-oil', 'gear-lube', 'impeller', 'spark-plugs']);
    expect(await firstTimes('Jory Moor')).toEqual(['engine-oil', 'gear-lube', 'impeller']);
  });
  test('whoever wrote another’s work down did not do it', async () => {
    // The coordinator read the file in; a card of a technician without measured times knows no first times at all.
    const { rows } = await yard.pool.query<{ n: number }>(
      'select count(*)::int as n from service_entry where person_id = $1',
      [yard.people.coordinator],
    );
    expect(rows[0]!.n).toBe(5);
    const { people: paces } = await ilse.get<{ people: { personId: number; times: number }[] }>('/visit/minutes');
    expect(paces.find((p) => p.personId === yard.people.coordinator)!.times).toBe(0);
    expect(paces.find((p) => p.personId === people['Reva Sand'])!.times).toBe(1);
  });
});

describe('a seized screw', () => {
  test('what it took teaches nothing of the next time; time is allowed for it by model', async () => {
    const { id } = await ilse.post<{ id: number }>('/jobs', {
      insist: ALL_THE_SAME,
      boatId,
      technicianId: people['Reva Sand'],
      day: '2026-04-15',
      tasks: [{ engineId: port, task: 'gear-lube' }],
    });
    await yard.pool.query(
      `insert into service_entry (engine_id, task, done_on, person_id, minutes, entered_at, job_id)
        values ($1, 'gear-lube', '2026-04-15', $2, 90, '2026-04-15T10:00:00Z', $3)`,
      [port, people['Reva Sand'], id],
    );
    await yard.pool.query(
      `insert into finding (engine_id, job_id, code, weight, seen, means, does, proposals, readings, state, at)
        values ($1, $2, 'screw gear-lube', 'act', 'A screw was seized.', 'Corrosion.', 'A new screw.', '[]', '[]', 'open',
          '2026-04-15T10:00:00Z')`,
      [port, id],
    );
    // What was learned is kept for a minute.
    now = new Date('2026-04-15T10:02:00Z');
    const card = await ilse.get<JobCard>(`/jobs/${id}`);
    expect(card.basis.find((b) => b.task === 'gear-lube')!.text).toContain(
      'seized on 1 of 1 cards of this model: 5 min',
    );
    const { works } = await ilse.get<{ works: { task: string }[] }>('/visit/minutes');
    expect(works.find((t) => t.task === 'gear-lube')).toBeUndefined();
  });
});

describe('what a drain takes', () => {
  test('is measured where the next step waited for it, and the next card of the model counts with it', async () => {
    const ines = await yard.as('technician');
    const cards = new Cards(ilse, { boatId, technicianId: yard.people.technician });
    const id = await cards.hand([[starboard, 'gear-lube']]);
    const card = await cards.read(id);
    const drain = card.steps.find((t) => t.step.wait >= 10)!;
    expect(drain.step.wait).toBe(18);
    // Nothing else to do than to stand by: it was empty twenty minutes later than estimated.
    const after = card.steps.find((t) => t.step.after.includes(drain.step.id))!;
    const began = now.getTime() - 4 * 3_600_000;
    for (const t of card.steps) {
      const at = began + (t.end + (t.end >= after.end ? 20 : 0)) * 60_000;
      await write(
        ines,
        id,
        ...[...asItShould(card, t), tick(t.step.id)].map((act) =>
          entryOf(act, { at: act.kind === 'tick' ? at : at - 1 }),
        ),
      );
    }
    expect((await cards.finish(ines, id)).status).toBe(200);
    now = new Date(now.getTime() + 120_000);
    interface Drains {
      drains: { task: string; estimate: number; minutes: number; times: number }[];
    }
    const { drains } = await ilse.get<Drains>('/visit/minutes');
    expect(drains).toEqual([expect.objectContaining({ task: 'gear-lube', estimate: 18, times: 1 })]);
    // Half way from 18 to 38, in logarithms: once moves it half.
    expect(drains[0]!.minutes).toBeCloseTo(Math.sqrt(18 * 38), 0);
    const next = await cards.read(await cards.hand([[starboard, 'gear-lube']]));
    expect(next.steps.find((t) => t.step.wait >= 10)!.step.wait).toBe(drains[0]!.minutes);
    // The finished one stays as it was worked.
    expect((await cards.read(id)).steps.find((t) => t.step.wait >= 10)!.step.wait).toBe(18);
  });
});
