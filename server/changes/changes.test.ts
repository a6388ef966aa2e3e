import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { ChangeHead, ChangeReply } from '@diurna/contract/changes';
import type { BoardReply } from '@diurna/contract/planner';
import { openCardYard, tick, type Cards } from '../test/cards.ts';
import { rawProblem, write, type Client, type Yard } from '../test/yard.ts';

/** Decisions about cards, looked at before and taken back after. A Wednesday, seven in the morning at the base. */
const DAY = '2026-04-15';
let yard: Yard;
let ilse: Client;
let ines: Client;
let cards: Cards;
let port = 0;
let starboard = 0;
beforeAll(async () => {
  ({ yard, ilse, ines, cards, port, starboard } = await openCardYard(() => new Date(`${DAY}T10:00:00Z`)));
});
afterAll(() => yard.close());
beforeEach(async () => {
  await yard.pool.query(
    `update notice set read_at = at; update job_task set on_open_job = false; update job set status = 'cancelled',
      version = version + 1 where status = 'open'`,
  );
});

const latest = async (): Promise<ChangeReply> => {
  const [head] = await ilse.get<ChangeHead[]>('/changes');
  return ilse.get<ChangeReply>(`/changes/${head!.id}`);
};
const takeBack = (id: number) => rawProblem(ilse, `/changes/${id}/undo`, {});
const told = async () => (await ines.get<{ text: string }[]>('/session/notices')).map((n) => n.text);
const edit = async (id: number, more: object) => {
  const { version, day, technicianId, tasks } = await cards.read(id);
  return ilse.put(`/jobs/${id}`, {
    version,
    day,
    technicianId,
    tasks: tasks.map(({ engineId, task }) => ({ engineId, task })),
    insist: 'as this test wants it',
    ...more,
  });
};

describe('a card handed out, moved, called off', () => {
  test('each is a decision of its own and goes back to what was before, newest first', async () => {
    const id = await cards.hand([[port, 'engine-oil']], { startMinute: 600 });
    const handed = await latest();
    expect(handed).toMatchObject({
      kind: 'card',
      by: 'coordinator',
      takenBack: false,
      cards: [{ jobId: id, kind: 'new', before: null, against: null }],
    });
    await edit(id, { day: '2026-04-17' });
    const moved = await latest();
    expect(moved.cards).toMatchObject([{ jobId: id, kind: 'moved', before: { day: DAY, startMinute: 600 } }]);
    await cards.callOff(id);
    const off = await latest();
    expect(off.cards).toMatchObject([{ kind: 'called off' }]);

    expect((await takeBack(off.id)).status).toBe(200);
    expect(await cards.read(id)).toMatchObject({ status: 'open', day: '2026-04-17', remark: null });
    expect((await latest()).cards).toMatchObject([{ kind: 'new' }]);
    expect(await takeBack(off.id)).toMatchObject({ status: 409, body: { type: 'already' } });
    // It stands as the move left it: that can be taken back as well, and then the hand-out.
    expect((await takeBack(moved.id)).status).toBe(200);
    expect(await cards.read(id)).toMatchObject({ status: 'open', day: DAY, startMinute: 600 });
    expect((await takeBack(handed.id)).status).toBe(200);
    expect(await cards.read(id)).toMatchObject({ status: 'cancelled' });
    // Taking back is a decision too: what was taken back by mistake comes again.
    expect((await takeBack((await latest()).id)).status).toBe(200);
    expect(await cards.read(id)).toMatchObject({ status: 'open', day: DAY, startMinute: 600 });
  });

  test('moved again since, the earlier move stays until the later is taken back', async () => {
    const id = await cards.hand([[port, 'engine-oil']]);
    await edit(id, { day: '2026-04-17' });
    const { id: first } = await latest();
    await edit(id, { day: '2026-04-18' });
    expect((await takeBack(first)).body.detail).toMatch(/^Turnstone was changed since\./);
  });

  test('the one it touches is told each time, whoever decided is not', async () => {
    const id = await cards.hand([[port, 'engine-oil']]);
    await edit(id, { day: '2026-04-17' });
    await takeBack((await latest()).id);
    expect(await told()).toEqual([
      expect.stringMatching(/^Turnstone on Wed 15 Apr: engine oil\.$/),
      expect.stringMatching(/^Turnstone moves from Wed 15 Apr.* to Fri 17 Apr.*\.$/),
      expect.stringMatching(/^Taken back: Turnstone moves from Fri 17 Apr.* to Wed 15 Apr.*\.$/),
    ]);
    expect(await ilse.get('/session/notices')).toEqual([]);
  });

  test('once somebody works on it, it stays, and says why', async () => {
    const id = await cards.hand([[port, 'engine-oil']]);
    const { id: changeId } = await latest();
    const [first] = await cards.stepIds(id);
    await write(ines, id, tick(first!));
    expect((await latest()).cards).toMatchObject([{ against: 'worked on' }]);
    const refused = await takeBack(changeId);
    expect(refused).toMatchObject({ status: 409, body: { type: 'worked' } });
    expect(refused.body.detail).toBe('Turnstone was worked on. There is nothing left to take back.');
    expect(await cards.read(id)).toMatchObject({ status: 'open' });
  });

  test('work that went to another card meanwhile does not come back twice', async () => {
    const id = await cards.hand([[port, 'engine-oil']]);
    await cards.callOff(id);
    const off = await latest();
    const other = await cards.hand([[port, 'engine-oil']], { day: '2026-04-16' });
    expect((await takeBack(off.id)).body.detail).toContain('has gone to another card since');
    await cards.callOff(other);
    expect((await takeBack(off.id)).status).toBe(200);
  });

  test('a card does not come back for a boat that was retired, nor to somebody who has left', async () => {
    const id = await cards.hand([[port, 'engine-oil']]);
    await cards.callOff(id);
    const off = await latest();
    const gone = async (sql: string, back: string, text: RegExp) => {
      await yard.pool.query(sql);
      expect(await takeBack(off.id)).toMatchObject({ status: 409, body: { detail: expect.stringMatching(text) } });
      await yard.pool.query(back);
    };
    const boats = (retired: boolean) => `update boat set retired = ${String(retired)} where name = 'Turnstone'`;
    const person = (active: boolean) =>
      `update person set active = ${String(active)} where id = ${yard.people.technician}`;
    await gone(
      boats(true),
      boats(false),
      /^An engine of Turnstone has left it since, or the boat is retired\. Nothing/,
    );
    await gone(person(false), person(true), /is not in the yard any more\. Nothing was taken back\.$/);
    expect(await cards.read(id)).toMatchObject({ status: 'cancelled' });
    expect((await takeBack(off.id)).status).toBe(200);
  });

  test('given to somebody who is off it is refused with why; for a reason it is done, both hear, and it comes back', async () => {
    const people = await ilse.get<{ id: number; role: string }[]>('/people');
    const bram = people.find((p) => p.role === 'coordinator')!.id;
    await ilse.post(`/people/${bram}/exceptions`, {
      kind: 'away',
      firstDay: DAY,
      lastDay: DAY,
      baseId: null,
      fromMinute: null,
      toMinute: null,
      reason: null,
    });
    const id = await cards.hand([[port, 'engine-oil']]);
    const give = { version: (await cards.read(id)).version, technicianId: bram, note: null };
    const refused = await rawProblem(ines, `/jobs/${id}/hand-over`, give);
    expect(refused).toMatchObject({ status: 422, body: { type: 'questioned' } });
    await ines.post(`/jobs/${id}/hand-over`, { ...give, insist: 'she takes over the quay' });
    expect(await cards.read(id)).toMatchObject({ technicianId: bram });
    const { id: changeId, cards: changed } = await latest();
    expect(changed).toMatchObject([{ kind: 'given' }]);
    expect((await takeBack(changeId)).status).toBe(200);
    expect(await cards.read(id)).toMatchObject({ technicianId: yard.people.technician });
  });

  test('who may not hand out may not take back', async () => {
    await cards.hand([[port, 'engine-oil']]);
    expect((await rawProblem(ines, `/changes/${(await latest()).id}/undo`, {})).status).toBe(403);
  });
});

describe('a plan accepted', () => {
  const body = (b: BoardReply, visits: object[]) => ({
    firstDay: b.firstDay,
    days: b.days,
    basedOn: b.accepted?.id ?? null,
    jobs: b.standing.map((j) => ({ id: j.jobId, version: j.version })),
    visits,
  });
  const board = () => ilse.get<BoardReply>('/plan?days=14');
  const visit = (tasks: string[], day: number) => ({
    day,
    technician: String(yard.people.technician),
    start: 600,
    tasks,
  });

  test('is told before card by card and person by person, does just that, and goes back as one', async () => {
    const stays = await cards.hand([[port, 'engine-oil']], { day: '2026-04-16' });
    const goes = await cards.hand([[starboard, 'engine-oil']], { day: '2026-04-17' });
    await yard.pool.query('update notice set read_at = at');
    const b = await board();
    const before = await Promise.all([stays, goes].map(cards.read));
    const boat = b.standing.find((s) => s.jobId === stays)!.boat;
    const tasksOf = (id: number) => b.standing.find((s) => s.jobId === id)!.tasks;
    const fresh = b.problem.tasks.find(
      (t) => t.kind === 'gear-lube' && t.id.startsWith(`${port} `) && !b.standing.some((s) => s.tasks.includes(t.id)),
    )!.id;
    // One card moves, one is left out, one is new.
    const asked = body(b, [
      { ...visit(tasksOf(stays), 5), boat },
      { ...visit([fresh], 7), boat },
    ]);
    const look = await ilse.post<{
      changes: { jobId: number | null; kind: string }[];
      told: { name: string; text: string }[];
    }>('/plan/look', asked);
    expect(look.changes.map((c) => [c.jobId, c.kind]).sort()).toEqual(
      [
        [stays, 'moved'],
        [goes, 'called off'],
        [null, 'new'],
      ].sort(),
    );
    expect(look.told).toHaveLength(1);
    expect(await cards.read(stays)).toMatchObject({ day: '2026-04-16' });
    expect(await told()).toEqual([]);

    const done = await ilse.post<{ changeId: number; added: number; moved: number; calledOff: number }>(
      '/plan/accept',
      asked,
    );
    expect(done).toMatchObject({ added: 1, moved: 1, calledOff: 1 });
    expect(await told()).toEqual([`coordinator, the plan of 14 days from Wed 15 Apr: ${look.told[0]!.text}`]);
    const { cards: changed } = await ilse.get<ChangeReply>(`/changes/${done.changeId}`);
    expect(changed.map((c) => c.kind).sort()).toEqual(['called off', 'moved', 'new']);
    const added = changed.find((c) => c.kind === 'new')!.jobId;

    await ilse.post(`/changes/${done.changeId}/undo`, {});
    const after = await Promise.all([stays, goes].map(cards.read));
    const place = (c: (typeof before)[number]) => ({
      status: c.status,
      day: c.day,
      technicianId: c.technicianId,
      startMinute: c.startMinute,
      remark: c.remark,
      tasks: c.tasks.map((t) => `${t.engineId} ${t.task} ${t.state}`),
    });
    expect(after.map(place)).toEqual(before.map(place));
    expect(await cards.read(added)).toMatchObject({ status: 'cancelled' });
    expect(await told()).toHaveLength(2);
  });
});
