import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { attackChaos } from '../bench/attack/chaos.ts';
import { Target } from '../bench/attack/target.ts';

/** The short run of `npm run attack -- chaos`, always the same one. */
const ROUNDS = 6;
const SEED = 4;

let target: Target;
beforeAll(async () => {
  target = await Target.open(['--processes', '2', '--workers', '1']);
}, 150_000);
afterAll(() => target.close());

test('killed without warning, app and database lose nothing that was acknowledged, and do nothing twice', async () => {
  expect(await attackChaos(target, ROUNDS, SEED)).toBe(true);
}, 150_000);
