import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { JobCard } from '@diurna/contract/jobs';
import { openCardYard, type Cards } from '../test/cards.ts';
import { PARTS_CSV, type Client, type Yard } from '../test/yard.ts';

let yard: Yard;
let ilse: Client;
let cards: Cards;
let boatId = 0;
let port = 0;
let starboard = 0;
beforeAll(async () => {
  ({ yard, ilse, cards, boatId, port, starboard } = await openCardYard(() => new Date('2026-04-15T10:00:00Z')));
  await ilse.post('/exchange/parts', PARTS_CSV);
});
afterAll(() => yard.close());

const work = (task: string, day: string, more: object = {}) => ({
  boatId,
  technicianId: yard.people.technician,
  day,
  tasks: [{ engineId: port, task }],
  ...more,
});
const hire = (day: string, outTime: string, backTime: string) =>
  ilse.post('/hires', { boatId, outDay: day, outTime, backDay: day, backTime, reference: null });
interface Preview {
  against: { bar: string; text: string; frees: string | null }[];
}
/** What the page is told before anything is written. */
const against = async (task: string, day: string, more: { jobId?: number } = {}) =>
  (
    await ilse.post<Preview>('/jobs/preview', {
      boatId,
      tasks: [{ engineId: port, task }],
      meant: { technicianId: yard.people.technician, day, ...more },
    })
  ).against;
const bars = async (...of: Parameters<typeof against>) => (await against(...of)).map((r) => r.bar);

describe('work that can be done', () => {
  test('is handed out without a word', async () => {
    expect(await against('grease', '2026-04-16')).toEqual([]);
    const { id } = await ilse.post<{ id: number }>('/jobs', work('grease', '2026-04-16'));
    expect((await cards.read(id)).insisted).toBeNull();
    // Moved nowhere, it is not against itself: its own boat, hours and parts are free.
    expect(await bars('grease', '2026-04-16', { jobId: id })).toEqual([]);
    await cards.callOff(id);
  });
});

describe('work that cannot be done', () => {
  test('is refused with every reason and what would free it; with a reason it is handed out, and both are kept', async () => {
    // A Saturday: nobody works, and she is out; an impeller takes a skill, the lift and a second person.
    await hire('2026-04-18', '07:00', '21:00');
    const told = await against('impeller', '2026-04-18');
    expect(told.map((r) => r.bar)).toEqual(['person off', 'no skill', 'boat out']);
    expect(told[0]).toEqual({
      bar: 'person off',
      text: 'technician is off that day.',
      frees: 'technician is there again on Mon 20 Apr.',
    });
    const refused = await ilse.refused('post', '/jobs', work('impeller', '2026-04-18'));
    expect(refused).toMatchObject({ status: 422, type: 'questioned' });
    expect(refused.faults!.map((f) => f.text)).toEqual(told.map((r) => [r.text, r.frees].filter(Boolean).join(' ')));
    expect((await ilse.get<{ rows: unknown[] }>('/jobs?from=2026-04-18&to=2026-04-18')).rows).toEqual([]);
    const { id } = await ilse.post<{ id: number }>(
      '/jobs',
      work('impeller', '2026-04-18', { insist: 'Reva comes in on Saturday.' }),
    );
    const card = await ilse.get<JobCard>(`/jobs/${id}`);
    expect(card.insisted).toEqual({ why: 'Reva comes in on Saturday.', against: told.map((r) => r.text) });
    const { rows } = await yard.pool.query<{ after: { insisted: { why: string } } }>(
      "select after from audit where subject = 'job' and subject_id = $1",
      [id],
    );
    expect(rows[0]!.after.insisted.why).toBe('Reva comes in on Saturday.');
    // Moved to where it can be done, nothing is against it any more.
    const body = { technicianId: yard.people.technician, tasks: [{ engineId: port, task: 'impeller' }] };
    const moved = await ilse.refused('put', `/jobs/${id}`, { ...body, day: '2026-04-16', version: card.version });
    expect(moved.type).toBe('questioned');
    await cards.callOff(id);
  });
  test('beside hires: the gap counts, and hours somebody else’s card takes', async () => {
    await hire('2026-04-21', '08:30', '18:00');
    const [gap] = await against('engine-oil', '2026-04-21');
    expect(gap).toMatchObject({ bar: 'gap too short', frees: 'There is room on Wed 22 Apr.' });
    // A boat has one visit a day: the work belongs on that card.
    const id = await cards.hand([[starboard, 'grease']]);
    expect(await against('grease', '2026-04-15')).toEqual([
      { bar: 'boat taken', text: 'technician has a card on Turnstone that day.', frees: 'Put the work on that card.' },
    ]);
    // On the card itself more work is asked about its own wants alone.
    const card = await cards.read(id);
    const more = (task: string) => ({
      version: card.version,
      day: card.day,
      technicianId: card.technicianId,
      tasks: [
        { engineId: starboard, task: 'grease' },
        { engineId: port, task },
      ],
    });
    expect((await ilse.refused('put', `/jobs/${id}`, more('impeller'))).detail).toContain(
      'not entered for lower units',
    );
    await ilse.put(`/jobs/${id}`, more('grease'));
    await cards.callOff(id);
    // Off on that day it is still, when more is added: why it stands there is not forgotten.
    const { id: saturday } = await ilse.post<{ id: number }>(
      '/jobs',
      work('grease', '2026-04-25', { insist: 'she comes in' }),
    );
    const there = await cards.read(saturday);
    await ilse.put(`/jobs/${saturday}`, {
      version: there.version,
      day: there.day,
      technicianId: there.technicianId,
      tasks: ['grease', 'steering-rod'].map((task) => ({ engineId: port, task })),
    });
    expect((await cards.read(saturday)).insisted).toEqual({
      why: 'she comes in',
      against: ['technician is off that day.'],
    });
    await cards.callOff(saturday);
  });
  test('parts: what other cards keep back is not free; what arrives by then is', async () => {
    // 1000 mL on the shelf; a gear case takes 640.
    const first = await cards.hand([[port, 'gear-lube']]);
    const wanted = async (day: string) =>
      (
        await ilse.post<Preview>('/jobs/preview', {
          boatId,
          tasks: [{ engineId: starboard, task: 'gear-lube' }],
          meant: { technicianId: yard.people.technician, day },
        })
      ).against.filter((r) => r.bar === 'no part');
    expect(await wanted('2026-04-17')).toEqual([
      {
        bar: 'no part',
        text: 'Gear lube LUBE: 640 mL wanted, 360 mL free beside what is kept back for Turnstone on Wed 15 Apr.',
        frees: 'Nothing is on the way: order it.',
      },
    ]);
    const parts = await ilse.get<{ rows: { id: number; number: string }[] }>('/stores/parts?size=50');
    await ilse.post('/stores/arrivals', {
      partId: parts.rows.find((p) => p.number === 'LUBE')!.id,
      baseId: yard.baseId,
      quantity: 2000,
      day: '2026-04-20',
      note: null,
    });
    expect((await wanted('2026-04-17'))[0]!.frees).toBe('More is to arrive on Mon 20 Apr.');
    expect(await wanted('2026-04-20')).toEqual([]);
    await cards.callOff(first);
  });
});
