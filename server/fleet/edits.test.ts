import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Base } from '@diurna/contract/fleet';
import type { DueRow } from '@diurna/contract/service';
import { openTwinYard } from '../test/yard.ts';

let own: Awaited<ReturnType<typeof openTwinYard>>;
beforeAll(async () => {
  own = await openTwinYard(() => new Date('2026-04-15T10:00:00Z'));
});
afterAll(() => own.yard.close());

describe('a base', () => {
  const read = async () => (await own.ilse.get<Base[]>('/fleet/bases'))[0]!;
  test('is edited; an older version is refused; its day follows its time zone', async () => {
    const admin = await own.yard.as('administrator');
    const { id, version, today, ...before } = await read();
    expect(today).toBe('2026-04-15');
    const moved = { ...before, name: 'North Quay', timeZone: 'Pacific/Kiritimati', workdays: [1, 2, 3], version };
    await admin.put(`/fleet/bases/${id}`, moved);
    expect(await read()).toMatchObject({ timeZone: 'Pacific/Kiritimati', workdays: [1, 2, 3], today: '2026-04-16' });
    const refused = await admin.refused('put', `/fleet/bases/${id}`, moved);
    expect(refused.status).toBe(409);
    expect((await own.ines.raw('put', `/fleet/bases/${id}`, moved)).status).toBe(403);
    await admin.put(`/fleet/bases/${id}`, { ...moved, timeZone: before.timeZone, version: version + 1 });
  });
});

describe('an engine', () => {
  const due = async () => (await own.ilse.get<{ rows: DueRow[] }>('/service/due?size=200')).rows.map((r) => r.engineId);
  test('retired, nothing falls due on it and its place is free; taken back, all of it is there again', async () => {
    expect(await due()).toContain(own.port);
    const { version } = await own.ilse.get<{ version: number }>(`/fleet/engines/${own.port}`);
    await own.ilse.post(`/fleet/engines/${own.port}/retire`, { version, retired: true });
    expect(await due()).not.toContain(own.port);
    expect((await own.ilse.raw('post', `/fleet/engines/${own.port}/retire`, { version, retired: true })).status).toBe(
      409,
    );
    await own.ilse.post(`/fleet/engines/${own.port}/retire`, { version: version + 1, retired: false });
    expect(await due()).toContain(own.port);
  });
});
