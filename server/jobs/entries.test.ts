import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { JobCard, JobRow } from '@diurna/contract/jobs';
import { randomUUID } from 'node:crypto';
import { ALL_THE_SAME, look, openCardYard, tick, type Cards } from '../test/cards.ts';
import { confirmGates, entryOf, write, type Client, type Yard } from '../test/yard.ts';

let now = new Date('2026-04-15T10:00:00Z');
let yard: Yard;
let ilse: Client;
let ines: Client;
let cards: Cards;
let port = 0;
let starboard = 0;
let reva: Client;
let revaId = 0;
beforeAll(async () => {
  ({ yard, ilse, ines, cards, port, starboard } = await openCardYard(() => now));
  const admin = await yard.as('administrator');
  revaId = (
    await admin.post<{ id: number }>('/people', {
      name: 'Reva Sand',
      username: 'reva',
      role: 'technician',
      baseId: yard.baseId,
      active: true,
      password: 'a-long-password',
    })
  ).id;
  reva = yard.visitor();
  await reva.signIn('reva');
});
afterAll(async () => {
  await yard.close();
});

describe('entries of a card', () => {
  let id = 0;
  beforeAll(async () => {
    id = await cards.hand([
      [port, 'engine-oil'],
      [port, 'oil-filter'],
    ]);
  });
  afterAll(async () => {
    await cards.callOff(id);
  });

  test('the card carries its steps in working order, as they were issued', async () => {
    const c = await cards.read(id);
    expect(c.steps.length).toBeGreaterThan(15);
    expect(c.steps[0]!.step.id).toBe('arrive');
    expect(c.steps.at(-1)!.step.id).toBe('leave');
    expect(c.steps.map((t) => t.start)).toEqual(c.steps.map((t) => t.start).sort((a, b) => a - b));
    expect(c.elapsed).toBeGreaterThan(60);
  });
  test('sent twice, an entry is kept once, and the answer is the same', async () => {
    const entries = [entryOf(tick('arrive')), entryOf(tick(`${port} cowl off`))];
    const first = await write(ines, id, ...entries);
    const again = await write(ines, id, ...entries);
    expect(first.kept.map((e) => e.id)).toEqual(entries.map((e) => e.id));
    expect(again).toEqual(first);
    expect((await cards.read(id)).entries).toHaveLength(2);
  });
  test('twenty sends of one entry at the same moment keep it once', async () => {
    const one = entryOf(tick(`${port} warm up`));
    const replies = await Promise.all(
      Array.from({ length: 20 }, () => ines.raw('post', `/jobs/${id}/entries`, { entries: [one] })),
    );
    expect(new Set(replies.map((r) => r.status))).toEqual(new Set([200]));
    expect((await cards.read(id)).entries.filter((e) => e.id === one.id)).toHaveLength(1);
  });
  test('kept in the order they were made, with the hour of the phone; a clock far ahead is taken back', async () => {
    const late = entryOf(tick(`${port} engine-oil/vent`), { at: now.getTime() + 86_400_000 });
    const [kept] = (await write(ines, id, late)).kept;
    expect(kept!.at).toBe(now.getTime() + 600_000);
    const seqs = (await cards.read(id)).entries.map((e) => e.seq!);
    expect(seqs).toEqual([...seqs].sort((a, b) => a - b));
  });
  test('what is of no step, engine or kind of this card is named with the reason, and the rest is kept', async () => {
    const good = entryOf(tick(`${port} engine-oil/drain`));
    const reply = await write(
      ines,
      id,
      entryOf(tick('no such step')),
      good,
      entryOf(look(`${starboard} oil look`, 'black')),
      entryOf(look(`${port} oil look`, 'pink')),
      entryOf({ kind: 'settle', entry: randomUUID(), take: true }),
    );
    expect(reply.kept.map((e) => e.id)).toEqual([good.id]);
    expect(reply.refused.map((r) => r.because)).toEqual([
      'This step is not on the card any more.',
      'This reading is of an engine that is not on the card.',
      expect.stringContaining('Choose one of: black, normal'),
      'There is nothing to settle about that entry.',
    ]);
  });
  test('a level is not final before the run', async () => {
    const own = await cards.hand([[starboard, 'engine-oil']]);
    const level = () => write(ines, own, look(`${starboard} oil level`, 'upper'));
    expect((await level()).refused[0]!.because).toContain('final only after the run');
    await write(ines, own, tick(`${starboard} run`));
    expect((await level()).kept).toHaveLength(1);
    await cards.callOff(own);
  });
  test('a task is done with its last step, and open again when one is taken back', async () => {
    const own = (await cards.read(id)).steps.filter((t) => t.step.task === 'oil-filter').map((t) => t.step.id);
    await write(ines, id, look(`${port} filter seat`, 'clean'), ...own.map((s) => tick(s)));
    expect((await cards.read(id)).tasks.find((t) => t.task === 'oil-filter')!.state).toBe('done');
    await write(ines, id, tick(own[0]!, false));
    expect((await cards.read(id)).tasks.find((t) => t.task === 'oil-filter')!.state).toBe('open');
  });
  test('rows of the record are never changed or erased', async () => {
    await expect(yard.pool.query('update job_entry set at = at')).rejects.toThrow('never changed');
    await expect(yard.pool.query('delete from job_entry')).rejects.toThrow('never changed');
  });
  test('how far it is stands in the list, with what drains and what is at hand', async () => {
    const row = (await ilse.get<{ rows: JobRow[] }>('/jobs?status=open')).rows.find((r) => r.id === id)!;
    expect(row.progress).toMatchObject({ total: (await cards.read(id)).steps.length, unsettled: 0, paused: null });
    expect(row.progress!.done).toBeGreaterThan(4);
    expect(row.progress!.waits).toMatchObject([
      { step: `${port} engine-oil/drain`, until: now.getTime() + 20 * 60_000 },
    ]);
    const waiting = async () =>
      (await ilse.get<{ rows: JobRow[] }>('/jobs?view=waiting')).rows.some((r) => r.id === id);
    expect(await waiting()).toBe(true);
    now = new Date(now.getTime() + 25 * 60_000);
    expect(await waiting()).toBe(false);
    await write(ines, id, { kind: 'pause', on: true, why: 'a washer' });
    expect(await waiting()).toBe(true);
    await write(ines, id, { kind: 'pause', on: false, why: null });
  });
});

describe('two people and lost signal', () => {
  let id = 0;
  beforeAll(async () => {
    id = await cards.hand([[port, 'gear-lube']]);
  });
  afterAll(async () => {
    await cards.callOff(id);
  });

  test('an entry made without signal that contradicts a colleague’s waits for a person; nothing is lost', async () => {
    const before = (await write(ines, id, tick('arrive'))).lastSeq;
    await write(ilse, id, look(`${port} lube look`, 'dark'));
    const offline = entryOf(look(`${port} lube look`, 'grit'), { seen: before });
    const reply = await write(ines, id, offline);
    expect(reply.kept[0]!.against).not.toBeNull();
    expect((await cards.read(id)).findings).toEqual([]);
    expect(
      (await ilse.get<{ rows: JobRow[] }>('/jobs?status=open')).rows.find((r) => r.id === id)!.progress!.unsettled,
    ).toBe(1);
    await confirmGates(ines, id);
    expect((await cards.finish(ines, id)).body.detail).toContain('contradict each other');
    await write(ilse, id, { kind: 'settle', entry: offline.id, take: true });
    expect((await cards.read(id)).findings.map((f) => f.key)).toEqual([`${port} grit in lube`]);
    await write(ilse, id, { kind: 'settle', entry: offline.id, take: false });
    expect((await cards.read(id)).findings.map((f) => f.state).filter((s) => s === 'open')).toEqual([]);
  });
  test('the same said twice is no contradiction', async () => {
    const reply = await write(ines, id, entryOf(look(`${port} lube look`, 'dark'), { seen: 0 }));
    expect(reply.kept[0]!.against).toBeNull();
  });
  test('handed over, what the first one did without signal still comes in; a stranger’s does not', async () => {
    const c = await cards.read(id);
    expect(
      (
        await ines.refused('post', `/jobs/${id}/hand-over`, {
          version: c.version,
          technicianId: yard.people.technician,
          note: null,
        })
      ).detail,
    ).toContain('with them already');
    await ines.post(`/jobs/${id}/hand-over`, {
      version: c.version,
      technicianId: revaId,
      note: 'Screws are loose.',
      insist: ALL_THE_SAME,
    });
    expect((await cards.read(id)).technician).toBe('Reva Sand');
    expect((await reva.get<{ text: string }[]>('/session/notices'))[0]!.text).toContain(
      'hands you Turnstone as it stands. Screws are loose.',
    );
    expect((await write(ines, id, entryOf(tick(`${port} tilt`), { at: now.getTime() - 60_000 }))).kept).toHaveLength(1);
    expect((await write(reva, id, tick(`${port} gear-lube/loosen`))).kept).toHaveLength(1);
    expect((await cards.read(id)).people.map((p) => p.name).sort()).toEqual(['Reva Sand', 'coordinator', 'technician']);
    const dock = await yard.as('dock');
    expect((await dock.refused('post', `/jobs/${id}/entries`, { entries: [entryOf(tick('arrive'))] })).status).toBe(
      403,
    );
    const other = await cards.hand([[starboard, 'gear-lube']], { technicianId: revaId });
    expect(
      (await ines.refused('post', `/jobs/${other}/entries`, { entries: [entryOf(tick('arrive'))] })).detail,
    ).toContain('belongs to a colleague');
    await cards.callOff(other);
  });
  test('what comes after a card was called off is refused with a word to the phone', async () => {
    const other = await cards.hand([[starboard, 'anodes']]);
    await cards.callOff(other);
    const reply = await write(ines, other, tick('arrive'));
    expect(reply.refused[0]!.because).toContain('was called off before this came');
  });
});

describe('figures typed on a card', () => {
  test('what was typed goes with the card when it is handed over; a figure of another engine is refused', async () => {
    const id = await cards.hand([[port, 'grease']]);
    await write(ines, id, entryOf({ kind: 'type', field: `hours ${port}`, text: '401,5' }));
    const other = await write(
      ines,
      id,
      entryOf({ kind: 'type', field: `hours ${starboard}`, text: '9' }),
      entryOf({ kind: 'type', field: 'tea', text: '9' }),
    );
    expect(other.refused.map((r) => r.because)).toEqual(
      Array(2).fill('This figure is of an engine that is not on the card.'),
    );
    await ines.post(`/jobs/${id}/hand-over`, {
      version: (await cards.read(id)).version,
      technicianId: revaId,
      note: null,
      insist: ALL_THE_SAME,
    });
    expect((await reva.get<JobCard>(`/jobs/${id}`)).entries.map((e) => e.act)).toEqual([
      { kind: 'type', field: `hours ${port}`, text: '401,5' },
    ]);
    await cards.callOff(id);
  });
});
