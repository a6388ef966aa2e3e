import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { DayReply } from '@diurna/contract/day';
import type { HoldRow, Trend } from '@diurna/contract/findings';
import type { Hire } from '@diurna/contract/hires';
import type { DueRow } from '@diurna/contract/service';
import type { CardAct } from '@diurna/core/visit';
import { Cards, look as chosen } from '../test/cards.ts';
import {
  confirmGates,
  entryOf,
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
let bram: Client;
let hanne: Client;
let port = 0;
let starboard = 0;
let boatId = 0;
let cards: Cards;
beforeAll(async () => {
  yard = await openYard(() => now);
  ilse = await yard.as('coordinator');
  ines = await yard.as('technician');
  bram = await yard.as('dock');
  hanne = await yard.as('stores');
  ({ boatId, port, starboard } = await fleetWithTwins(ilse));
  cards = new Cards(ilse, { boatId, technicianId: yard.people.technician });
});
afterAll(async () => {
  await yard.close();
});

const later = (minutes: number) => {
  now = new Date(now.getTime() + minutes * 60_000);
};
const hand = (...tasks: [number, string][]) => cards.hand(tasks);
const look = (engineId: number, kind: string, choice: string) => chosen(`${engineId} ${kind}`, choice);
const take = (finding: string): CardAct => ({ kind: 'decide', finding, take: true, reason: null });
const finish = (id: number) => {
  later(5);
  return cards.finish(ines, id);
};
const work = async (...tasks: [number, string][]) => {
  const id = await hand(...tasks);
  await confirmGates(ines, id);
  const reply = await finish(id);
  if (reply.status !== 200) throw new Error(reply.body.detail);
  return id;
};
const due = async (engineId: number) =>
  (await ilse.get<{ rows: DueRow[] }>(`/service/due?engineId=${engineId}&size=50`)).rows;
const asked = async (engineId: number) =>
  (await due(engineId)).filter((r) => r.asked !== null && r.due.task !== 'first-outing').map((r) => r.due.task);
interface Condition {
  trends: Trend[];
  twins: { position: string; trends: Trend[] }[];
  holds: HoldRow[];
  followUps: { id: number; task: string; waitsFor: string | null }[];
  findings: { key: string; state: string }[];
}
const condition = (engineId: number) => ilse.get<Condition>(`/findings/engines/${engineId}`);

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
    expect(
      (await bram.refused('post', `/hires/${hireId}/let-go`, { version: (await hire()).version })).detail,
    ).toContain('Turnstone is held and does not go out');
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
    await bram.post(`/hires/${hireId}/let-go`, { version: (await hire()).version });
    expect((await hire()).letGo).toMatchObject({ by: 'dock' });
    expect(
      (await bram.refused('post', `/hires/${hireId}/let-go`, { version: (await hire()).version })).detail,
    ).toContain('let go already');
    expect((await condition(port)).holds[0]!.released).toMatchObject({
      because: 'pressure held for ten minutes',
      by: 'coordinator',
    });
    expect(await asked(port)).toEqual(['prop-shaft']);
  });
});

describe('fuel in the oil', () => {
  test('three follow-ups in order; the change after the repair is due only after it', async () => {
    const id = await hand([starboard, 'engine-oil']);
    await write(ines, id, look(starboard, 'oil look', 'thin'), take(`${starboard} fuel in oil`));
    expect((await condition(starboard)).followUps.map((f) => [f.task, f.waitsFor])).toEqual([
      ['engine-oil', null],
      ['fuel-repair', 'engine-oil'],
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
  }, 30_000);
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
    expect((await finish(id)).body.detail).toBe('1 of 2 old gaskets came out. Stop and find it before new ones go on.');
    await cards.callOff(id);
  });
});

describe('the engine’s condition', () => {
  test('readings over time, by cylinder, with the twin’s beside; only of finished cards', async () => {
    for (const [engineId, highest] of [
      [port, 130],
      [starboard, 128],
      [port, 126],
    ] as const) {
      const id = await hand([engineId, 'compression']);
      await write(
        ines,
        id,
        ...[1, 2, 3, 4].map((c): CardAct => ({
          kind: 'read',
          key: `${engineId} compression#${c}`,
          value: { value: highest - c, unit: 'psi' },
        })),
      );
      expect(
        (await condition(engineId)).trends
          .filter((t) => t.kind === 'compression')
          .flatMap((t) => t.points)
          .some((p) => p.jobId === id),
      ).toBe(false);
      await confirmGates(ines, id);
      expect((await finish(id)).status).toBe(200);
    }
    const c = await condition(port);
    const own = c.trends.filter((t) => t.kind === 'compression');
    expect(own.map((t) => t.part)).toEqual(['1', '2', '3', '4']);
    expect(own[0]!.points.map((p) => p.value)).toEqual([
      { value: 129, unit: 'psi' },
      { value: 125, unit: 'psi' },
    ]);
    expect(c.twins).toMatchObject([{ position: 'starboard' }]);
    expect(
      c.twins[0]!.trends.find((t) => t.kind === 'compression' && t.part === '4')!.points.map((p) => p.value),
    ).toEqual([{ value: 124, unit: 'psi' }]);
  });
  test('held from the card, late or not: it stands once, coordinators are told, and the boat stays', async () => {
    const id = await hand([starboard, 'grease']);
    const act: CardAct = { kind: 'hold', engineId: starboard, why: 'The bracket is cracked.' };
    expect(
      (await write(ines, id, { ...act, why: 'Of a boat not on this card.', engineId: 999_999 })).refused[0]!.because,
    ).toBe('This engine is not on the card.');
    expect((await rawProblem(ines, `/jobs/${id}/entries`, { entries: [entryOf({ ...act, why: 'x' })] })).status).toBe(
      422,
    );
    await cards.callOff(id);
    // Made without signal, it comes when the card is called off; other entries are refused then.
    const late = entryOf(act);
    expect((await write(ines, id, { kind: 'remark', text: 'too late' })).refused[0]!.because).toContain(
      'called off before this came',
    );
    expect((await write(ines, id, late)).refused).toEqual([]);
    expect((await write(ines, id, late)).kept).toHaveLength(1);
    const open = await ilse.get<HoldRow[]>('/findings/holds');
    expect(open).toMatchObject([
      { engineId: starboard, why: 'The bracket is cracked.', by: 'technician', missing: [] },
    ]);
    expect(
      (await ilse.get<{ text: string }[]>('/session/notices')).some(
        (n) => n.text === 'Turnstone starboard is held. The bracket is cracked.',
      ),
    ).toBe(true);
    await ilse.post(`/findings/holds/${open[0]!.id}/release`, {
      version: open[0]!.version,
      because: 'bracket replaced',
    });
  });
  test('a hold by hand wants a reason and holds without checks', async () => {
    expect((await ines.refused('post', '/findings/holds', { engineId: port, why: '', checks: [] })).status).toBe(422);
    await ines.post('/findings/holds', { engineId: port, why: 'cracked bracket', checks: [] });
    const [held] = await ilse.get<HoldRow[]>('/findings/holds');
    expect(held).toMatchObject({ why: 'cracked bracket', missing: [] });
    await ilse.post(`/findings/holds/${held!.id}/release`, { version: held!.version, because: 'welded' });
    expect(await ilse.get('/findings/holds')).toEqual([]);
    expect(
      (
        await ilse.refused('post', `/findings/holds/${held!.id}/release`, {
          version: held!.version + 1,
          because: 'twice',
        })
      ).detail,
    ).toContain('released already');
  });
});

describe('snags', () => {
  interface Causes {
    position: string;
    causes: { key: string; weight: number; evidence: string[] }[];
    visit: string[];
  }
  test('a trouble named at the dock gives its likely causes with the engine’s own record', async () => {
    const id = (
      await bram.post<{ id: number }>('/snags', {
        boatId,
        engineId: port,
        text: '',
        symptom: 'rough idle',
        photo: null,
      })
    ).id;
    const snags = await ilse.get<{ id: number; text: string; symptom: string }[]>('/snags');
    expect(snags.find((s) => s.id === id)).toMatchObject({ text: 'Rough idle, misfires', symptom: 'rough idle' });
    const [found] = await ilse.get<Causes[]>(`/snags/${id}/causes`);
    expect(found!.position).toBe('port');
    expect(found!.causes.find((c) => c.key === 'compression')!.evidence).toEqual(['compression 2.4 % apart']);
    expect(found!.visit.length).toBeGreaterThan(0);
    expect(
      (
        await ilse.post<{ minutes: number }>('/jobs/preview', {
          boatId,
          tasks: found!.visit.map((task) => ({ engineId: port, task })),
        })
      ).minutes,
    ).toBeGreaterThan(10);
  });
  test('in words alone there is nothing to work out; neither word nor trouble is refused', async () => {
    const id = (await bram.post<{ id: number }>('/snags', { boatId, engineId: null, text: 'smells odd', photo: null }))
      .id;
    expect(await ilse.get(`/snags/${id}/causes`)).toEqual([]);
    expect((await bram.refused('post', '/snags', { boatId, engineId: null, text: '', photo: null })).detail).toContain(
      'wants a few words',
    );
  });
  test('of a boat as a whole, every engine is looked at', async () => {
    const id = (
      await bram.post<{ id: number }>('/snags', { boatId, engineId: null, text: '', symptom: 'sheen', photo: null })
    ).id;
    expect((await ilse.get<Causes[]>(`/snags/${id}/causes`)).map((c) => c.position)).toEqual(['port', 'starboard']);
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
