import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { openYard, type Yard } from '../test/yard.ts';
import { transaction } from './index.ts';
import { whileUnchanged } from './while-unchanged.ts';

/** An answer worked out once while the book stands still, and never an old one. */
let yard: Yard;
let worked = 0;
beforeAll(async () => {
  yard = await openYard();
});
afterAll(() => yard.close());

/** Boats of the book, and how often they were counted. */
const count = (key = 'boats', before: () => Promise<void> = () => Promise.resolve()) =>
  whileUnchanged(yard.db, key, async () => {
    worked++;
    await before();
    const { rows } = await yard.pool.query<{ n: number }>('select count(*)::int as n from boat');
    return rows[0]!;
  });
const add = (name: string) => yard.pool.query('insert into boat (name, base_id) values ($1, $2)', [name, yard.baseId]);

test('worked out once for many at once, and for all who come later', async () => {
  worked = 0;
  const answers = await Promise.all(Array.from({ length: 20 }, () => count('quiet')));
  answers.push(await count('quiet'));
  expect(worked).toBe(1);
  expect(new Set(answers).size).toBe(1);
  // Of another day, base or role it is another answer.
  await count('boats of base 2');
  expect(worked).toBe(2);
});

test('people who come and go, limits and what the app counts of itself make nothing old', async () => {
  worked = 0;
  await count('comings');
  const admin = await yard.as('administrator');
  await admin.get('/fleet/bases');
  await (await yard.as('technician')).get('/session');
  await yard.pool.query("insert into watched_hour values (now(), gen_random_uuid(), now(), '{}')");
  await count('comings');
  expect(worked).toBe(1);
});

test('every table of the book marks its changes; those that do not are named', async () => {
  const { rows } = await yard.pool.query<{ name: string }>(
    `select table_name as name from information_schema.tables t where table_schema = 'public'
       and table_type = 'BASE TABLE' and not exists (select from information_schema.triggers
         where event_object_table = t.table_name and trigger_name = t.table_name || '_touches_book')
       order by 1`,
  );
  expect(rows.map((r) => r.name)).toEqual(
    [
      ...['session', 'sign_in_throttle', 'app_secret', 'second_factor', 'recovery_code', 'known_device'],
      ...['picture_upload', 'request_done', 'watched_hour', 'book_touch_cache', 'engine_touch_cache', 'audit'],
      // How a file's columns are meant is asked for when one is read.
      'file_match',
      // What a box sends counts once it is a reading.
      ...['gateway', 'gateway_heard', 'gateway_refusal'],
      // Nothing that is worked out says what goes by mail.
      ...['mail', 'message_choice', 'contact'],
      // Shown beside a step.
      'step_picture',
    ].sort(),
  );
});

test('many who ask while an old one is worked out wait for one more, not for one each', async () => {
  worked = 0;
  let go!: () => void;
  const slow = count('crowd', () => new Promise<void>((resolve) => (go = resolve)));
  while (worked === 0) await new Promise((r) => setTimeout(r, 5));
  await add('Stint');
  const after = Array.from({ length: 12 }, () => count('crowd'));
  await new Promise((r) => setTimeout(r, 100));
  go();
  await slow;
  // One more for all twelve, begun after they asked.
  expect(new Set(await Promise.all(after)).size).toBe(1);
  expect(worked).toBe(2);
});

test('whatever anybody writes, through any connection, the next one sees it', async () => {
  const before = (await count()).n;
  await add('Plover');
  expect((await count()).n).toBe(before + 1);
  await transaction(yard.db, async (tx) => {
    await tx.execute(`insert into boat (name, base_id) values ('Dunlin', ${yard.baseId})`);
    // Not committed yet: not there for others.
    expect((await count()).n).toBe(before + 1);
  });
  expect((await count()).n).toBe(before + 2);
});

test('written while it is being worked out: whoever asks after that gets no answer from before', async () => {
  const before = (await count()).n;
  await add('Knot');
  let wrote!: () => void;
  const writing = new Promise<void>((resolve) => {
    wrote = resolve;
  });
  const slow = count('boats', () => writing);
  await add('Ruff');
  const after = count();
  wrote();
  await slow;
  expect((await after).n).toBe(before + 2);
});

test('what failed is worked out anew', async () => {
  await add('Teal');
  await expect(count('boats', () => Promise.reject(new Error('the line was cut')))).rejects.toThrow('the line was cut');
  await expect(count()).resolves.toHaveProperty('n');
});
