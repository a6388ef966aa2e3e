import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import type { Comparison, Override, RulePreview, SchoolAnswer } from '@diurna/contract/rules';
import { FLEET_CSV, openYard, PARTS_CSV, type Client, type Yard } from '../test/yard.ts';

interface Row {
  engineId: number;
  boatId: number;
  boatName: string;
  position: string;
  baseId: number;
  because: string;
  rule: { everyHours: number | null; everyMonths: number | null; firstHours: number | null; counting: string };
  due: { task: string; state: string; hoursLeft: number | null; limitHours: number | null; limitDay: string | null };
}

let yard: Yard;
let ilse: Client;
const now = new Date('2026-04-15T10:00:00Z');
let ports: Record<string, Row> = {};
beforeAll(async () => {
  yard = await openYard(() => now);
  ilse = await yard.as('coordinator');
  await ilse.post('/exchange/fleet', FLEET_CSV);
  await ilse.post('/exchange/parts', PARTS_CSV);
  await ilse.post(
    '/exchange/hours',
    [
      'serial,read_on,count',
      ...['C60-40116', 'C60-40117'].flatMap((serial) => [
        `${serial},2025-04-10,100`,
        `${serial},2025-10-10,300`,
        `${serial},2026-04-10,430`,
      ]),
    ].join('\n'),
  );
  await ilse.post(
    '/exchange/service',
    [
      'serial,task,done_on,hours',
      ...['C60-40116', 'C60-40117'].flatMap((serial) =>
        ['engine-oil', 'oil-filter', 'gear-lube', 'spark-plugs', 'impeller'].map(
          (t) => `${serial},${t},2026-01-10,350`,
        ),
      ),
    ].join('\n'),
  );
  const { rows } = await ilse.get<{ rows: Row[] }>('/service/due?size=200&sort=boat');
  ports = Object.fromEntries(rows.map((r) => [`${r.boatName} ${r.position}`, r]));
});
afterAll(async () => {
  await yard.close();
});
beforeEach(async () => {
  await yard.pool.query('delete from school_choice; delete from rule_override');
});

const due = async (task: string, position = 'port') =>
  (await ilse.get<{ rows: Row[] }>(`/service/due?boatId=${ports['Turnstone port']!.boatId}&task=${task}`)).rows.find(
    (r) => r.position === position,
  )!;
const own = (more: object = {}) => ({
  scope: 'engine',
  scopeId: ports['Turnstone port']!.engineId,
  task: 'impeller',
  everyHours: 120,
  everyMonths: null,
  reason: 'works the sandbanks',
  ...more,
});

describe('schools', () => {
  test('stand as usual until answered; an answer moves due dates at once and is in the audit', async () => {
    expect((await ilse.get<SchoolAnswer[]>('/rules/schools')).find((s) => s.school === 'impeller')).toMatchObject({
      answer: '12 months or 200 h',
      at: null,
    });
    expect((await due('impeller')).due).toMatchObject({ limitHours: 550, limitDay: '2027-01-10' });
    await ilse.put('/rules/schools/impeller', {
      answer: '300 h',
      was: '12 months or 200 h',
      reason: 'as the yard has it',
    });
    expect(await due('impeller')).toMatchObject({
      due: { limitHours: 650, limitDay: null },
      because: expect.stringContaining('every 300 h, with the big service'),
    });
    expect((await ilse.get<SchoolAnswer[]>('/rules/schools')).find((s) => s.school === 'impeller')).toMatchObject({
      answer: '300 h',
      by: 'coordinator',
    });
    expect(
      (
        await (
          await yard.as('manager')
        ).get<{ rows: { subject: string; after: { answer: string } }[] }>('/records/audit')
      ).rows.find((r) => r.subject === 'rules'),
    ).toMatchObject({ after: { answer: 'Every 300 h, with the big service' } });
  });
  test('two people at once: the second is told', async () => {
    await ilse.put('/rules/schools/impeller', {
      answer: '300 h',
      was: '12 months or 200 h',
      reason: 'as the yard has it',
    });
    expect(
      await ilse.refused('put', '/rules/schools/impeller', {
        answer: '24 months',
        was: '12 months or 200 h',
        reason: 'as the yard has it',
      }),
    ).toMatchObject({ status: 409, detail: expect.stringContaining('every 300 h') });
    expect(
      (
        await ilse.refused('put', '/rules/schools/impeller', {
          answer: 'never',
          was: '300 h',
          reason: 'as the yard has it',
        })
      ).status,
    ).toBe(422);
  });
  test('the ladder counts in rungs', async () => {
    expect((await due('engine-oil')).due.limitHours).toBe(450);
    await ilse.put('/rules/schools/counting', { answer: 'ladder', was: 'rolling', reason: 'as the yard has it' });
    expect(await due('engine-oil')).toMatchObject({
      due: { limitHours: 400, state: 'over' },
      rule: { counting: 'ladder' },
    });
  });
  test('side by side: one engine under each answer', async () => {
    const table = await ilse.get<Comparison>(
      `/rules/compare?school=impeller&engineId=${ports['Turnstone port']!.engineId}`,
    );
    expect(table.map((c) => [c.answer, c.tasks[0]!.limitHours, c.tasks[0]!.limitDay])).toEqual([
      ['12 months or 200 h', 550, '2027-01-10'],
      ['24 months', null, '2028-01-10'],
      ['300 h', 650, null],
      ['by inspection', null, '2027-01-10'],
    ]);
  });
});

describe('overrides', () => {
  test('the engine’s own rule is stronger than its boat’s, and its twin keeps the fleet’s', async () => {
    await ilse.post(
      '/rules/overrides',
      own({ scope: 'boat', scopeId: ports['Turnstone port']!.boatId, everyHours: 150 }),
    );
    await ilse.post('/rules/overrides', own());
    expect(await due('impeller')).toMatchObject({
      due: { limitHours: 470 },
      because: 'Set for this engine by coordinator: works the sandbanks. The engine maker’s manual outranks it.',
    });
    expect((await due('impeller', 'starboard')).due.limitHours).toBe(500);
    expect((await ilse.get<Override[]>('/rules/overrides')).map((o) => o.scopeName).sort()).toEqual([
      'Turnstone',
      'Turnstone port',
    ]);
  });
  test('a second one takes the place of the first; ended, the fleet’s rule is back', async () => {
    await ilse.post('/rules/overrides', own());
    await ilse.post('/rules/overrides', own({ everyHours: 90 }));
    const [only, ...rest] = await ilse.get<Override[]>('/rules/overrides');
    expect(rest).toEqual([]);
    expect(only).toMatchObject({ everyHours: 90, reason: 'works the sandbanks', by: 'coordinator' });
    await ilse.post(`/rules/overrides/${only!.id}/end`, { version: only!.version });
    expect((await due('impeller')).due.limitHours).toBe(550);
    expect((await ilse.refused('post', `/rules/overrides/${only!.id}/end`, { version: only!.version })).status).toBe(
      409,
    );
  });
  test('of a whole base; without a reason or a limit it is refused', async () => {
    await ilse.post('/rules/overrides', own({ scope: 'base', scopeId: yard.baseId, everyHours: 100 }));
    expect((await due('impeller', 'starboard')).due.limitHours).toBe(450);
    expect((await ilse.refused('post', '/rules/overrides', own({ reason: '' }))).detail).toContain(
      'wants a few words why',
    );
    expect((await ilse.refused('post', '/rules/overrides', own({ everyHours: null }))).detail).toContain(
      'needs hours, months or both',
    );
    expect((await ilse.refused('post', '/rules/overrides', own({ scopeId: 99_999 }))).detail).toContain(
      'not in the fleet',
    );
    expect((await (await yard.as('technician')).refused('post', '/rules/overrides', own())).status).toBe(403);
  });
});

describe('a boat that works in sand', () => {
  test('has its pump due in half the hours, and says why', async () => {
    const { boatId } = ports['Turnstone port']!;
    const edit = async (sand: boolean) => {
      const { version } = await ilse.get<{ version: number }>(`/fleet/boats/${boatId}`);
      await ilse.put(`/fleet/boats/${boatId}`, { name: 'Turnstone', baseId: yard.baseId, berth: '14', sand, version });
    };
    await edit(true);
    expect(await due('impeller')).toMatchObject({
      due: { limitHours: 450 },
      because: expect.stringContaining('halved, because the boat works in sand and shallows'),
    });
    expect((await due('gear-lube')).due.limitHours).toBe(450);
    await edit(false);
    expect((await due('impeller')).due.limitHours).toBe(550);
  });
});

describe('before saving', () => {
  test('a change is worked out on the whole fleet, and nothing is written', async () => {
    const look = await ilse.post<RulePreview>('/rules/preview', { school: 'counting', answer: 'ladder' });
    // Oil, filter, lube and plugs of two engines were done at 350 h: due at 400 on the ladder, run to 430.
    expect(look).toMatchObject({ newlyOver: 8 });
    expect(look.moved).toBeGreaterThanOrEqual(8);
    expect(look.examples[0]).toMatchObject({
      boatName: 'Turnstone',
      before: { state: expect.stringMatching(/due|over|soon|fine/) },
      after: { state: 'over' },
    });
    expect((await due('engine-oil')).due.limitHours).toBe(450);
    expect(await ilse.get('/rules/overrides')).toEqual([]);
  });
  test('a year behind and ahead in services, minutes and parts', async () => {
    const look = await ilse.post<RulePreview>('/rules/preview', {
      override: own({ scope: 'base', scopeId: yard.baseId, task: 'gear-lube', everyHours: 50, everyMonths: null }),
    });
    // Some 320 h in the year behind, four times over: twelve services of each twin at 100 h, 25 at 50 h, in four years;
    // the other two engines once a year, by months alone, which the change takes away.
    expect([look.lastYear.before.services, look.lastYear.after.services]).toEqual([(2 * 12) / 4 + 2, (2 * 25) / 4]);
    expect(look.lastYear.after.minutes / look.lastYear.after.services).toBe(25);
    // Of the twins alone more come; the other two, once a year each, go.
    expect(look.comingYear.after.services).toBeGreaterThan(look.comingYear.before.services - 2);
    // 0.64 L of gear lube at 12.00 a litre.
    expect(look.lastYear.after.partsMinor / look.lastYear.after.services).toBeGreaterThan(500);
  });
  test('twice the interval is half the services, ahead and behind; why it was answered so is kept', async () => {
    const look = await ilse.post<RulePreview>('/rules/preview', { school: 'impeller', answer: '24 months' });
    const { before, after } = look.comingYear;
    // However much they ran, each of the four comes round every other year; of one nobody knows when it was done last.
    expect(look.engines).toBe(4);
    expect(look.lastYear.after.services).toBe(2);
    expect(after.services).toBe(1.5);
    expect(before.services).toBeGreaterThanOrEqual(3);
    expect(look.issued).toBe(0);
    expect(
      (await ilse.refused('put', '/rules/schools/impeller', { answer: '300 h', was: '12 months or 200 h' })).status,
    ).toBe(422);
  });
  test('a model’s programme is worked out too: another interval, a task taken out, season’s end', async () => {
    const model = (
      await ilse.get<
        { id: number; name: string; rules: { task: string; everyHours: number | null; everyMonths: number | null }[] }[]
      >('/fleet/models')
    ).find((m) => m.name === '60')!;
    const look = (rules: object[]) =>
      ilse.post<RulePreview>('/rules/preview', { programme: { modelId: model.id, rules } });
    expect(await look(model.rules)).toMatchObject({ engines: 0, moved: 0 });
    // Oil and filter at 70 h instead of 100: done at 350, run to 430.
    const shorter = await look(model.rules.map((r) => (r.task === 'engine-oil' ? { ...r, everyHours: 70 } : r)));
    expect(shorter).toMatchObject({ engines: 2, moved: 2, earlier: 2, newlyOver: 2 });
    const without = await look(model.rules.filter((r) => r.task !== 'impeller'));
    expect(without).toMatchObject({ engines: 2, later: 2, comingYear: { after: { services: 0 } } });
    expect((await look(model.rules.map((r) => (r.task === 'gear-lube' ? { ...r, seasonEnd: true } : r)))).engines).toBe(
      2,
    );
    expect((await due('engine-oil')).due.limitHours).toBe(450);
  });
  test('an answer that is in force already moves nothing', async () => {
    expect(await ilse.post('/rules/preview', { school: 'impeller', answer: '12 months or 200 h' })).toMatchObject({
      engines: 0,
      moved: 0,
      lastYear: { before: { services: 0 } },
    });
  });
});

describe('programmes of models', () => {
  test('figures that are changed are the yard’s own, and no question of school any more', async () => {
    const models =
      await ilse.get<
        {
          id: number;
          name: string;
          version: number;
          rules: { task: string; everyHours: number | null; everyMonths: number | null; basis: string }[];
        }[]
      >('/fleet/models');
    const model = models.find((m) => m.name === '60')!;
    expect(model.rules.every((r) => r.basis === 'usual')).toBe(true);
    const { id, ...rest } = model;
    const rules = model.rules.map((r) =>
      r.task === 'impeller' ? { ...r, everyHours: 150 } : r.task === 'gear-lube' ? { ...r, basis: 'maker' } : r,
    );
    await ilse.put(`/fleet/models/${id}`, { ...rest, rules });
    const after = (await ilse.get<typeof models>('/fleet/models')).find((m) => m.id === id)!;
    expect(Object.fromEntries(after.rules.map((r) => [r.task, r.basis]))).toMatchObject({
      impeller: 'own',
      'gear-lube': 'maker',
      'spark-plugs': 'usual',
    });
    const passing = {
      ...rest,
      version: rest.version + 1,
      rules: after.rules.map((r) => (r.task === 'gear-lube' ? { ...r, everyHours: 130 } : r)),
    };
    expect(await ilse.refused('put', `/fleet/models/${id}`, passing)).toMatchObject({
      status: 422,
      detail: expect.stringContaining('passes the maker’s limit for gear lube'),
    });
    await ilse.put(`/fleet/models/${id}`, { ...passing, reason: 'the dealer wrote so' });
    await ilse.put('/rules/schools/impeller', {
      answer: '300 h',
      was: '12 months or 200 h',
      reason: 'as the yard has it',
    });
    expect(await due('impeller')).toMatchObject({
      due: { limitHours: 500 },
      because: expect.stringContaining('yard’s own figure'),
    });
  });
  test('tolerances and shares for sand and salt are kept, left alone by other edits, and previewed', async () => {
    type Row = {
      id: number;
      name: string;
      version: number;
      rules: {
        task: string;
        everyHours: number | null;
        latePercent: number | null;
        saltPercent: number | null;
        basis: string;
      }[];
    };
    const read = async () => (await ilse.get<Row[]>('/fleet/models')).find((m) => m.name === '60')!;
    const { id, ...before } = await read();
    const rules = before.rules.map((r) => (r.task === 'spark-plugs' ? { ...r, latePercent: 20, saltPercent: 50 } : r));
    const look = await ilse.post<RulePreview>('/rules/preview', { programme: { modelId: id, rules } });
    expect(look.engines).toBe(2);
    await ilse.put(`/fleet/models/${id}`, { ...before, rules });
    const kept = await read();
    expect(kept.rules.find((r) => r.task === 'spark-plugs')).toMatchObject({ latePercent: 20, saltPercent: 50 });
    const { id: _, ...rest } = kept;
    await ilse.put(`/fleet/models/${id}`, {
      ...rest,
      rules: kept.rules.map(({ latePercent: _l, saltPercent: _s, ...r }) => r),
    });
    expect((await read()).rules.find((r) => r.task === 'spark-plugs')).toMatchObject({
      latePercent: 20,
      saltPercent: 50,
    });
    const wrong = { ...rest, version: rest.version + 1, rules: kept.rules.map((r) => ({ ...r, latePercent: 80 })) };
    expect(await ilse.refused('put', `/fleet/models/${id}`, wrong)).toMatchObject({
      status: 422,
      faults: expect.arrayContaining([
        expect.objectContaining({ text: expect.stringContaining('between 0 and 25 %') }),
      ]),
    });
  });
});
