import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { JobCard, JobRow } from '@diurna/contract/jobs';
import type { TemplateReply } from '@diurna/contract/visit';
import type { CardAct, TemplateLine } from '@diurna/core/visit';
import { randomUUID } from 'node:crypto';
import { createServer, get, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import {
  confirmGates,
  entryOf,
  FLEET_CSV,
  fleetWithTwins,
  openYard,
  rawProblem,
  write,
  type Client,
  type Yard,
} from '../test/yard.ts';

let now = new Date('2026-04-15T10:00:00Z');
let yard: Yard;
let ilse: Client;
let ines: Client;
let reva: Client;
let revaId = 0;
let port = 0;
let starboard = 0;
let boatId = 0;
beforeAll(async () => {
  yard = await openYard(() => now);
  ilse = await yard.as('coordinator');
  ines = await yard.as('technician');
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
  ({ boatId, port, starboard } = await fleetWithTwins(ilse));
});
afterAll(async () => {
  await yard.close();
});

const hand = async (tasks: [number, string][], technicianId = yard.people.technician) =>
  (
    await ilse.post<{ id: number }>('/jobs', {
      boatId,
      technicianId,
      day: '2026-04-15',
      tasks: tasks.map(([engineId, task]) => ({ engineId, task })),
    })
  ).id;
const card = (id: number) => ilse.get<JobCard>(`/jobs/${id}`);
const tick = (step: string, done = true): CardAct => ({ kind: 'tick', step, done });
const read = (key: string, choice: string): CardAct => ({ kind: 'read', key, value: { choice } });
const finish = async (client: Client, id: number, more: object = {}) => {
  const c = await card(id);
  return rawProblem(client, `/jobs/${id}/finish`, {
    version: c.version,
    hours: [],
    remark: null,
    parts: [],
    tasks: c.tasks.map((t) => ({ engineId: t.engineId, task: t.task, done: true })),
    ...more,
  });
};
const callOff = async (id: number) =>
  ilse.post(`/jobs/${id}/cancel`, { version: (await card(id)).version, reason: 'over' });

describe('entries of a card', () => {
  let id = 0;
  beforeAll(async () => {
    id = await hand([
      [port, 'engine-oil'],
      [port, 'oil-filter'],
    ]);
  });
  afterAll(async () => {
    await callOff(id);
  });

  test('the card carries its steps in working order, as they were issued', async () => {
    const c = await card(id);
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
    expect((await card(id)).entries).toHaveLength(2);
  });
  test('twenty sends of one entry at the same moment keep it once', async () => {
    const one = entryOf(tick(`${port} warm up`));
    const replies = await Promise.all(
      Array.from({ length: 20 }, () => ines.raw('post', `/jobs/${id}/entries`, { entries: [one] })),
    );
    expect(new Set(replies.map((r) => r.status))).toEqual(new Set([200]));
    expect((await card(id)).entries.filter((e) => e.id === one.id)).toHaveLength(1);
  });
  test('kept in the order they were made, with the hour of the phone; a clock far ahead is taken back', async () => {
    const late = entryOf(tick(`${port} engine-oil/vent`), { at: now.getTime() + 86_400_000 });
    const [kept] = (await write(ines, id, late)).kept;
    expect(kept!.at).toBe(now.getTime() + 600_000);
    const seqs = (await card(id)).entries.map((e) => e.seq!);
    expect(seqs).toEqual([...seqs].sort((a, b) => a - b));
  });
  test('what is of no step, engine or kind of this card is named with the reason, and the rest is kept', async () => {
    const good = entryOf(tick(`${port} engine-oil/drain`));
    const reply = await write(
      ines,
      id,
      entryOf(tick('no such step')),
      good,
      entryOf(read(`${starboard} oil look`, 'black')),
      entryOf(read(`${port} oil look`, 'pink')),
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
    const level = () => write(ines, id, read(`${port} oil level`, 'upper'));
    expect((await level()).refused[0]!.because).toContain('final only after the run');
    await write(ines, id, tick(`${port} run`));
    expect((await level()).kept).toHaveLength(1);
    await write(ines, id, tick(`${port} run`, false));
  });
  test('a task is done with its last step, and open again when one is taken back', async () => {
    const own = (await card(id)).steps.filter((t) => t.step.task === 'oil-filter').map((t) => t.step.id);
    await write(ines, id, read(`${port} filter seat`, 'clean'), ...own.map((s) => tick(s)));
    expect((await card(id)).tasks.find((t) => t.task === 'oil-filter')!.state).toBe('done');
    await write(ines, id, tick(own[0]!, false));
    expect((await card(id)).tasks.find((t) => t.task === 'oil-filter')!.state).toBe('open');
  });
  test('rows of the record are never changed or erased', async () => {
    await expect(yard.pool.query('update job_entry set at = at')).rejects.toThrow('never changed');
    await expect(yard.pool.query('delete from job_entry')).rejects.toThrow('never changed');
  });
  test('a picture comes onto the card and is served as what it is; something else is not taken', async () => {
    const png = Buffer.from('89504e470d0a1a0a0000000d49484452', 'hex').toString('base64');
    const reply = await write(
      ines,
      id,
      entryOf({ kind: 'photo', step: null, photoId: null }, { photo: { type: 'image/png', base64: png } }),
      entryOf({ kind: 'photo', step: null, photoId: null }, { photo: { type: 'image/jpeg', base64: png } }),
      entryOf({ kind: 'photo', step: null, photoId: 5 }),
    );
    expect(reply.refused.map((r) => r.because)).toEqual([
      'The picture cannot be read. Take it again.',
      expect.stringContaining('did not come with it'),
    ]);
    const act = reply.kept[0]!.act as { photoId: number };
    const shown = await ines.raw('get', `/jobs/photos/${act.photoId}`);
    expect([shown.headers['content-type'], shown.headers['x-content-type-options']]).toEqual(['image/png', 'nosniff']);
  });
  test('how far it is stands in the list, with what drains and what is at hand', async () => {
    const row = (await ilse.get<{ rows: JobRow[] }>('/jobs?status=open')).rows.find((r) => r.id === id)!;
    expect(row.progress).toMatchObject({ total: (await card(id)).steps.length, unsettled: 0, paused: null });
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
    id = await hand([[port, 'gear-lube']]);
  });
  afterAll(async () => {
    await callOff(id);
  });

  test('an entry made without signal that contradicts a colleague’s waits for a person; nothing is lost', async () => {
    const before = (await write(ines, id, tick('arrive'))).lastSeq;
    await write(ilse, id, read(`${port} lube look`, 'dark'));
    const offline = entryOf(read(`${port} lube look`, 'grit'), { seen: before });
    const reply = await write(ines, id, offline);
    expect(reply.kept[0]!.against).not.toBeNull();
    expect((await card(id)).findings).toEqual([]);
    expect(
      (await ilse.get<{ rows: JobRow[] }>('/jobs?status=open')).rows.find((r) => r.id === id)!.progress!.unsettled,
    ).toBe(1);
    await confirmGates(ines, id);
    expect((await finish(ines, id)).body.detail).toContain('contradict each other');
    await write(ilse, id, { kind: 'settle', entry: offline.id, take: true });
    expect((await card(id)).findings.map((f) => f.key)).toEqual([`${port} grit in lube`]);
    await write(ilse, id, { kind: 'settle', entry: offline.id, take: false });
    expect((await card(id)).findings.map((f) => f.state).filter((s) => s === 'open')).toEqual([]);
  });
  test('the same said twice is no contradiction', async () => {
    const reply = await write(ines, id, entryOf(read(`${port} lube look`, 'dark'), { seen: 0 }));
    expect(reply.kept[0]!.against).toBeNull();
  });
  test('handed over, what the first one did without signal still comes in; a stranger’s does not', async () => {
    const c = await card(id);
    expect(
      (
        await ines.refused('post', `/jobs/${id}/hand-over`, {
          version: c.version,
          technicianId: yard.people.technician,
          note: null,
        })
      ).detail,
    ).toContain('with them already');
    await ines.post(`/jobs/${id}/hand-over`, { version: c.version, technicianId: revaId, note: 'Screws are loose.' });
    expect((await card(id)).technician).toBe('Reva Sand');
    expect((await reva.get<{ text: string }[]>('/session/notices'))[0]!.text).toContain(
      'hands you Turnstone as it stands. Screws are loose.',
    );
    expect((await write(ines, id, entryOf(tick(`${port} tilt`), { at: now.getTime() - 60_000 }))).kept).toHaveLength(1);
    expect((await write(reva, id, tick(`${port} gear-lube/loosen`))).kept).toHaveLength(1);
    expect((await card(id)).people.map((p) => p.name).sort()).toEqual(['Reva Sand', 'coordinator', 'technician']);
    const dock = await yard.as('dock');
    expect((await dock.refused('post', `/jobs/${id}/entries`, { entries: [entryOf(tick('arrive'))] })).status).toBe(
      403,
    );
    const other = await hand([[starboard, 'gear-lube']], revaId);
    expect(
      (await ines.refused('post', `/jobs/${other}/entries`, { entries: [entryOf(tick('arrive'))] })).detail,
    ).toContain('belongs to a colleague');
    await callOff(other);
  });
  test('what comes after a card was called off is refused with a word to the phone', async () => {
    const other = await hand([[starboard, 'anodes']]);
    await callOff(other);
    const reply = await write(ines, other, tick('arrive'));
    expect(reply.refused[0]!.because).toContain('was called off before this came');
  });
});

describe('finishing', () => {
  test('each gate is confirmed by a person before it can be finished, only those of what was done', async () => {
    const id = await hand([
      [starboard, 'engine-oil'],
      [starboard, 'anodes'],
    ]);
    expect((await finish(ines, id)).body.detail).toContain('Not confirmed yet: ');
    const c = await card(id);
    const anodesOnly = {
      tasks: c.tasks.map((t) => ({ engineId: t.engineId, task: t.task, done: t.task === 'anodes' })),
    };
    const refused = await finish(ines, id, anodesOnly);
    expect(refused.body.faults?.map((f) => f.path)).toEqual(['rags']);
    await write(ines, id, tick('rags'));
    expect((await finish(ines, id, anodesOnly)).status).toBe(200);
  });
  test('minutes really taken go into the log, waste into its streams, and a look after the first outing is asked for', async () => {
    const id = await hand([[starboard, 'engine-oil']]);
    const c = await card(id);
    let at = now.getTime() - 6 * 3_600_000;
    for (const t of c.steps) {
      const acts = t.step.readings.includes('oil out')
        ? [entryOf({ kind: 'read', key: `${starboard} oil out`, value: { value: 2.6, unit: 'L' } }, { at })]
        : [];
      at = now.getTime() - 6 * 3_600_000 + t.end * 60_000;
      await write(ines, id, ...acts, entryOf(tick(t.step.id), { at }));
    }
    expect((await finish(ines, id)).status).toBe(200);
    const { rows: log } = await yard.pool.query<{ minutes: string }>(
      'select minutes from service_entry where job_id = $1',
      [id],
    );
    expect(Number(log[0]!.minutes)).toBeGreaterThan(23);
    expect(Number(log[0]!.minutes)).toBeLessThan(28);
    expect((await card(id)).waste).toEqual([{ stream: 'used oil', quantity: 2600, measured: true }]);
    const asked = (
      await ilse.get<{ rows: { due: { task: string; state: string }; asked: string | null }[] }>(
        `/service/due?engineId=${starboard}`,
      )
    ).rows.find((r) => r.due.task === 'first-outing')!;
    expect(asked).toMatchObject({ due: { state: 'soon' }, asked: expect.stringContaining('After anodes') });
    const minutes = await ilse.get<{
      people: { name: string; times: number }[];
      works: { task: string; times: number }[];
    }>('/visit/minutes');
    expect(minutes.works).toMatchObject([{ task: 'engine-oil', times: 1 }]);
    expect(minutes.people.find((p) => p.name === 'technician')!.times).toBe(1);
    // Undone, the waste goes back and the look with it.
    await ilse.post(`/jobs/${id}/undo`, { version: (await card(id)).version, reason: 'wrong engine' });
    expect((await card(id)).waste).toEqual([]);
    const { rows } = await yard.pool.query<{ n: number }>(
      'select count(*)::int as n from waste_entry where job_id = $1',
      [id],
    );
    expect(rows[0]!.n).toBe(2);
    expect((await card(id)).entries.length).toBeGreaterThan(c.steps.length);
    await callOff(id);
  }, 20_000);
  test('the look after the first outing falls due when the boat is back from its next hire', async () => {
    await ilse.post('/hires', {
      boatId,
      outDay: '2026-04-16',
      outTime: '09:00',
      backDay: '2026-04-17',
      backTime: '16:00',
      reference: null,
    });
    const dueOf = async () =>
      (
        await ilse.get<{ rows: { due: { task: string; limitDay: string | null; state: string } }[] }>(
          `/service/due?engineId=${starboard}`,
        )
      ).rows.find((r) => r.due.task === 'first-outing')?.due;
    expect(await dueOf()).toMatchObject({ limitDay: '2026-04-17', state: 'due' });
    const id = await hand([[starboard, 'first-outing']]);
    await confirmGates(ines, id);
    expect((await finish(ines, id)).status).toBe(200);
    expect(await dueOf()).toBeUndefined();
  });
});

describe('templates', () => {
  const line = (t: TemplateReply) => t.lines.find((l) => l.key === 'look')!;
  test('the yard’s own steps come onto new cards; a card issued before keeps its own', async () => {
    const before = await hand([[port, 'prop-shaft']]);
    const template = async () =>
      (await ilse.get<TemplateReply[]>('/visit/templates')).find((t) => t.key === 'prop-shaft')!;
    const t = await template();
    expect(t.origin).toBe('shipped');
    const lines = t.lines.map((l) => (l.key === 'hub' ? { ...l, text: 'Spin the hub and listen' } : l));
    expect(
      (await ines.refused('put', '/visit/templates/prop-shaft', { version: t.version, lines, reason: 'as we do it' }))
        .status,
    ).toBe(403);
    await ilse.put('/visit/templates/prop-shaft', { version: t.version, lines, reason: 'as we do it' });
    expect(
      (await ilse.refused('put', '/visit/templates/prop-shaft', { version: t.version, lines, reason: 'twice' })).detail,
    ).toContain('Someone else changed these steps');
    const after = await hand([[starboard, 'prop-shaft']]);
    const words = async (id: number) => (await card(id)).steps.map((s) => s.step.text).join('\n');
    expect(await words(before)).not.toContain('Spin the hub and listen');
    expect(await words(after)).toContain('Spin the hub and listen');
    expect(await template()).toMatchObject({ origin: 'own', openCards: 1, reason: 'as we do it', by: 'coordinator' });
    expect(await ilse.get<unknown[]>('/visit/templates/prop-shaft/versions')).toHaveLength(2);
    for (const id of [before, after]) await callOff(id);
  });
  test('steps that cannot be used are refused with what is wrong at each', async () => {
    const t = (await ilse.get<TemplateReply[]>('/visit/templates')).find((x) => x.key === 'gear-lube')!;
    const bad = t.lines.filter((l) => l.key !== 'gaskets') as TemplateLine[];
    const problem = await ilse.refused('put', '/visit/templates/gear-lube', {
      version: t.version,
      lines: bad,
      reason: 'shorter',
    });
    expect(problem.detail).toContain('has to be asked somewhere');
    expect(line(t).readings).toEqual(['lube look']);
  });
});

describe('a card stays what it was', () => {
  const stepIds = async (id: number) => (await card(id)).steps.map((s) => s.step.id);
  let dipper = 0;
  let dipperBoat = 0;
  beforeAll(async () => {
    await ilse.post(
      '/exchange/fleet',
      [FLEET_CSV.split('\n')[0]!, 'North Quay,Dipper,9,single,Corvane,60,60,4,4,2.7,L,0.64,L,C60-9,,no,computer'].join(
        '\n',
      ),
    );
    const boat = (await ilse.get<{ rows: { id: number; engines: { id: number }[] }[] }>('/fleet/boats?q=Dipper'))
      .rows[0]!;
    [dipperBoat, dipper] = [boat.id, boat.engines[0]!.id];
  });
  const handDipper = async () =>
    (
      await ilse.post<{ id: number }>('/jobs', {
        boatId: dipperBoat,
        technicianId: yard.people.technician,
        day: '2026-04-15',
        tasks: [{ engineId: dipper, task: 'engine-oil' }],
      })
    ).id;

  test('another answer to a question of school changes the steps of new cards, not of those issued before', async () => {
    const before = await handDipper();
    const was = await stepIds(before);
    expect(was).toContain(`${dipper} engine-oil/fill`);
    await ilse.put('/rules/schools/fill level', { answer: 'label', was: 'dipstick' });
    expect(await stepIds(before)).toEqual(was);
    await callOff(before);
    const after = await handDipper();
    expect(await stepIds(after)).toContain(`${dipper} engine-oil/fill-label`);
    await callOff(after);
    await ilse.put('/rules/schools/fill level', { answer: 'dipstick', was: 'label' });
  });
  test('finished, it keeps the steps that were ticked, whatever is learned since of model, engine and technician', async () => {
    const id = await handDipper();
    // Nothing is known of this engine: it is looked at and left cold.
    const was = await stepIds(id);
    expect(was).toContain(`${dipper} engine-oil/where`);
    expect(was).not.toContain(`${dipper} warm up`);
    for (const s of was) await write(ines, id, tick(s));
    expect((await finish(ines, id)).status).toBe(200);
    const elapsed = (await card(id)).elapsed;

    const next = await handDipper();
    expect(await stepIds(next)).toContain(`${dipper} warm up`);
    const { id: modelId } = (await ilse.get<{ id: number; name: string }[]>('/fleet/models')).find(
      (m) => m.name === '60',
    )!;
    await yard.pool.query(
      `update engine_model set traits = coalesce(traits, '{}'::jsonb) || '{"oilBy": "extraction"}' where id = $1`,
      [modelId],
    );
    await yard.pool.query(`update person set pace = 1.5 where id = $1`, [yard.people.technician]);
    expect(await stepIds(next)).toContain(`${dipper} engine-oil/hose`);
    expect(await stepIds(id)).toEqual(was);
    expect((await card(id)).elapsed).toBe(elapsed);
    // Opened again, it is worked as things are now.
    await callOff(next);
    await ilse.post(`/jobs/${id}/undo`, { version: (await card(id)).version, reason: 'wrong engine' });
    expect(await stepIds(id)).toContain(`${dipper} engine-oil/hose`);
    await callOff(id);
    await yard.pool.query(`update engine_model set traits = traits - 'oilBy' where id = $1`, [modelId]);
    await yard.pool.query(`update person set pace = 1 where id = $1`, [yard.people.technician]);
  }, 20_000);
});

describe('templates of access', () => {
  test('the yard’s own words for the lower unit come onto new cards; a card keeps its own, also when a task joins it', async () => {
    const before = await hand([[port, 'impeller']]);
    const path = `/visit/templates/${encodeURIComponent('lower unit')}`;
    const t = (await ilse.get<TemplateReply[]>('/visit/templates')).find((x) => x.key === 'lower unit')!;
    const lines = [
      ...t.lines.map((l) => (l.key === 'lower unit on' ? { ...l, text: 'Up with it, two of us' } : l)),
      { key: 'mine', closing: true, text: 'Bolts counted by a colleague', share: 2, after: ['lower unit on'] },
    ];
    expect(
      (
        await ilse.refused('put', path, {
          version: t.version,
          lines: lines.filter((l) => l.key !== 'trim tab'),
          reason: 'we never do',
        })
      ).detail,
    ).toContain('has to stay');
    await ilse.put(path, { version: t.version, lines, reason: 'as we do it' });
    const after = await hand([[starboard, 'impeller']]);
    const words = async (id: number) => (await card(id)).steps.map((s) => s.step.text).join('\n');
    expect(await words(after)).toContain('Up with it, two of us');
    expect((await card(after)).steps.map((s) => s.step.id)).toContain(`${starboard} mine`);
    expect((await ilse.get<TemplateReply[]>('/visit/templates')).find((x) => x.key === 'lower unit')).toMatchObject({
      origin: 'own',
      openCards: 1,
    });
    const c = await card(before);
    await ilse.put(`/jobs/${before}`, {
      version: c.version,
      technicianId: c.technicianId,
      day: c.day,
      tasks: [...c.tasks.map(({ engineId, task }) => ({ engineId, task })), { engineId: port, task: 'thermostat' }],
    });
    expect(await words(before)).not.toContain('Up with it, two of us');
    for (const id of [before, after]) await callOff(id);
  });
});

describe('figures typed on a card, and a finish that comes late', () => {
  test('what was typed goes with the card when it is handed over; a figure of another engine is refused', async () => {
    const id = await hand([[port, 'grease']]);
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
    await ines.post(`/jobs/${id}/hand-over`, { version: (await card(id)).version, technicianId: revaId, note: null });
    expect((await reva.get<JobCard>(`/jobs/${id}`)).entries.map((e) => e.act)).toEqual([
      { kind: 'type', field: `hours ${port}`, text: '401,5' },
    ]);
    await callOff(id);
  });
  test('finished yesterday without signal: the service and the hours are of yesterday, by the phone’s clock', async () => {
    const id = await hand([[port, 'grease']]);
    const was = now;
    const at = Date.parse('2026-04-15T16:30:00Z');
    now = new Date('2026-04-16T07:00:00Z');
    await confirmGates(ines, id);
    expect(await finish(ines, id, { at, hours: [{ engineId: port, count: 401.5 }] })).toMatchObject({ status: 200 });
    expect((await card(id)).finishedAt).toBe('2026-04-15T16:30:00.000Z');
    const { rows } = await yard.pool.query<{ day: string; hours: string; of: string }>(
      `select s.done_on::text as day, s.hours, (select r.day::text from reading r where r.engine_id = s.engine_id order by r.id desc limit 1) as of from service_entry s where s.job_id = ${id}`,
    );
    expect(rows).toMatchObject([{ day: '2026-04-15', of: '2026-04-15' }]);
    expect(Number(rows[0]!.hours)).toBe(401.5);
    now = was;
  });
  test('a clock that is ahead, or weeks behind, does not date a finish', async () => {
    for (const at of [now.getTime() + 3_600_000, now.getTime() - 40 * 86_400_000]) {
      const id = await hand([[port, 'grease']]);
      await confirmGates(ines, id);
      expect(await finish(ines, id, { at })).toMatchObject({ status: 200 });
      expect((await card(id)).finishedAt).toBe(now.toISOString());
    }
  });
});

describe('live screens', () => {
  let server: Server;
  beforeAll(async () => {
    server = createServer(yard.app);
    await new Promise<void>((resolve) => {
      server.listen(0, '127.0.0.1', resolve);
    });
  });
  afterAll(() => {
    server.closeAllConnections();
    server.close();
  });

  test('a tick reaches every screen within two seconds, and nobody listens without signing in', async () => {
    const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
    const signedIn = await fetch(`${address}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ username: 'coordinator', password: 'a-long-password' }),
    });
    const cookie = signedIn.headers
      .getSetCookie()
      .map((c) => c.split(';')[0])
      .join('; ');
    expect((await fetch(`${address}/api/live`)).status).toBe(401);
    const id = await hand([[port, 'grease']]);
    const heard: string[][] = [[], []];
    const streams = heard.map((list) =>
      get(`${address}/api/live`, { headers: { cookie } }, (res) => {
        res.setEncoding('utf8');
        res.on('data', (text: string) => {
          list.push(
            ...text
              .split('\n')
              .filter((l) => l.startsWith('data: '))
              .map((l) => l.slice(6)),
          );
        });
      }),
    );
    const until = async (what: () => boolean) => {
      for (let i = 0; i < 100 && !what(); i++) await new Promise((r) => setTimeout(r, 20));
    };
    await until(() => heard.every((l) => l.includes('hello')));
    const sent = performance.now();
    await write(ines, id, tick('arrive'));
    await until(() => heard.every((l) => l.includes(`card ${id}`)));
    expect(heard.every((l) => l.includes(`card ${id}`))).toBe(true);
    expect(performance.now() - sent).toBeLessThan(2000);
    for (const s of streams) s.destroy();
    await callOff(id);
  });
});
