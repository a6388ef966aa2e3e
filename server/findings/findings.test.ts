import { afterAll, describe, expect, test } from '@jest/globals';
import type { DayReply } from '@diurna/contract/day';
import type { Hire } from '@diurna/contract/hires';
import type { CardAct } from '@diurna/core/visit';
import { look, take, openFindings } from '../test/findings.ts';
import { confirmGates, workThrough, write } from '../test/yard.ts';

const { yard, ilse, ines, bram, hanne, boatId, port, starboard, cards, hand, finish, work, asked, condition, later } =
  await openFindings();
afterAll(() => yard.close());

// Common practice, no source: water in the gear case is held, never just refilled.
describe('milky gear lube', () => {
  let id = 0;
  let hireId = 0;
  const hire = async () =>
    (await bram.get<{ rows: Hire[] }>('/hires?from=2026-04-15&days=2')).rows.find((h) => h.id === hireId)!;

  test('as soon as it is seen the boat does not go out, though nobody has decided yet', async () => {
    hireId = (
      await ilse.post<{ id: number }>('/hires', {
        boatId,
        outDay: '2026-04-15',
        outTime: '14:00',
        backDay: '2026-04-15',
        backTime: '18:00',
        reference: null,
      })
    ).id;
    expect((await hire()).held).toEqual([]);
    id = await hand([port, 'gear-lube']);
    await write(ines, id, look(port, 'lube look', 'milky'));
    expect((await cards.read(id)).findings).toMatchObject([
      { key: `${port} water in lube`, weight: 'hold', state: 'open' },
    ]);
    expect((await hire()).held).toEqual(['Port: The gear lube is milky. To be decided on the card.']);
    expect((await bram.refused('post', `/hires/${hireId}/let-go`, { boatId })).detail).toContain(
      'Turnstone is held and does not go out',
    );
    const day = await ilse.get<DayReply>('/day?day=2026-04-15');
    expect(day.boats.find((b) => b.way === 'out')!.state).toBe('held');
    expect(day.matters!.some((m) => m.key.startsWith('finding ') && m.options[0]!.act.kind === 'look')).toBe(true);
  });
  test('corrected before anybody decided, the finding is gone and the boat free', async () => {
    await write(ines, id, look(port, 'lube look', 'dark'));
    expect((await cards.read(id)).findings).toEqual([]);
    expect((await hire()).held).toEqual([]);
    await write(ines, id, look(port, 'lube look', 'milky'));
    expect((await cards.read(id)).findings).toHaveLength(1);
  });
  test('the card cannot be finished before a person says what becomes of it', async () => {
    await confirmGates(ines, id);
    expect((await finish(id)).body.detail).toBe('Say first what becomes of what was found: The gear lube is milky.');
  });
  test('taken, the engine is held, the work asked for in its order, the coordinator told', async () => {
    await write(ines, id, take(`${port} water in lube`));
    const c = await cards.read(id);
    expect(c.findings[0]).toMatchObject({ state: 'taken', by: 'technician' });
    expect(c.holds).toMatchObject([
      {
        why: 'The gear lube is milky.',
        checks: ['gear-seals', 'gear-lube'],
        missing: ['gear-seals', 'gear-lube'],
        by: 'technician',
      },
    ]);
    expect((await asked(port)).sort()).toEqual(['gear-seals', 'prop-shaft']);
    expect((await condition(port)).followUps.map((f) => [f.task, f.waitsFor])).toEqual([
      ['prop-shaft', null],
      ['gear-seals', null],
      ['gear-lube', 'gear-seals'],
    ]);
    expect(
      (await ilse.get<{ text: string }[]>('/session/notices')).some((n) => n.text.includes('Turnstone port is held')),
    ).toBe(true);
    // Decided twice, it is done once.
    await write(ines, id, take(`${port} water in lube`));
    expect((await condition(port)).holds).toHaveLength(1);
  });
  test('it is not let go while its checks are not in the log, nor by whoever may not', async () => {
    expect((await finish(id)).status).toBe(200);
    const [held] = (await condition(port)).holds;
    expect(
      (
        await ines.refused('post', `/findings/holds/${held!.id}/release`, {
          version: held!.version,
          because: 'looks fine',
        })
      ).status,
    ).toBe(403);
    expect(
      (
        await ilse.refused('post', `/findings/holds/${held!.id}/release`, {
          version: held!.version,
          because: 'looks fine',
        })
      ).detail,
    ).toBe('Not before this is done and in the log: gear-case seals, gear lube.');
    await work([port, 'gear-seals']);
    expect(
      (
        await ilse.refused('post', `/findings/holds/${held!.id}/release`, {
          version: held!.version,
          because: 'looks fine',
        })
      ).detail,
    ).toBe('Not before this is done and in the log: gear lube.');
    expect(await asked(port)).toContain('gear-lube');
    await work([port, 'gear-lube']);
    expect((await hire()).held).toHaveLength(1);
  });
  test('let go by the coordinator, it goes out; the hold stays in the book', async () => {
    const [held] = (await condition(port)).holds;
    expect(held!.missing).toEqual([]);
    await ilse.post(`/findings/holds/${held!.id}/release`, {
      version: held!.version,
      because: 'pressure held for ten minutes',
    });
    expect((await hire()).held).toEqual([]);
    await bram.post(`/hires/${hireId}/let-go`, { boatId });
    expect((await hire()).letGo).toMatchObject({ by: 'dock' });
    // Twice is told, and changes nothing.
    const again = await bram.post<{ clash: string }>(`/hires/${hireId}/let-go`, { boatId });
    expect(again.clash).toMatch(/is out already: dock, \d\d:\d\d\./);
    expect((await condition(port)).holds[0]!.released).toMatchObject({
      because: 'pressure held for ten minutes',
      by: 'coordinator',
    });
    expect(await asked(port)).toEqual(['prop-shaft']);
  });
});

describe('fuel in the oil', () => {
  test('the repair, then the change after it, which is due only then: the card’s own change is the first one', async () => {
    const id = await hand([starboard, 'engine-oil']);
    await write(ines, id, look(starboard, 'oil look', 'thin'), take(`${starboard} fuel in oil`));
    expect((await condition(starboard)).followUps.map((f) => [f.task, f.waitsFor])).toEqual([
      ['fuel-repair', null],
      ['engine-oil', 'fuel-repair'],
    ]);
    await confirmGates(ines, id);
    expect((await finish(id)).status).toBe(200);
    expect(await asked(starboard)).toEqual(['fuel-repair']);
    await work([starboard, 'engine-oil']);
    expect(await asked(starboard)).toEqual(['fuel-repair']);
    await work([starboard, 'fuel-repair']);
    expect(await asked(starboard)).toEqual(['engine-oil']);
    await work([starboard, 'engine-oil']);
    expect(await asked(starboard)).toEqual([]);
  });
  test('called off by a coordinator, the reason stays and what came after waits for nothing', async () => {
    const id = await hand([starboard, 'engine-oil']);
    await write(ines, id, look(starboard, 'oil look', 'thin'), take(`${starboard} fuel in oil`));
    const [first] = (await condition(starboard)).followUps;
    expect(
      (await ines.refused('post', `/findings/follow-ups/${first!.id}/call-off`, { reason: 'done outside' })).status,
    ).toBe(403);
    for (const f of (await condition(starboard)).followUps)
      await ilse.post(`/findings/follow-ups/${f.id}/call-off`, { reason: 'sent to the dealer' });
    expect(await asked(starboard)).toEqual([]);
    await cards.callOff(id);
  });
});

describe('otherwise than proposed', () => {
  test('overridden for a reason, nothing follows; without one it is not taken', async () => {
    const id = await hand([starboard, 'impeller']);
    await write(ines, id, look(starboard, 'pump metal', 'groove'));
    const key = `${starboard} sand in pump`;
    expect(
      (await write(ines, id, { kind: 'decide', finding: key, take: false, reason: ' ' })).refused[0]!.because,
    ).toContain('Say in a few words');
    await write(ines, id, { kind: 'decide', finding: key, take: false, reason: 'a tool mark, not sand' });
    expect((await cards.read(id)).findings[0]).toMatchObject({ state: 'overridden', reason: 'a tool mark, not sand' });
    expect(await ilse.get<{ task: string }[]>('/rules/overrides')).toEqual([]);
    await cards.callOff(id);
  });
  test('taken, the boat’s pump comes round sooner and Stores hear of the kit', async () => {
    const id = await hand([port, 'impeller']);
    await write(ines, id, look(port, 'pump metal', 'groove'), take(`${port} sand in pump`));
    const own =
      await ilse.get<{ task: string; scope: string; everyHours: number; everyMonths: number; reason: string }[]>(
        '/rules/overrides',
      );
    expect(own).toMatchObject([
      {
        task: 'impeller',
        scope: 'boat',
        everyHours: 100,
        everyMonths: 6,
        reason: 'A groove in the pump’s liner or plate.',
      },
    ]);
    expect(
      (await hanne.get<{ text: string }[]>('/session/notices')).some((n) =>
        n.text.startsWith('Parts wanted for Turnstone port: impeller'),
      ),
    ).toBe(true);
    await cards.callOff(id);
  });
  test('an old gasket left in the port: the card stops until the count is right', async () => {
    const id = await hand([starboard, 'gear-lube']);
    const out = (value: number): CardAct => ({
      kind: 'read',
      key: `${starboard} gaskets out`,
      value: { value, unit: 'pieces' },
    });
    const reply = await write(ines, id, out(1), take(`${starboard} gasket stuck`));
    expect(reply.refused).toEqual([]);
    // Seen by now, it cannot be waved through.
    expect((await write(ines, id, take(`${starboard} gasket stuck`))).refused[0]!.because).toContain(
      'Correct the figure',
    );
    await confirmGates(ines, id);
    expect((await finish(id)).status).toBe(409);
    await write(ines, id, out(2));
    expect((await finish(id)).status).toBe(200);
  });
  test('stops while it is open', async () => {
    const id = await hand([starboard, 'gear-lube']);
    await write(ines, id, { kind: 'read', key: `${starboard} gaskets out`, value: { value: 1, unit: 'pieces' } });
    await confirmGates(ines, id);
    expect((await finish(id)).body.detail).toBe(
      '1 of at least 2 old gaskets came out. Stop and find it before new ones go on.',
    );
    await cards.callOff(id);
  });
});

describe('used oil', () => {
  test('card by card, by stream; collected, it leaves the store; more than is there is not', async () => {
    const before = await ilse.get<{
      store: { stream: string; quantity: number }[];
      totals: { stream: string; quantity: number }[];
    }>('/records/waste');
    const oil = before.store.find((s) => s.stream === 'used oil')!.quantity;
    expect(oil).toBe(3 * 2700);
    expect(
      (
        await bram.refused('post', '/records/waste', {
          baseId: yard.baseId,
          stream: 'used oil',
          quantity: 100,
          note: 'a stranger',
        })
      ).status,
    ).toBe(403);
    expect(
      (
        await ilse.refused('post', '/records/waste', {
          baseId: yard.baseId,
          stream: 'used oil',
          quantity: oil + 1,
          note: 'paper 12',
        })
      ).detail,
    ).toContain('holds 8100 mL');
    await ilse.post('/records/waste', { baseId: yard.baseId, stream: 'used oil', quantity: 8000, note: 'paper 12' });
    const after = await ilse.get<{
      store: { stream: string; quantity: number }[];
      totals: { stream: string; quantity: number }[];
    }>('/records/waste');
    expect(after.store.find((s) => s.stream === 'used oil')!.quantity).toBe(100);
    expect(after.totals.find((s) => s.stream === 'used oil')!.quantity).toBe(8100);
  });
});

describe('a reading that was not possible', () => {
  test('lets the card be finished, holds the engine where it is the stream, and asks for the work again where it is not', async () => {
    const id = await hand([port, 'spark-plugs'], [port, 'compression']);
    await write(
      ines,
      id,
      { kind: 'read', key: `${port} stream`, value: { not: 'no water on the dock' } },
      ...[1, 2, 3, 4].map((c): CardAct => ({
        kind: 'read',
        key: `${port} compression#${c}`,
        value: { not: 'gauge broken' },
      })),
    );
    // What the step does not hang on is left empty, not explained.
    const refused = await write(ines, id, { kind: 'read', key: `${port} plug gap`, value: { not: 'no feeler' } });
    expect(refused.refused[0]!.because).toContain('can be left empty');
    await workThrough(ines, id);
    // Said once the work is over: this card’s own compression does not count as the one after it.
    later(2);
    await write(ines, id, take(`${port} not read stream`), take(`${port} not read compression`));
    expect((await finish(id)).status).toBe(200);
    const { holds, followUps } = await condition(port);
    expect(holds.map((h) => h.why)).toContainEqual(
      expect.stringContaining('Stream: not possible. no water on the dock'),
    );
    expect(followUps.map((f) => f.task)).toContain('compression');
    const held = holds.find((h) => h.why.startsWith('Stream'))!;
    await ilse.post(`/findings/holds/${held.id}/release`, { version: held.version, because: 'seen, it runs' });
  });
});
