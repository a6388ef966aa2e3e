import { afterAll, beforeEach, describe, expect, test } from '@jest/globals';
import { openMailYard } from '../test/mail-yard.ts';
import { writeMorning } from './index.ts';

/** The mail of a morning: for whom, when, once. */
const book = await openMailYard();
const { yard, ilse, technician, clock, think, later, came, send, choose, mails, told } = book;
beforeEach(() => book.afresh());
afterAll(() => book.close());
const MINUTE = 60_000;

describe('a morning’s mail', () => {
  const at = (time: string) => {
    clock.now = new Date(`2026-05-13T${time}:00-03:00`);
  };
  test('goes once to who wants it, between the yard’s minute and noon', async () => {
    await choose(technician, 'ines@yard.example', { work: 'morning' }, true);
    await choose(ilse, 'ilse@yard.example', {}, false);
    at('05:59');
    await told('Sandpiper given to you.');
    expect(await writeMorning(yard.db, think, yard.baseId, clock.now)).toBe(0);
    at('12:00');
    expect(await writeMorning(yard.db, think, yard.baseId, clock.now)).toBe(0);
    at('06:00');
    const both = await Promise.all([1, 2].map(() => writeMorning(yard.db, think, yard.baseId, clock.now)));
    expect(both.reduce((a, b) => a + b)).toBe(1);
    expect(await writeMorning(yard.db, think, yard.baseId, clock.now)).toBe(0);
    await send();
    const [mail, more] = await came();
    expect(more).toBeUndefined();
    expect(mail!.subject).toBe('Wed 13 May: 1 message');
    expect(mail!.text).toContain('Told to you');
    expect(mail!.text).toContain('- Sandpiper given to you.');
  });
  test('not to who is off that day, nor where there is nothing to say; the next day again', async () => {
    await choose(technician, 'ines@yard.example', { work: 'morning' }, true);
    at('06:00');
    expect(await writeMorning(yard.db, think, yard.baseId, clock.now)).toBe(0);
    await told('Sandpiper given to you.');
    await ilse.post(`/people/${yard.people.technician}/exceptions`, {
      kind: 'away',
      firstDay: '2026-05-13',
      lastDay: '2026-05-13',
      reason: 'leave',
    });
    expect(await writeMorning(yard.db, think, yard.baseId, clock.now)).toBe(0);
    clock.now = new Date(clock.now.getTime() + 1440 * MINUTE);
    expect(await writeMorning(yard.db, think, yard.baseId, clock.now)).toBe(1);
  });
  test('what stood in one morning’s mail does not stand in the next', async () => {
    await choose(technician, 'ines@yard.example', { work: 'morning' }, true);
    clock.now = new Date('2026-05-27T06:10:00-03:00');
    await told('Sandpiper given to you.');
    later(1);
    expect(await writeMorning(yard.db, think, yard.baseId, clock.now)).toBe(1);
    later(1440);
    expect(await writeMorning(yard.db, think, yard.baseId, clock.now)).toBe(0);
    await told('Dunlin given to you.');
    later(1);
    expect(await writeMorning(yard.db, think, yard.baseId, clock.now)).toBe(1);
    const [latest] = await mails();
    expect(latest!.text).toContain('Dunlin');
    expect(latest!.text).not.toContain('Sandpiper');
  });
  test('late, it is of no use any more', async () => {
    await choose(technician, 'ines@yard.example', { work: 'morning' }, true);
    // Another day than the leave of the test before.
    clock.now = new Date('2026-05-20T06:30:00-03:00');
    await told('Sandpiper given to you.');
    await writeMorning(yard.db, think, yard.baseId, clock.now);
    later(8.5 * 60);
    await send().catch(() => undefined);
    expect(await came()).toEqual([]);
    expect(await mails()).toMatchObject([{ state: 'failed', kind: 'morning' }]);
  });
});
