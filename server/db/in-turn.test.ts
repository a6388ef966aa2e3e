import { EventEmitter } from 'node:events';
import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type pg from 'pg';
import { openYard, type Yard } from '../test/yard.ts';
import { takeInTurn } from './in-turn.ts';

let yard: Yard;
beforeAll(async () => {
  yard = await openYard();
});
afterAll(() => yard.close());

/** A connection that says how many statements it was given at once. */
function connection() {
  const seen: string[] = [];
  let running = 0;
  let most = 0;
  const client = {
    query: async (text: string) => {
      most = Math.max(most, ++running);
      seen.push(text);
      await new Promise((resolve) => setImmediate(resolve));
      running--;
      if (text === 'wrong') throw new Error('no such table');
      return text;
    },
  };
  const pool = new EventEmitter();
  takeInTurn(pool as unknown as pg.Pool);
  pool.emit('connect', client);
  return { client, seen, most: () => most };
}

describe('statements of one connection', () => {
  test('are asked one after the other, in their order, also after one that failed', async () => {
    const { client, seen, most } = connection();
    const answers = await Promise.allSettled(['a', 'wrong', 'b', 'c'].map((text) => client.query(text)));
    expect(answers.map((a) => a.status)).toEqual(['fulfilled', 'rejected', 'fulfilled', 'fulfilled']);
    expect(seen).toEqual(['a', 'wrong', 'b', 'c']);
    expect(most()).toBe(1);
    expect(await client.query('later')).toBe('later');
  });

  test('of the book’s own pool give their answers, each its own', async () => {
    const client = await yard.pool.connect();
    try {
      const answers = await Promise.all([1, 2, 3].map((n) => client.query<{ n: number }>('select $1::int as n', [n])));
      expect(answers.map((a) => a.rows[0]!.n)).toEqual([1, 2, 3]);
    } finally {
      client.release();
    }
  });
});
