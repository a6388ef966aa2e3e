import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { openYard, type Yard } from '../test/yard.ts';

let yard: Yard;
beforeAll(async () => {
  yard = await openYard(() => new Date('2026-04-15T10:00:00Z'));
});
afterAll(() => yard.close());

test('one’s own password: the old one is asked, the other devices are signed out, the new one opens', async () => {
  const here = await yard.as('technician');
  const elsewhere = await yard.as('technician');
  const wrong = await here.refused('put', '/session/password', { current: 'not-it-at-all', next: 'another-long-one' });
  expect(wrong.status).toBe(422);
  await here.put('/session/password', { current: 'a-long-password', next: 'another-long-one' });
  expect((await elsewhere.refused('get', '/jobs')).status).toBe(401);
  expect((await here.raw('get', '/jobs')).status).toBe(200);
  const again = yard.visitor();
  await expect(again.signIn('technician')).rejects.toThrow();
  await again.signIn('technician', 'another-long-one');
  expect((await again.raw('get', '/jobs')).status).toBe(200);
});

test('signing out ends this session and no other', async () => {
  const here = await yard.as('dock');
  const elsewhere = await yard.as('dock');
  expect((await here.raw('delete', '/session')).status).toBe(200);
  expect((await here.refused('get', '/jobs')).status).toBe(401);
  expect((await elsewhere.raw('get', '/jobs')).status).toBe(200);
});
