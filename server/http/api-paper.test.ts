import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import request from 'supertest';
import { openYard, type Yard } from '../test/yard.ts';

/** Every example of docs/api.md, in the order of the paper. */
interface Example {
  method: 'get' | 'post' | 'put';
  path: string;
  how: string;
  body: string;
  status: number;
  type: string | undefined;
}
const paper = readFileSync(join(import.meta.dirname, '../../docs/api.md'), 'utf8');
const examples = [...paper.matchAll(/```http\n(GET|POST|PUT) (\S+)([^\n]*)\n([\s\S]*?)=> (\d+)(?: (\S+))?\n```/g)].map(
  ([, method, path, how, body, status, type]): Example => ({
    method: method!.toLowerCase() as Example['method'],
    path: path!,
    how: how!.trim(),
    body: body!.trim(),
    status: Number(status),
    type,
  }),
);

let yard: Yard;
beforeAll(async () => {
  yard = await openYard(() => new Date('2026-04-15T10:00:00Z'));
  await yard.pool.query("update person set username = 'ada' where role = 'administrator'");
});
afterAll(() => yard.close());

test('the paper has the examples this test runs', () => {
  expect(examples.length).toBeGreaterThanOrEqual(10);
});

test('every example answers as the paper says', async () => {
  const agent = request.agent(yard.app);
  const stranger = request(yard.app);
  let token = '';
  let key = '';
  for (const e of examples) {
    const box = e.how.includes('key');
    const asked = (box ? stranger : agent)[e.method](e.path);
    if (box) void asked.set('authorization', `Bearer ${e.how.includes('wrong') ? 'nobody' : key}`);
    else if (!e.how.includes('without token')) void asked.set('x-diurna-token', token);
    const reply = await (e.body === '' ? asked : asked.send(JSON.parse(e.body) as object));
    expect({ example: `${e.method} ${e.path} ${e.how}`, status: reply.status, said: reply.text.slice(0, 200) }).toEqual(
      { example: `${e.method} ${e.path} ${e.how}`, status: e.status, said: expect.any(String) },
    );
    if (e.type) expect(reply.headers['content-type']).toContain(e.type);
    expect(reply.headers['x-diurna-now']).toBe('2026-04-15T10:00:00.000Z');
    const body = reply.body as { csrfToken?: string; key?: string };
    token = body.csrfToken ?? token;
    key = body.key ?? key;
  }
});
