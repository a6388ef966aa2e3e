import { describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import Papa from 'papaparse';
import { COLUMNS } from '@diurna/contract/exchange';
import { questionEntry, type LifeReading } from '@diurna/core/usage';
import { createRequire } from 'node:module';
import { n2kEngineHours } from './engine-gateway.ts';
import { largeFleet } from './large-fleet.ts';
import { scenario } from './scenario.ts';

describe('the demo scenario', () => {
  test('the same day gives the same files; another day moves all dates with it', () => {
    expect(scenario('2026-05-14')).toEqual(scenario('2026-05-14'));
    const newest = (day: string) =>
      Papa.parse<{ read_on: string }>(scenario(day).hours, { header: true })
        .data.map((r) => r.read_on)
        .sort()
        .at(-1)!;
    expect(newest('2027-01-01') > newest('2026-05-14')).toBe(true);
    expect(newest('2027-01-01') <= '2027-01-01').toBe(true);
  });
  test.each(['fleet', 'hours', 'parts', 'service', 'hires'] as const)(
    '%s.csv has the columns the book needs, and the shipped example is the scenario',
    (kind) => {
      const text = scenario('2026-05-14')[kind];
      const parsed = Papa.parse(text, { header: true });
      expect(parsed.errors).toEqual([]);
      expect(parsed.meta.fields).toEqual(expect.arrayContaining([...COLUMNS[kind].required]));
      expect(readFileSync(join(import.meta.dirname, `files/${kind}.csv`), 'utf8').trim()).toBe(text.trim());
    },
  );
  test.each(['2026-05-14', '2028-02-29', '2026-12-31'])(
    'on %s no service has hours its meter could not show',
    (day) => {
      const files = scenario(day);
      const rows = (text: string) => Papa.parse<Record<string, string>>(text, { header: true }).data;
      const known = new Map<string, LifeReading[]>();
      const learn = (serial: string, r: LifeReading) => known.set(serial, [...(known.get(serial) ?? []), r]);
      for (const r of rows(files.hours)) learn(r.serial!, { day: r.read_on!, hours: Number(r.count) });
      const odd: string[] = [];
      for (const r of rows(files.service)) {
        if (r.hours === '') continue;
        const entry = { day: r.done_on!, hours: Number(r.hours) };
        const question = questionEntry(known.get(r.serial!) ?? [], entry);
        if (question) odd.push(`${r.serial} ${r.task} ${entry.day}: ${question.text}`);
        learn(r.serial!, entry);
      }
      expect(odd).toEqual([]);
    },
  );
  test('hours never fall, and never run faster than the clock', () => {
    const last = new Map<string, { day: string; hours: number }>();
    for (const r of Papa.parse<{ serial: string; read_on: string; count: string }>(scenario('2026-05-14').hours, {
      header: true,
    }).data) {
      const before = last.get(r.serial);
      const hours = Number(r.count);
      if (before) {
        expect(hours).toBeGreaterThanOrEqual(before.hours);
        expect(hours - before.hours).toBeLessThanOrEqual(
          ((Date.parse(r.read_on) - Date.parse(before.day)) / 86_400_000) * 24,
        );
      }
      last.set(r.serial, { day: r.read_on, hours });
    }
    expect(last.size).toBeGreaterThan(25);
  });
});

test('the large fleet has the size asked for, by its seed', () => {
  const size = { engines: 20, boats: 14, readings: 2000, entries: 400 };
  const fleet = largeFleet(1, '2026-06-01', size);
  expect([fleet.engines.length, fleet.boats.length, fleet.readings.engine.length, fleet.entries.engine.length]).toEqual(
    [20, 14, 2000, 400],
  );
  expect(largeFleet(1, '2026-06-01', size)).toEqual(fleet);
  expect(largeFleet(2, '2026-06-01', size)).not.toEqual(fleet);
});

test('the stand-in’s hours are those a general-purpose encoder writes (canboatjs, PGN 127489)', () => {
  const { pgnToActisenseSerialFormat } = createRequire(import.meta.url)('@canboat/canboatjs') as {
    pgnToActisenseSerialFormat: (pgn: object) => string;
  };
  for (const [instance, seconds] of [
    [0, 4_444_200],
    [1, 0],
    [0, 359_999_640],
  ] as const) {
    const theirs = pgnToActisenseSerialFormat({
      pgn: 127489,
      src: instance + 1,
      dst: 255,
      prio: 2,
      fields: { instance, totalEngineHours: seconds },
    });
    expect(n2kEngineHours(new Date('2026-04-15T10:00:00Z'), instance, seconds).split(',').slice(1)).toEqual(
      theirs.split(',').slice(1),
    );
  }
});
