import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { ChangeHead } from '@diurna/contract/changes';
import type { JobCard } from '@diurna/contract/jobs';
import { addDays } from '@diurna/core/calendar';
import { openYard, rawProblem, type Client, type Yard } from '../test/yard.ts';

/** A Wednesday, seven in the morning at the base; the technician works Monday to Friday. */
const DAY = '2026-04-15';
const BOATS = ['Avocet', 'Brent', 'Curlew', 'Dunlin', 'Eider', 'Fulmar'];
const FLEET = [
  'base,boat,berth,position,maker,model,power_hp,stroke,cylinders,sump_volume,sump_unit,gear_volume,gear_unit,serial,in_service_on,bought_new,meter',
  ...BOATS.map(
    (name, i) =>
      `North Quay,${name},${i + 1},single,Corvane,60,60,4,4,2.7,L,0.64,L,C60-${i + 1},2024-03-01,yes,computer`,
  ),
].join('\n');

let yard: Yard;
let ilse: Client;
let ines: Client;
let technicianId = 0;
const boats = new Map<string, { boatId: number; engineId: number }>();
beforeAll(async () => {
  yard = await openYard(() => new Date(`${DAY}T10:00:00Z`));
  ilse = await yard.as('coordinator');
  ines = await yard.as('technician');
  technicianId = yard.people.technician;
  await ilse.post('/exchange/fleet', FLEET);
  const { rows } = await ilse.get<{ rows: { id: number; name: string; engines: { id: number }[] }[] }>(
    '/fleet/boats?size=20',
  );
  for (const b of rows) boats.set(b.name, { boatId: b.id, engineId: b.engines[0]!.id });
});
afterAll(() => yard.close());
beforeEach(async () => {
  await yard.pool.query(
    `update notice set read_at = at; update hire set cancelled_at = out_at; update job_task set on_open_job = false;
     update job set status = 'cancelled', version = version + 1 where status = 'open'`,
  );
});

const fresh = (name: string, day = '2026-04-16', task = 'grease') => ({
  boatId: boats.get(name)!.boatId,
  technicianId,
  day,
  tasks: [{ engineId: boats.get(name)!.engineId, task }],
});
type Rows = { minutes: number; against: { bar: string; text: string }[] }[];
const look = (...cards: object[]) => ilse.post<Rows>('/jobs/several/look', { cards });
const lookAtMoves = (...moves: object[]) => ilse.post<Rows>('/jobs/several/look', { moves });
const decide = (more: object) => ilse.post<{ changeId: number; cards: number }>('/jobs/several', more);
const hand = async (name: string, day = DAY, more: object = {}) => {
  const { id } = await ilse.post<{ id: number }>('/jobs', {
    ...fresh(name, day),
    insist: 'as this test wants it',
    ...more,
  });
  return id;
};
const card = (id: number) => ilse.get<JobCard>(`/jobs/${id}`);
const to = async (id: number, day: string) => {
  const { version, technicianId: same } = await card(id);
  return { jobId: id, version, technicianId: same, day };
};
const open = async () =>
  (
    await ilse.get<{ rows: { id: number; boatName: string; day: string; startMinute: number | null }[] }>(
      '/jobs?status=open&size=50',
    )
  ).rows;
const told = async () => (await ines.get<{ text: string }[]>('/session/notices')).map((n) => n.text);

describe('several boats handed out', () => {
  test('in one decision: one word to who works on them, one undo', async () => {
    const cards = ['Avocet', 'Brent', 'Curlew'].map((name) => fresh(name));
    expect((await look(...cards)).map((r) => r.against)).toEqual([[], [], []]);
    // Looked at, nothing stands.
    expect(await open()).toEqual([]);
    const { changeId, cards: n } = await decide({ cards });
    expect(n).toBe(3);
    expect((await open()).map((j) => j.boatName).sort()).toEqual(['Avocet', 'Brent', 'Curlew']);
    expect(await told()).toHaveLength(1);
    const [head] = await ilse.get<ChangeHead[]>('/changes');
    expect(head).toMatchObject({ id: changeId, text: '3 boats handed out, Thu 16 Apr', cards: 3 });
    await ilse.post(`/changes/${changeId}/undo`);
    expect(await open()).toEqual([]);
  });

  test('each is looked at beside those before it: the day is full for the last ones', async () => {
    // Six of a yearly service do not go into one shift.
    const tasks = ['engine-oil', 'gear-lube', 'spark-plugs', 'thermostat', 'anodes', 'grease', 'compression'];
    const cards = BOATS.map((name) => {
      const card = fresh(name);
      return { ...card, tasks: tasks.map((task) => ({ engineId: card.tasks[0]!.engineId, task })) };
    });
    const rows = await look(...cards);
    const hours = rows.map((r) => r.against.some((a) => a.bar === 'no hours'));
    expect(hours[0]).toBe(false);
    expect(hours.at(-1)).toBe(true);
    // Once full it stays full.
    expect(hours).toEqual([...hours].sort());
  });

  test('what cannot be done is refused with every reason by boat and nothing stands; for a reason all of it does', async () => {
    const { boatId } = boats.get('Brent')!;
    await ilse.post('/hires', {
      boatId,
      outDay: '2026-04-16',
      outTime: '07:00',
      backDay: '2026-04-16',
      backTime: '21:00',
      reference: null,
    });
    const cards = [fresh('Avocet'), fresh('Brent'), fresh('Curlew', '2026-04-18')];
    const refused = await ilse.refused('post', '/jobs/several', { cards });
    expect(refused).toMatchObject({ status: 422, type: 'questioned' });
    expect(refused.detail).toMatch(/nothing was written\. Brent: .+ Curlew: technician is off that day\./);
    expect([...new Set(refused.faults!.map((f) => f.path))]).toEqual(['cards.1', 'cards.2']);
    expect(await open()).toEqual([]);
    await decide({ cards, insist: 'the storm comes on Sunday' });
    const stands = await Promise.all((await open()).map((j) => card(j.id)));
    expect(Object.fromEntries(stands.map((c) => [c.boatName, c.insisted?.why ?? null]))).toEqual({
      Avocet: null,
      Brent: 'the storm comes on Sunday',
      Curlew: 'the storm comes on Sunday',
    });
  });

  test('work that is on a card already, a day gone by, somebody who does not work on cards: in words, and none stands', async () => {
    await hand('Dunlin');
    const twice = await rawProblem(ilse, '/jobs/several', { cards: [fresh('Avocet'), fresh('Dunlin')] });
    expect(twice.status).toBe(409);
    expect(
      (await ilse.refused('post', '/jobs/several', { cards: [fresh('Avocet', '2026-04-14')] })).faults,
    ).toMatchObject([{ path: 'cards.0.day', text: 'That day is over. Choose today or a later day.' }]);
    const dock = { ...fresh('Avocet'), technicianId: yard.people.dock };
    expect((await ilse.refused('post', '/jobs/several', { cards: [dock] })).status).toBe(422);
    expect((await ilse.refused('post', '/jobs/several', { cards: [] })).status).toBe(422);
    expect((await open()).map((j) => j.boatName)).toEqual(['Dunlin']);
  });
});

describe('several cards moved', () => {
  /** One boat with a card on each working day of the week, and its neighbours. */
  const week = async () => {
    const ids: number[] = [];
    for (const [i, name] of BOATS.slice(0, 3).entries())
      ids.push(await hand(name, addDays(DAY, i), { startMinute: 600 }));
    return ids;
  };

  test.each([
    ['later', 7],
    ['earlier again', 5],
  ])('%s: none is in the way of the next, hours stay, one undo brings all back', async (_, days) => {
    const ids = await week();
    // The same boat on two days: her second card stands where the first goes to.
    const { version } = await card(ids[1]!);
    const moves = await Promise.all(ids.map(async (id, i) => to(id, addDays(addDays(DAY, i), days))));
    expect(moves[1]!.version).toBe(version);
    const rows = await lookAtMoves(...moves);
    const { changeId } = await decide({
      moves,
      ...(rows.some((r) => r.against.length > 0) && { insist: 'the quay is closed' }),
    });
    expect((await open()).map((j) => [j.day, j.startMinute])).toEqual(
      ids.map((_id, i) => [addDays(addDays(DAY, i), days), 600]),
    );
    expect((await told()).at(-1)).toBeTruthy();
    await ilse.post(`/changes/${changeId}/undo`);
    expect((await open()).map((j) => j.day)).toEqual(ids.map((_id, i) => addDays(DAY, i)));
  });

  test('a day on: the card of Wednesday goes to Thursday, where Thursday’s own has left', async () => {
    // Both of one boat: it stands on one day of the two, whichever is written first.
    const first = await hand('Avocet', '2026-04-16');
    const second = await hand('Avocet', '2026-04-17', {
      tasks: [{ engineId: boats.get('Avocet')!.engineId, task: 'anodes' }],
    });
    const moves = [await to(first, '2026-04-17'), await to(second, '2026-04-20')];
    expect((await lookAtMoves(...moves)).map((r) => r.against)).toEqual([[], []]);
    await decide({ moves });
    expect((await open()).map((j) => j.day)).toEqual(['2026-04-17', '2026-04-20']);
    const back = [await to(first, '2026-04-16'), await to(second, '2026-04-17')];
    expect((await lookAtMoves(...back)).map((r) => r.against)).toEqual([[], []]);
  });

  test('what was begun stays, what changed meanwhile is told, and nothing moves', async () => {
    const [first, second] = await week();
    await yard.pool.query(`update job_task set state = 'done' where job_id = $1`, [first]);
    const moves = [await to(first!, '2026-04-20'), await to(second!, '2026-04-21')];
    expect((await ilse.refused('post', '/jobs/several', { moves })).detail).toMatch(
      /^Avocet is being worked on: its card stays where it is/,
    );
    await yard.pool.query(`update job set version = version + 1 where id = $1`, [second]);
    expect((await ilse.refused('post', '/jobs/several', { moves: moves.slice(1) })).status).toBe(409);
    expect((await open()).map((j) => j.day)).toEqual([DAY, '2026-04-16', '2026-04-17']);
  });

  test('two people at once: one decides, the other is told', async () => {
    const [first] = await week();
    const move = await to(first!, '2026-04-20');
    const other = { ...move, day: '2026-04-21' };
    const both = await Promise.all([
      rawProblem(ilse, '/jobs/several', { moves: [move], insist: 'as this test wants it' }),
      rawProblem(ilse, '/jobs/several', { moves: [other], insist: 'as this test wants it' }),
    ]);
    expect(both.map((b) => b.status).sort()).toEqual([200, 409]);
  });
});
