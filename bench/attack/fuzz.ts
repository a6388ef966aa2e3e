import { EVERYONE } from '@diurna/contract';
import { fuzzed, makeRequest, oddCalendar, oddTable, randomFrom, type Made } from '../../server/test/fuzz.ts';
import type { Visitor } from '../visitor.ts';
import { row } from '../report.ts';
import type { Target } from './target.ts';

const AT_ONCE = 8;
const KINDS = ['fleet', 'hours', 'parts', 'service', 'hires'];

async function crowd(target: Target): Promise<Visitor[]> {
  const visitors: Visitor[] = [];
  for (const role of EVERYONE) visitors.push(await target.enter(role));
  return visitors;
}

interface Tally {
  statuses: Map<number, number>;
  answered: Set<string>;
  failed: Map<string, string>;
  slowest: { what: string; ms: number };
}
const emptyTally = (): Tally => ({
  statuses: new Map(),
  answered: new Set(),
  failed: new Map(),
  slowest: { what: '', ms: 0 },
});

async function send(visitor: Visitor, made: Made, tally: Tally): Promise<void> {
  const began = performance.now();
  const { status, text } = await visitor.file(made.method, made.path.slice(4), made.type, made.body);
  const ms = performance.now() - began;
  tally.statuses.set(status, (tally.statuses.get(status) ?? 0) + 1);
  if (status < 300) tally.answered.add(made.name);
  if (status >= 500)
    tally.failed.set(
      made.name,
      `${made.method} ${made.path} ${String(made.body).slice(0, 600)} -> ${status} ${text()}`,
    );
  if (ms > tally.slowest.ms) tally.slowest = { what: made.name, ms };
}

function tell(what: string, tally: Tally, seconds: number): boolean {
  const all = [...tally.statuses.values()].reduce((a, b) => a + b, 0);
  const bad = [...tally.statuses].filter(([s]) => s >= 500).reduce((sum, [, n]) => sum + n, 0);
  console.log(
    `         ${[...tally.statuses]
      .sort((a, b) => a[0] - b[0])
      .map(([s, n]) => `${n} x ${s}`)
      .join(
        ', ',
      )}; ${tally.answered.size} of ${fuzzed.length} routes answered as they should; slowest ${tally.slowest.what}, ${tally.slowest.ms.toFixed(0)} ms; ${seconds.toFixed(0)} s`,
  );
  for (const said of tally.failed.values()) console.log(`         ${said}`);
  row(`${what}, answers of 500 and more`, `${bad} of ${all}`, '0', bad === 0, 'the contract says what is right');
  return bad === 0;
}

/** Requests made from the contract by every role, so many at once. @returns whether none failed */
export async function attackFuzz(target: Target, count: number, seed: number): Promise<boolean> {
  const visitors = await crowd(target);
  const tally = emptyTally();
  const random = randomFrom(seed);
  const database = await target.database();
  const began = performance.now();
  let left = count;
  await Promise.all(
    Array.from({ length: AT_ONCE }, async () => {
      while (left > 0) {
        left--;
        // What one person may ask an hour is lifted: the attack is on what lies behind.
        if (left % 100 === 0) await database.query('delete from sign_in_throttle');
        const who = random() < 0.6 ? 0 : Math.floor(random() * visitors.length);
        await send(visitors[who]!, makeRequest(random), tally);
      }
    }),
  );
  await database.end();
  return tell('requests made from the contract', tally, (performance.now() - began) / 1000);
}

/** Tables and calendars of every kind of wrong. @returns whether none failed */
export async function attackFiles(target: Target, count: number, seed: number): Promise<boolean> {
  const visitor = await target.enter('administrator');
  const random = randomFrom(seed);
  const tally = emptyTally();
  const database = await target.database();
  const began = performance.now();
  for (let i = 0; i < count; i++) {
    if (i % 100 === 0) await database.query('delete from sign_in_throttle');
    const kind = KINDS[i % KINDS.length]!;
    const made: Made =
      i % 2 === 0
        ? {
            name: 'previewImport',
            method: 'post',
            path: `/api/exchange/${kind}${i % 4 === 0 ? '/preview' : ''}`,
            type: 'text/csv',
            body: oddTable(random),
          }
        : {
            name: 'previewCalendar',
            method: 'post',
            path: `/api/hires/calendar${i % 4 === 1 ? '/preview' : ''}?baseId=1`,
            type: 'text/calendar',
            body: oddCalendar(random),
          };
    await send(visitor, made, tally);
  }
  await database.end();
  return tell('odd files', tally, (performance.now() - began) / 1000);
}
