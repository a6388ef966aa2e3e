import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { DayReply } from '@diurna/contract/day';
import { pino } from 'pino';
import { Beside } from './beside.ts';
import { saidBy } from './http/shared.ts';
import { openTwinYard, type Yard } from './test/yard.ts';
import { thinkHere } from './thoughts.ts';
import { answered } from './test/until.ts';

const now = new Date('2026-04-15T10:00:00Z');
const asked = { now: now.getTime(), today: '2026-04-15', mayDecide: true, day: '2026-04-15', baseId: null };
let yard: Yard;
let beside: Beside;
const logged: string[] = [];
beforeAll(async () => {
  ({ yard } = await openTwinYard(() => now));
  beside = new Beside(
    yard.databaseUrl,
    pino({ level: 'error' }, { write: (line: string) => void logged.push(line) }),
    () => undefined,
  );
});
afterAll(async () => {
  await beside.stop();
  await yard.close();
});

test('beside the loop the same is worked out as on it, also after a write', async () => {
  const here = thinkHere({ db: yard.db, fleet: yard.fleet });
  const both = async () => [await beside.think('day', asked).then(saidBy), await here('day', asked)] as DayReply[];
  const [there, mine] = await both();
  expect(there).toEqual(JSON.parse(JSON.stringify(mine)));
  const admin = await yard.as('administrator');
  await admin.post('/hires', {
    boatId: 1,
    outDay: '2026-04-15',
    outTime: '12:00',
    backDay: '2026-04-15',
    backTime: '16:00',
    reference: null,
  });
  const [after, mineAfter] = await both();
  expect(after).toEqual(JSON.parse(JSON.stringify(mineAfter)));
  expect(after).not.toEqual(there);
});

test('what is wrong there is said as here', async () => {
  await expect(beside.think('day', { ...asked, day: 'no day' })).rejects.toMatchObject({
    name: 'RangeError',
    message: '"no day" is not a day (YYYY-MM-DD)',
  });
});

test('when the thread dies whoever waits is told to try again, and the next one is answered', async () => {
  const waiting = beside.think('day', asked);
  await beside.end();
  await expect(waiting).rejects.toMatchObject({ status: 503 });
  expect(saidBy(await beside.think('day', asked))).toMatchObject({ day: '2026-04-15' });
});

test('the database throws everybody out: the next question is answered again', async () => {
  await yard.pool
    .query('select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database()')
    .catch(() => undefined);
  const answer = await answered(
    () => beside.think('day', asked).catch(() => null),
    () => 'it never answered again',
  );
  expect(saidBy(answer)).toMatchObject({ day: '2026-04-15' });
});
