import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import Papa from 'papaparse';
import type { Base, Model } from '@diurna/contract/fleet';
import type { JobCard } from '@diurna/contract/jobs';
import type { DueRow } from '@diurna/contract/service';
import { openTwinYard } from '../test/yard.ts';
import { ALL_THE_SAME } from '../test/cards.ts';

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

describe('engines of a model that are built otherwise', () => {
  interface Read {
    version: number;
    modelId: number;
    [field: string]: unknown;
  }
  const model = async () => (await own.ilse.get<Model[]>('/fleet/models')).find((m) => m.name === '60')!;
  const edit = ({ id, engines: _, ...m }: Model, variants: unknown) => ({
    path: `/fleet/models/${id}`,
    body: { ...m, variants },
  });

  test('their cards and their parts follow serial and transom; the twin stays as the model is', async () => {
    // Makers change an engine at a serial number, and by its transom: common practice, no source.
    const { path, body } = edit(await model(), [
      { from: 'C60-40117', to: null, transom: null, traits: { gearScrews: 3 } },
      { from: null, to: null, transom: 'extra long', traits: { speedTube: true } },
    ]);
    await own.ilse.put(path, body);
    await own.ilse.post(
      '/exchange/parts',
      [
        'part,name,kind,unit,model,task,quantity,transom',
        'G1,Gasket,gasket,each,Corvane 60,gear-lube,2,',
        'LONG,Long leg’s lube,gear lube,mL,Corvane 60,gear-lube,,extra long',
      ].join('\n'),
    );
    const engine = await own.ilse.get<Read>(`/fleet/engines/${own.starboard}`);
    expect(engine.transom).toBeNull();
    const { boatId, position, serial, inServiceOn, boughtNew, modelId, version } = engine;
    await own.ilse.put(`/fleet/engines/${own.starboard}`, {
      boatId,
      position,
      serial,
      inServiceOn,
      boughtNew,
      modelId,
      version,
      transom: 'extra long',
    });
    const { id } = await own.ilse.post<{ id: number }>('/jobs', {
      insist: ALL_THE_SAME,
      boatId: own.boatId,
      technicianId: own.yard.people.technician,
      day: '2026-04-15',
      tasks: [own.port, own.starboard].map((engineId) => ({ engineId, task: 'gear-lube' })),
    });
    const card = await own.ilse.get<JobCard>(`/jobs/${id}`);
    const closes = card.steps.filter((t) => t.step.text.startsWith('Pump again')).map((t) => t.step.id);
    expect(closes.sort()).toEqual([`${own.port} gear-lube/close`, `${own.starboard} gear-lube/close-three`]);
    expect(card.engines.find((e) => e.id === own.starboard)!.traits).toMatchObject({ gearScrews: 3, speedTube: true });
    // Two gaskets for the model's own, three for the later serial; its lube only for the high transom.
    const of = (number: string) => card.parts.find((p) => p.number === number);
    expect(of('G1')!.quantity).toBe(5);
    expect(of('LONG')!.tasks.map((t) => t.engineId)).toEqual([own.starboard]);
    // In and out again, the file says the same.
    const file = (await own.ilse.raw('get', '/exchange/parts')).text;
    const rows = Papa.parse<Record<string, string>>(file, { header: true }).data;
    expect(rows.find((row) => row.part === 'LONG')).toMatchObject({ transom: 'extra long' });
  });
  test('without a serial and a transom it would be the model itself; an edit that does not speak of them keeps them', async () => {
    const { path, body } = edit(await model(), [{ from: null, to: null, transom: null, traits: { gearScrews: 3 } }]);
    expect((await own.ilse.refused('put', path, body)).faults).toEqual([
      { path: 'variants.0.from', text: 'from needs a serial or a transom: else it is the model itself' },
    ]);
    const { variants: _, ...silent } = body as typeof body & { variants: unknown };
    await own.ilse.put(path, silent);
    expect((await model()).variants).toHaveLength(2);
  });
});
