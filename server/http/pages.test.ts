import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import request from 'supertest';
import { createApp } from '../app.ts';
import { openYard, type Yard } from '../test/yard.ts';

const webRoot = mkdtempSync(join(tmpdir(), 'diurna-web-'));
let yard: Yard;
let app: Awaited<ReturnType<typeof createApp>>;
beforeAll(async () => {
  mkdirSync(join(webRoot, 'assets'));
  writeFileSync(join(webRoot, 'index.html'), '<meta name="style-nonce" content="NONCE-OF-THE-PAGE" />');
  yard = await openYard();
  app = await createApp({
    pool: yard.pool,
    db: yard.db,
    version: 'test',
    clock: () => new Date('2026-04-15T10:00:00Z'),
    webRoot,
    hosts: ['Boats.Example'],
  });
});
afterAll(async () => {
  app.stop();
  await yard.close();
  rmSync(webRoot, { recursive: true });
});

describe('the page', () => {
  test('allows styles of its own nonce alone, another each time, at every address it is sent from', async () => {
    const nonces = new Set<string>();
    for (const path of ['/', '/index.html', '/due?view=list', '/fleet/boats/1']) {
      const reply = await request(app.app).get(path);
      const policy = String(reply.headers['content-security-policy']);
      const nonce = /content="([\w+/=]{20,})"/.exec(reply.text)?.[1] ?? 'none';
      expect(policy).toContain(`style-src 'self' 'nonce-${nonce}'`);
      expect(policy).not.toContain('unsafe-inline');
      nonces.add(nonce);
    }
    expect(nonces.size).toBe(4);
  });

  test('asks nothing of the device but the camera, for its own pages, says nothing of itself, and is in no frame', async () => {
    const { headers } = await request(app.app).get('/');
    expect(headers['permissions-policy']).toMatch(/camera=\(self\), microphone=\(\), geolocation=\(\)/);
    expect(headers['x-powered-by']).toBeUndefined();
    expect(headers['x-content-type-options']).toBe('nosniff');
    expect(headers['referrer-policy']).toBe('no-referrer');
    expect(headers['content-security-policy']).toContain("frame-ancestors 'none'");
  });
});

test('a name that somebody pointed at this machine is no way in; the names of the setting and its own are', async () => {
  const under = async (host: string) => (await request(app.app).get('/api/health').set('host', host)).status;
  for (const host of ['localhost:4150', '127.0.0.1', '[::1]:4150', 'boats.example', 'BOATS.example:443'])
    expect({ host, status: await under(host) }).toEqual({ host, status: 200 });
  for (const host of ['evil.example', 'boats.example.evil.example', 'localhost.evil.example', '10.0.0.1:4150'])
    expect({ host, status: await under(host) }).toEqual({ host, status: 421 });
});
