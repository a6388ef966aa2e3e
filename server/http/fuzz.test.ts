import { EVERYONE, type Problem } from '@diurna/contract';
import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { makeLogger } from './log.ts';
import { fuzzed, makeRequest, MARK, randomFrom } from '../test/fuzz.ts';
import { openTwinYard, type Client, type Yard } from '../test/yard.ts';

/**
 * Requests made at random from the contract, by every role: a right answer, or one that says what is wrong; never a
 * failure of the server. The long run is `npm run attack`. A request that failed once stands below by its seed.
 */
const SEEDS = [7, 11];
const EACH = Number(process.env.DIURNA_FUZZ ?? 400);

let yard: Yard;
const clients: Client[] = [];
const logged: string[] = [];
beforeAll(async () => {
  ({ yard } = await openTwinYard(() => new Date('2026-04-15T10:00:00Z'), {
    logger: makeLogger('trace', { write: (line: string) => void logged.push(line) }),
  }));
  for (const role of EVERYONE) clients.push(await yard.as(role));
  await yard.queue.start(false);
});
afterAll(async () => {
  await yard.close();
});

test.each(SEEDS)('requests of any shape never make the server fail (seed %d)', async (seed) => {
  const random = randomFrom(seed);
  const seen = new Map<string, number>();
  const failed = new Map<string, string>();
  const told: string[] = [];
  for (let i = 0; i < EACH; i++) {
    const made = makeRequest(random);
    const client = clients[i % 3 === 0 ? Math.floor(random() * clients.length) : 0]!;
    const asked = client.agent[made.method](made.path).set('x-diurna-token', client.token);
    const reply = await (made.type === null
      ? asked
      : asked.set('content-type', made.type).send(made.body ?? undefined));
    seen.set(made.name, Math.max(seen.get(made.name) ?? 0, reply.status < 300 ? 2 : 1));
    if (reply.status >= 500 && reply.status !== 503) {
      const why = logged.find((line) => line.includes('request failed')) ?? '';
      failed.set(
        made.name,
        `${made.method} ${made.path} ${String(made.body).slice(0, 1000)}\n${reply.status} ${why.slice(0, 900)}`,
      );
    }
    told.push(...logged.splice(0).filter((line) => line.includes(MARK)));
    if (reply.status >= 400) {
      const { detail, title, status } = reply.body as Problem;
      expect([made.path, typeof detail, typeof title, status]).toEqual([made.path, 'string', 'string', reply.status]);
    }
  }
  expect([...failed.values()].join('\n\n')).toBe('');
  // At the most talkative level no log holds a word of what was sent.
  expect(told).toEqual([]);
  // It gets beyond the forms: a good part of the routes answered as they should.
  expect(seen.size).toBeGreaterThan(fuzzed.length * 0.85);
  expect([...seen.values()].filter((s) => s === 2).length).toBeGreaterThan(fuzzed.length * 0.2);
});
