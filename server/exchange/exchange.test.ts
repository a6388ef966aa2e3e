import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { ImportResult } from '@diurna/contract/exchange';
import Papa from 'papaparse';
import { FLEET_CSV, openYard, PARTS_CSV, type Client, type Yard } from '../test/yard.ts';
import { csvText } from './csv.ts';

let yard: Yard;
let ilse: Client;
beforeAll(async () => {
  yard = await openYard(() => new Date('2026-04-15T10:00:00Z'));
  ilse = await yard.as('coordinator');
});
afterAll(async () => {
  await yard.close();
});

const count = async (table: string) =>
  Number((await yard.pool.query<{ n: string }>(`select count(*) as n from ${table}`)).rows[0]!.n);
const HOURS =
  'serial,read_on,count\nC60-40116,2026-04-01,400.5\nC60-40116,2026-04-08,409\nC60-40117,2026-04-08,"408,2"\nT50-1,2026-04-01,90\n';
const SERVICE =
  'serial,task,done_on,hours,done_by\nC60-40116,engine-oil,2026-01-10,302,Ines\nC60-40116,Oil filter,2026-01-10,302,Ines\nT50-1,gear-lube,2025-11-01,,\n';

describe('reading files in', () => {
  test('a look first: nothing is written', async () => {
    const seen = await ilse.post<ImportResult>('/exchange/fleet/preview', FLEET_CSV);
    expect(seen).toMatchObject({ written: false, counts: { add: 4, change: 0, same: 0, faulty: 0 } });
    expect(await count('engine')).toBe(0);
  });

  test.each([
    ['fleet', FLEET_CSV, 4],
    ['hours', HOURS, 4],
    ['parts', PARTS_CSV, 4],
    ['service', SERVICE, 3],
  ] as const)('%s: reads in, and repeating changes nothing', async (kind, csv, n) => {
    expect(await ilse.post<ImportResult>(`/exchange/${kind}`, csv)).toMatchObject({
      written: true,
      counts: { add: n, faulty: 0 },
    });
    const tables = ['engine', 'boat', 'engine_model', 'reading', 'part', 'fitment', 'stock_movement', 'service_entry'];
    const before = await Promise.all(tables.map(count));
    expect(await ilse.post<ImportResult>(`/exchange/${kind}`, csv)).toMatchObject({
      counts: { add: 0, change: 0, same: n, faulty: 0 },
    });
    expect(await Promise.all(tables.map(count))).toEqual(before);
  });

  test('new models start with the usual programme, two-strokes without engine oil', async () => {
    const models = await ilse.get<{ name: string; rules: { task: string; everyHours: number }[] }[]>('/fleet/models');
    expect(models.find((m) => m.name === '60')!.rules).toHaveLength(14);
    expect(models.find((m) => m.name === '50')!.rules.map((r) => r.task)).toEqual([
      'fuel-filter',
      'separator',
      'gear-lube',
      'spark-plugs',
      'impeller',
      'thermostat',
      'anodes',
      'grease',
      'prop-shaft',
      'compression',
      'look-over',
      'battery-check',
    ]);
  });

  test('a semicolon file with a byte order mark and columns in another order is read too', async () => {
    const csv = `\uFEFFcount;note;read_on;serial\r\n"411,3";x;2026-04-14;c60-40116\r\n`;
    const seen = await ilse.post<ImportResult>('/exchange/hours/preview', csv);
    expect(seen).toMatchObject({ ignored: ['note'], counts: { add: 1, faulty: 0 } });
  });

  test('a counted shelf books the difference only', async () => {
    const csv = PARTS_CSV.replace('9000', '8500');
    expect(await ilse.post<ImportResult>('/exchange/parts', csv)).toMatchObject({ counts: { change: 1, same: 3 } });
    const { rows } = await yard.pool.query<{ quantity: string }>(
      "select quantity from stock_movement m join part p on p.id = m.part_id where p.number = 'OIL' order by m.id",
    );
    expect(rows.map((r) => Number(r.quantity))).toEqual([9000, -500]);
  });
});

describe('faulty files end in clear words and an untouched book', () => {
  const faults = async (kind: string, csv: string) => {
    const seen = await ilse.post<ImportResult>(`/exchange/${kind}/preview`, csv);
    const refused = await ilse.refused('post', `/exchange/${kind}`, csv);
    expect(refused.status).toBe(422);
    return seen.rows.flatMap((r) => r.faults.map((f) => `${r.line} ${f.column}: ${f.text}`));
  };

  test('fleet: each faulty cell is marked, all or nothing', async () => {
    const before = await count('engine');
    const found = await faults(
      'fleet',
      [
        'base,boat,position,maker,model,serial,power_hp,stroke,cylinders,sump_volume,sump_unit,bought_new,in_service_on',
        'North Quay,Godwit,single,Corvane,60,C60-9,,,,,,,',
        'Elsewhere,Ruff,single,Newmake,10,N1,ten,3,2,1.2,,yes,',
        'North Quay,Ruff,aft,Corvane,60,C60-9,,,,,,no,2026-02-30',
        'North Quay,Turnstone,port,Corvane,60,C60-77,,,,,,,',
      ].join('\n'),
    );
    expect(found).toEqual(
      expect.arrayContaining([
        '3 time_zone: Elsewhere is new to the book and needs a time zone, like Atlantic/Azores',
        '3 power_hp: "ten" is no number; write figures only, like 412.6',
        '3 stroke: "3" is none of: 2, 4',
        '3 sump_unit: needs the unit printed beside the volume: L or US qt',
        '3 in_service_on: an engine bought new needs the day it went into service',
        '4 position: "aft" is none of: single, port, centre, starboard, kicker',
        '4 serial: stands in line 2 already',
        '4 base: line 3 has Ruff at another base',
        '4 in_service_on: "2026-02-30" is no day; write it as 2026-04-15',
        '5 position: engine C60-40116 hangs there; move or retire it first',
      ]),
    );
    expect(await count('engine')).toBe(before);
    expect(await count('boat')).toBe(2);
  });

  test('days of spreadsheets: the file’s own days tell their order, and what was read stands beside the cell', async () => {
    const csv = 'serial,read_on,count\nC60-40116,10/4/2026,410\nC60-40116,13/4/2026,412\nC60-40117,46126,415\n';
    const seen = await ilse.post<ImportResult>('/exchange/hours/preview', csv);
    expect(seen).toMatchObject({
      counts: { add: 3, faulty: 0 },
      days: { order: 'day-first', sure: true, example: '10/4/2026' },
    });
    expect(seen.rows.map((r) => r.read)).toEqual([
      { read_on: '2026-04-10' },
      { read_on: '2026-04-13' },
      { read_on: '2026-04-14' },
    ]);
    const other = await ilse.post<ImportResult>('/exchange/hours/preview?days=month-first', csv);
    expect(other.rows.flatMap((r) => r.faults.map((f) => f.text))).toEqual([
      '2026-10-04 is still to come',
      '"13/4/2026" is no day with the month first; write it as 2026-04-15',
    ]);
  });

  test('where no day tells the order, nothing is written until somebody says it', async () => {
    const csv = 'boat,out,back\nTurnstone,3/4/2027 9:00,3/4/2027 17:30\n';
    const before = await count('hire');
    await expect(ilse.post('/exchange/hires', csv)).rejects.toThrow(
      /Nothing in the file tells whether 3\/4\/2027 9:00 has the day or the month first\. Nothing was written/,
    );
    expect(await count('hire')).toBe(before);
    await ilse.post('/exchange/hires?days=month-first', csv);
    const { rows } = await yard.pool.query<{ day: string }>(
      `select to_char(out_at at time zone b.time_zone, 'YYYY-MM-DD HH24:MI') as day from hire h
       join boat on boat.id = h.boat_id join base b on b.id = boat.base_id where out_at > '2027-01-01'`,
    );
    expect(rows).toEqual([{ day: '2027-03-04 09:00' }]);
  });

  test('hours: negative, future, unknown serial, meterless, off habit', async () => {
    expect(
      await faults(
        'hours',
        'serial,read_on,count,reason\nC60-40116,2026-04-10,-3,\nC60-40116,2026-04-16,420,\nX,2026-04-10,1,\nLU6-7,2026-04-10,1,\nC60-40117,2026-04-09,500,\nT50-1,2026-04-02,1e3,\n',
      ),
    ).toEqual([
      '2 count: -3 is below 0',
      '3 read_on: 2026-04-16 is still to come',
      '4 serial: no engine "X" in the book; read the fleet file in first',
      '5 serial: this engine has no meter; fit one on its page first',
      '6 count: +91.8 h in 1 day is more than 24 h a day. A figure too many? If it is right, say why in a column "reason".',
      '7 count: "1e3" is no number; write figures only, like 412.6',
    ]);
  });

  test('a file of 100,000 faulty rows ends in one sentence, the worst rows, and an untouched book', async () => {
    const rows = Array.from(
      { length: 100_000 },
      (_, i) => `C60-40116,${i % 2 === 0 ? '2031-01-01' : '2026-04-01'},${i % 2 === 0 ? 500 : -3}`,
    );
    const before = (await ilse.get<{ total: number }>('/usage/hours?size=1')).total;
    const refused = await ilse.refused('post', '/exchange/hours', ['serial,read_on,count', ...rows].join('\n'));
    expect(refused).toMatchObject({
      status: 422,
      detail: expect.stringContaining('100000 of 100000 rows cannot be read. Nothing was written'),
    });
    expect(refused.faults!.length).toBeLessThanOrEqual(100);
    expect((await ilse.get<{ total: number }>('/usage/hours?size=1')).total).toBe(before);
    expect(
      (await ilse.refused('post', '/exchange/hours', `serial,read_on,count\n${'x,2026-01-01,1\n'.repeat(200_001)}`))
        .detail,
    ).toContain('200000 at most');
  });
  test('a questioned figure with its reason is taken and stays marked', async () => {
    await ilse.post(
      '/exchange/hours',
      'serial,read_on,count,reason\nT50-1,2026-04-02,300,meter was replaced by the yard before us\n',
    );
    const { rows } = await yard.pool.query('select doubt, reason from reading where doubt is not null');
    expect(rows).toEqual([{ doubt: 'faster than the clock', reason: 'meter was replaced by the yard before us' }]);
  });

  test.each([
    ['', 'The file is empty'],
    ['serial,count\nA,1', 'lacks the column read_on'],
    ['serial,read_on,count,count\nA,2026-01-01,1,1', 'count stands in the first line twice'],
    ['serial,read_on,count\n"A,2026-01-01,1', 'quotation mark is opened and never closed'],
    ['serial,read_on,count\n\uFFFD\uFFFD,2026-01-01,1', 'not UTF-8'],
  ])('%p is refused: %s', async (csv, sentence) => {
    const problem = await ilse.refused('post', '/exchange/hours', csv === '' ? ' ' : csv);
    expect(problem.detail).toContain(sentence);
  });
});

describe('writing files out', () => {
  test.each(['fleet', 'hours', 'parts', 'service'])(
    '%s: what is written out reads in as the same, by RFC 4180',
    async (kind) => {
      const reply = await ilse.raw('get', `/exchange/${kind}`);
      expect(reply.headers['content-type']).toContain('text/csv');
      expect(reply.text.endsWith('\r\n')).toBe(true);
      const parsed = Papa.parse(reply.text, { header: true, skipEmptyLines: true });
      expect(parsed.errors).toEqual([]);
      expect(await ilse.post<ImportResult>(`/exchange/${kind}/preview`, reply.text)).toMatchObject({
        counts: { add: 0, change: 0, same: parsed.data.length, faulty: 0 },
      });
    },
  );

  // The forms of OWASP's "CSV Injection", and numbers that are none of them.
  test.each([
    ['=1+1', true],
    ['+1|x', true],
    ['-2+3|cmd', true],
    ['-1-1', true],
    ['@SUM(A1)', true],
    ['\t=1', true],
    ['\r=1', true],
    ['＝1', true],
    ['-', true],
    ['-2', false],
    ['-2.5', false],
    ['-2,5', false],
    ['2-3', false],
    ['Plover', false],
  ])('%j is guarded: %p', (cell, guarded) => {
    const [[out]] = Papa.parse<string[]>(csvText([[cell]])).data as [[string]];
    expect(out).toBe(guarded ? `'${cell}` : cell);
    expect(csvText([[-2.5]])).toBe('-2.5\r\n');
  });

  test('a name that begins like a formula goes out guarded and comes back as it was', async () => {
    await ilse.post('/fleet/boats', { name: '=Cmd()', baseId: yard.baseId, berth: null });
    const boat = (await ilse.get<{ rows: { id: number; name: string }[] }>('/fleet/boats?q=Cmd')).rows[0]!;
    const models = await ilse.get<{ id: number; name: string }[]>('/fleet/models');
    await ilse.post('/fleet/engines', {
      serial: 'Z1',
      modelId: models.find((m) => m.name === '60')!.id,
      boatId: boat.id,
      position: 'single',
      inServiceOn: null,
      boughtNew: false,
      meter: null,
    });
    const out = (await ilse.raw('get', '/exchange/fleet')).text;
    expect(out).toContain("'=Cmd()");
    expect(await ilse.post<ImportResult>('/exchange/fleet/preview', out)).toMatchObject({
      counts: { faulty: 0, add: 0 },
    });
  });
});
