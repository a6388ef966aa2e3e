import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { FollowUpRow, HoldRow } from '@diurna/contract/findings';
import { openCardYard, tick, type Cards } from '../test/cards.ts';
import { confirmGates, workThrough, write, type Client, type Yard } from '../test/yard.ts';

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
const ticks = (id: number, ...steps: string[]) => write(ines, id, ...steps.map((s) => tick(s)));
const because = async (id: number, step: string) => (await ticks(id, step)).refused[0]?.because ?? null;
const holds = () => ilse.get<HoldRow[]>('/findings/holds');

describe('ticks out of order', () => {
  let id = 0;
  beforeAll(async () => {
    id = await cards.hand([
      [port, 'engine-oil'],
      [port, 'spark-plugs'],
    ]);
  });
  afterAll(async () => {
    await cards.callOff(id);
  });
  test('the engine is not run with the plugs out: the tick is refused, and says what is open', async () => {
    await ticks(id, 'arrive', `${port} cowl off`, `${port} plugs out`);
    expect(await because(id, `${port} run`)).toMatch(/cannot be ticked\. Plugs are out\.$/);
    expect(await because(id, `${port} warm up`)).toContain('Plugs are out');
    // In again, it may; taken back, it may not once more.
    await ticks(id, `${port} spark-plugs/in`);
    expect(await because(id, `${port} warm up`)).toBeNull();
    await write(ines, id, tick(`${port} spark-plugs/in`, false));
    expect(await because(id, `${port} run`)).toContain('Plugs are out');
    await ticks(id, `${port} spark-plugs/in`);
  });
  test('a gate means nothing before its run', async () => {
    expect(await because(id, `${port} leaks`)).toContain('comes before this');
    expect(await because(id, `${port} engine-oil/level`)).toContain('comes before this');
  });
  test('what does not wreck the engine is kept for a reason', async () => {
    await ticks(id, `${port} engine-oil/vent`, `${port} engine-oil/drain`);
    const fill = `${port} engine-oil/fill`;
    expect(await because(id, fill)).toMatch(/The drain screw is out\. Say why it was done all the same\.$/);
    const reply = await write(ines, id, {
      kind: 'tick',
      step: fill,
      done: true,
      why: 'the screw is in, the tick was forgotten',
    });
    expect(reply.refused).toEqual([]);
    expect(reply.kept[0]!.act).toMatchObject({ why: 'the screw is in, the tick was forgotten' });
  });
  test('fuel of the twin is fuel of the boat: neither runs while a filter is off', async () => {
    const twins = await cards.hand([
      [port, 'fuel-filter'],
      [starboard, 'thermostat'],
    ]);
    const off = (await cards.stepIds(twins)).find((s) => s.startsWith(`${port} fuel-filter/off`))!;
    await ticks(twins, off);
    expect(await because(twins, `${starboard} run`)).toContain('The fuel filter is off');
    await ticks(twins, `${port} fuel-filter/dry`);
    expect(await because(twins, `${starboard} run`)).toBeNull();
    await cards.callOff(twins);
  });
});

describe('a card is finished on a whole engine', () => {
  test('worked backwards without a reading it is refused, in one reply that names all of it', async () => {
    const id = await cards.hand([
      [port, 'engine-oil'],
      [port, 'compression'],
      [starboard, 'gear-lube'],
    ]);
    for (const step of [...(await cards.stepIds(id))].reverse())
      await write(ines, id, { kind: 'tick', step, done: true, why: 'as it came' });
    const { status, body } = await cards.finish(ines, id);
    expect(status).toBe(409);
    // The run was ticked before anything was closed: it, and what it shows, is wanted again.
    expect(body.detail).toMatch(/cooling stream, again after "[^"]+" \(port\)/);
    for (const word of [
      'cooling stream',
      'no leaks',
      'level after the run',
      'old oil (port)',
      'stream (port)',
      'gear lube (starboard)',
      'gaskets out (starboard)',
    ])
      expect(body.detail).toContain(word);
    // In order, with what was seen, it is finished.
    for (const step of await cards.stepIds(id)) await write(ines, id, tick(step, false));
    await workThrough(ines, id);
    expect(await cards.finish(ines, id)).toMatchObject({ status: 200 });
  });
  test('what a tick opened is closed before it is finished', async () => {
    const id = await cards.hand([
      [port, 'anodes'],
      [port, 'spark-plugs'],
    ]);
    await write(ines, id, { kind: 'task', engineId: port, task: 'anodes', done: true });
    await ticks(id, `${port} plugs out`);
    await confirmGates(ines, id);
    const tasks = [
      { engineId: port, task: 'anodes', done: true },
      { engineId: port, task: 'spark-plugs', done: false },
    ];
    const { status, body } = await cards.finish(ines, id, { tasks });
    expect(status).toBe(409);
    expect(body.detail).toContain('Still open: plugs are out');
    // Left so on purpose, the engine is held, the work comes up again, and the coordinator is told.
    const why = 'the new plugs come tomorrow';
    expect(await cards.finish(ines, id, { tasks, leftOpen: [{ engineId: port, why }] })).toMatchObject({ status: 200 });
    const [held] = (await holds()).filter((h) => h.engineId === port);
    expect(held!.why).toMatch(/^Left open on purpose: the new plugs come tomorrow\. Still open: plugs are out/);
    expect(held!.missing).toContain('spark-plugs');
    const { followUps } = await ilse.get<{ followUps: FollowUpRow[] }>(`/findings/engines/${port}`);
    expect(followUps.find((f) => f.task === 'spark-plugs')).toMatchObject({
      dueOn: '2026-04-15',
      why: 'Left open on purpose: the new plugs come tomorrow. Still open: plugs are out.',
    });
  });
  test('only engines of the card are left open', async () => {
    const id = await cards.hand([[starboard, 'grease']]);
    await confirmGates(ines, id);
    const { status, body } = await cards.finish(ines, id, { leftOpen: [{ engineId: port, why: 'no time' }] });
    expect([status, body.detail]).toEqual([409, 'An engine was left open that is not on this card. Load it again.']);
    expect(await cards.finish(ines, id)).toMatchObject({ status: 200 });
  });
});
