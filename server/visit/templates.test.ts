import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { TemplateReply } from '@diurna/contract/visit';
import type { TemplateLine } from '@diurna/core/visit';
import { Cards, openCardYard } from '../test/cards.ts';
import { FLEET_CSV, workThrough, type Client, type Yard } from '../test/yard.ts';

const now = new Date('2026-04-15T10:00:00Z');
let yard: Yard;
let ilse: Client;
let ines: Client;
let cards: Cards;
let port = 0;
let starboard = 0;
beforeAll(async () => {
  ({ yard, ilse, ines, cards, port, starboard } = await openCardYard(() => now));
});
afterAll(async () => {
  await yard.close();
});

describe('templates', () => {
  const line = (t: TemplateReply) => t.lines.find((l) => l.key === 'look')!;
  test('the yard’s own steps come onto new cards; a card issued before keeps its own', async () => {
    const before = await cards.hand([[port, 'prop-shaft']]);
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
    const after = await cards.hand([[starboard, 'prop-shaft']]);
    const words = async (id: number) => (await cards.read(id)).steps.map((s) => s.step.text).join('\n');
    expect(await words(before)).not.toContain('Spin the hub and listen');
    expect(await words(after)).toContain('Spin the hub and listen');
    expect(await template()).toMatchObject({ origin: 'own', openCards: 1, reason: 'as we do it', by: 'coordinator' });
    expect(await ilse.get<unknown[]>('/visit/templates/prop-shaft/versions')).toHaveLength(2);
    for (const id of [before, after]) await cards.callOff(id);
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

describe('templates of access', () => {
  test('the yard’s words for the lower unit come onto new cards; a card keeps its own, also with a task more', async () => {
    const before = await cards.hand([[port, 'impeller']]);
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
    const after = await cards.hand([[starboard, 'impeller']]);
    const words = async (id: number) => (await cards.read(id)).steps.map((s) => s.step.text).join('\n');
    expect(await words(after)).toContain('Up with it, two of us');
    expect((await cards.read(after)).steps.map((s) => s.step.id)).toContain(`${starboard} mine`);
    expect((await ilse.get<TemplateReply[]>('/visit/templates')).find((x) => x.key === 'lower unit')).toMatchObject({
      origin: 'own',
      openCards: 1,
    });
    const c = await cards.read(before);
    await ilse.put(`/jobs/${before}`, {
      version: c.version,
      technicianId: c.technicianId,
      day: c.day,
      tasks: [...c.tasks.map(({ engineId, task }) => ({ engineId, task })), { engineId: port, task: 'thermostat' }],
      insist: 'as this test wants it',
    });
    expect(await words(before)).not.toContain('Up with it, two of us');
    for (const id of [before, after]) await cards.callOff(id);
  });
});

describe('a card stays what it was', () => {
  let dipper = 0;
  let dippers: Cards;
  beforeAll(async () => {
    await ilse.post(
      '/exchange/fleet',
      [FLEET_CSV.split('\n')[0]!, 'North Quay,Dipper,9,single,Corvane,60,60,4,4,2.7,L,0.64,L,C60-9,,no,computer'].join(
        '\n',
      ),
    );
    const boat = (await ilse.get<{ rows: { id: number; engines: { id: number }[] }[] }>('/fleet/boats?q=Dipper'))
      .rows[0]!;
    dipper = boat.engines[0]!.id;
    dippers = new Cards(ilse, { boatId: boat.id, technicianId: yard.people.technician });
  });
  const handDipper = () => dippers.hand([[dipper, 'engine-oil']]);

  test('another answer to a question of school changes new cards, not those issued before', async () => {
    const before = await handDipper();
    const was = await cards.stepIds(before);
    expect(was).toContain(`${dipper} engine-oil/fill`);
    await ilse.put('/rules/schools/fill level', { answer: 'label', was: 'dipstick', reason: 'as the yard has it' });
    expect(await cards.stepIds(before)).toEqual(was);
    await cards.callOff(before);
    const after = await handDipper();
    expect(await cards.stepIds(after)).toContain(`${dipper} engine-oil/fill-label`);
    await cards.callOff(after);
    await ilse.put('/rules/schools/fill level', { answer: 'dipstick', was: 'label', reason: 'as the yard has it' });
  });
  test('finished, it keeps the steps that were ticked, whatever is learned since', async () => {
    const id = await handDipper();
    // Nothing is known of this engine: it is looked at and left cold.
    const was = await cards.stepIds(id);
    expect(was).toContain(`${dipper} engine-oil/where`);
    expect(was).not.toContain(`${dipper} warm up`);
    await workThrough(ines, id);
    expect((await cards.finish(ines, id)).status).toBe(200);
    const elapsed = (await cards.read(id)).elapsed;

    const next = await handDipper();
    expect(await cards.stepIds(next)).toContain(`${dipper} warm up`);
    const { id: modelId } = (await ilse.get<{ id: number; name: string }[]>('/fleet/models')).find(
      (m) => m.name === '60',
    )!;
    await yard.pool.query(
      `update engine_model set traits = coalesce(traits, '{}'::jsonb) || '{"oilBy": "extraction"}' where id = $1`,
      [modelId],
    );
    await yard.pool.query(`update person set pace = 1.5 where id = $1`, [yard.people.technician]);
    expect(await cards.stepIds(next)).toContain(`${dipper} engine-oil/hose`);
    expect(await cards.stepIds(id)).toEqual(was);
    expect((await cards.read(id)).elapsed).toBe(elapsed);
    // Opened again, it is worked as things are now.
    await cards.callOff(next);
    await ilse.post(`/jobs/${id}/undo`, { version: (await cards.read(id)).version, reason: 'wrong engine' });
    expect(await cards.stepIds(id)).toContain(`${dipper} engine-oil/hose`);
    await cards.callOff(id);
    await yard.pool.query(`update engine_model set traits = traits - 'oilBy' where id = $1`, [modelId]);
    await yard.pool.query(`update person set pace = 1 where id = $1`, [yard.people.technician]);
  });
});
