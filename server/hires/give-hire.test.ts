import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { DayReply } from '@diurna/contract/day';
import type { Hire } from '@diurna/contract/hires';
import { Cards, tick } from '../test/cards.ts';
import { look, openFindings, take } from '../test/findings.ts';
import { confirmGates, workThrough, write, type Client } from '../test/yard.ts';

/** Another boat goes out on a hire: what is refused, what the dock hears, what a calendar may and may not undo. */
const day = '2026-04-15';
const { yard, ilse, ines, bram, boatId, port, cards, hand } = await openFindings();
afterAll(() => yard.close());
let knotId = 0;
let hireId = 0;
const book = (boat: number, outTime: string, backTime: string) =>
  ilse.post<{ id: number }>('/hires', {
    boatId: boat,
    outDay: day,
    outTime,
    backDay: day,
    backTime,
    reference: 'Q 12',
  });
const hires = async () => (await bram.get<{ rows: Hire[] }>(`/hires?from=${day}&days=2`)).rows;
const hire = async (id = hireId) => (await hires()).find((h) => h.id === id)!;
const give = async (boat: number, id = hireId) =>
  ilse.post<{ version: number }>(`/hires/${id}/give`, { version: (await hire(id)).version, boatId: boat });
const refused = async (boat: number, who: Client = ilse) =>
  (await who.refused('post', `/hires/${hireId}/give`, { version: (await hire()).version, boatId: boat })).detail;
const told = async (who: Client) => (await who.get<{ text: string }[]>('/session/notices')).map((n) => n.text);

beforeAll(async () => {
  const boats = (await ilse.get<{ rows: { id: number; name: string }[] }>('/fleet/boats?size=50')).rows;
  knotId = boats.find((b) => b.name === 'Knot')!.id;
  hireId = (await book(boatId, '14:00', '18:00')).id;
});

describe('a hire is given to another boat', () => {
  test('it goes out with that one, the dock is told, and it can be given back', async () => {
    await give(knotId);
    expect(await hire()).toMatchObject({
      boatId: knotId,
      boatName: 'Knot',
      givenFrom: { boatId, boatName: 'Turnstone' },
    });
    expect((await told(bram)).at(-1)).toBe('The hire of Wed 15 Apr 14:00 goes out with Knot instead of Turnstone.');
    await give(boatId);
    expect(await hire()).toMatchObject({ boatId, givenFrom: null });
  });

  test('not to a boat that is out then, and not by whoever may not', async () => {
    const { id } = await book(knotId, '15:00', '16:00');
    expect(await refused(knotId)).toBe('Knot is out then. Choose another boat.');
    await ilse.post(`/hires/${id}/cancel`, { version: (await hire(id)).version, cancelled: true });
    expect((await bram.raw('post', `/hires/${hireId}/give`, { version: 1, boatId: knotId })).status).toBe(403);
  });

  test('a calendar that still names the first boat changes nothing; one that names another is followed', async () => {
    const event = (boat: string) =>
      `BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//EN\r\nBEGIN:VEVENT\r\nUID:swap-1\r\nSUMMARY:${boat}\r\nDTSTART:20260416T120000Z\r\nDTEND:20260416T150000Z\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n`;
    const read = (boat: string) => ilse.post<{ counts: object }>(`/hires/calendar?baseId=${yard.baseId}`, event(boat));
    await read('Turnstone');
    const { id } = (await hires()).find((h) => h.reference === 'Turnstone')!;
    await give(knotId, id);
    expect((await read('Turnstone')).counts).toMatchObject({ same: 1, change: 0 });
    expect(await hire(id)).toMatchObject({ boatId: knotId, givenFrom: { boatId } });
    await read('Knot');
    expect(await hire(id)).toMatchObject({ boatId: knotId, givenFrom: null });
  });
});

// Common practice, no source: water in the gear case is held; lube comes after the seals, never before.
describe('milky gear lube, with a hire at two', () => {
  let holdKey = '';
  const matter = async () =>
    (await ilse.get<DayReply>(`/day?day=${day}`)).matters!.find((m) => m.key.startsWith('hold '))!;

  test('held, the day offers the repair and the word to the desk; Knot is of another kind and is not offered', async () => {
    const id = await hand([port, 'gear-lube']);
    await write(ines, id, look(port, 'lube look', 'milky'), take(`${port} water in lube`));
    await confirmGates(ines, id);
    await workThrough(ines, id);
    await cards.finish(ines, id);
    const m = await matter();
    holdKey = m.key;
    expect(m).toMatchObject({ weight: 'now', title: 'Turnstone port is held and goes out today 14:00' });
    expect(m.text).toMatch(/Wanted first: gear-case seals, gear lube\./);
    expect(m.options.map((o) => o.label).slice(-2)).toEqual(['Call the hire desk', 'Leave it held']);
    expect(m.options.some((o) => o.label.includes('Knot'))).toBe(false);
  });

  test('once both are hired out as the same, Knot is offered with one press, and the boat is held without a hire', async () => {
    for (const b of [boatId, knotId]) {
      const {
        id: _,
        engines: __,
        baseName: ___,
        retired: ____,
        ...rest
      } = await ilse.get<Record<string, unknown>>(`/fleet/boats/${b}`);
      await ilse.put(`/fleet/boats/${b}`, { ...rest, boatClass: 'day boat' });
    }
    const m = await matter();
    const option = m.options.find((o) => o.label.startsWith('Give the hire to Knot'))!;
    expect(option.act).toMatchObject({ kind: 'stand in', hireId, boatId: knotId });
    await give(knotId);
    expect(await matter()).toMatchObject({ key: holdKey, title: 'Turnstone port is held' });
    expect(await refused(boatId)).toBe('Turnstone is held. Choose another boat.');
  });

  test('the repair is in the plan with the lube after it, as one piece of work; nothing that it would undo stands alone', async () => {
    const { problem, tasks } = await ilse.get<{
      problem: { tasks: { id: string }[] };
      tasks: Record<string, { brings: string[] }>;
    }>('/plan?days=14');
    const own = problem.tasks.map((t) => t.id).filter((t) => t.startsWith(`${port} `));
    expect(own).toContain(`${port} gear-seals`);
    expect(own).not.toContain(`${port} gear-lube`);
    expect(tasks[`${port} gear-seals`]!.brings).toContain('gear-lube');
  });
});

describe('a boat in pieces', () => {
  test('does not go out in one tap: the dock is told what is open, who works on it and until when', async () => {
    const boat = await ilse.get<{ engines: { id: number; position: string }[] }>(`/fleet/boats/${knotId}`);
    const engine = boat.engines.find((e) => e.position === 'single')!.id;
    const knot = new Cards(ilse, { boatId: knotId, technicianId: yard.people.technician });
    const id = await knot.hand([[engine, 'spark-plugs']]);
    const letGo = async () => bram.raw('post', `/hires/${hireId}/let-go`, { boatId: knotId });
    const { steps } = await knot.read(id);
    // Looked at, nothing opened yet.
    const opens = steps.findIndex((s) => s.step.opens.length > 0 && s.step.task === 'spark-plugs');
    await write(ines, id, ...steps.slice(0, opens + 1).map((s) => tick(s.step.id)));
    const refusal = await letGo();
    expect(refusal.status).toBe(409);
    expect((refusal.body as { detail: string }).detail).toMatch(
      /^Knot is being worked on and does not go out\. .*technician works on it, until about \d\d:\d\d\. It goes out once the card is finished\.$/,
    );
    await workThrough(ines, id);
    expect((await letGo()).status).toBe(200);
  });
});
