import { describe, expect, test } from '@jest/globals';
import { namedServices, serviceOf, usualProgramme, workName, worksText, type TaskKind } from './index.ts';

const big = { powerHp: 150, stroke: 4 as const, cylinders: 4 };
const limits = (task: TaskKind, everyHours: number | null, everyMonths: number | null = null) => ({
  task,
  everyHours,
  everyMonths,
});

describe('named services (lists of 100, 200 and 300 h are common practice, no source)', () => {
  const services = namedServices(usualProgramme(big));
  const of = (key: string) => services.find((s) => s.key === key)!.tasks;
  test('a usual programme makes the services of 100, 200 and 300 h and the yearly one', () => {
    expect(services.map((s) => s.key)).toEqual(['100 h', '200 h', '300 h', 'yearly']);
    expect(of('100 h')).toEqual(
      expect.arrayContaining(['engine-oil', 'oil-filter', 'fuel-filter', 'separator', 'gear-lube', 'spark-plugs']),
    );
    expect(of('100 h')).not.toContain('impeller');
    expect(of('200 h')).toContain('impeller');
    expect(of('200 h')).not.toContain('thermostat');
    expect(of('300 h')).toContain('thermostat');
  });
  test('a level between two changes is no part of a service with an oil change', () => {
    for (const s of services) expect(s.tasks).not.toContain('oil-level');
  });
  test('the 300 h one of a ladder adds plugs, pump and thermostat', () => {
    const ladder = namedServices([
      ...(['engine-oil', 'oil-filter', 'gear-lube'] as const).map((t) => limits(t, 100, 12)),
      ...(['spark-plugs', 'impeller', 'thermostat'] as const).map((t) => limits(t, 300)),
    ]);
    expect(ladder.find((s) => s.key === '300 h')!.tasks).toHaveLength(6);
    expect(ladder.find((s) => s.key === '200 h')!.tasks).toHaveLength(3);
  });
  test('a limit between two rungs is served by the rung before it, never by the one after', () => {
    const odd = namedServices([
      limits('engine-oil', 100),
      limits('gear-lube', 100),
      limits('thermostat', 250),
      limits('impeller', 300),
    ]);
    expect(odd.find((s) => s.key === '200 h')!.tasks).toContain('thermostat');
    expect(odd.find((s) => s.key === '300 h')!.tasks).not.toContain('thermostat');
  });
  test('the first service is that of a new engine, and a programme by the calendar has the yearly one alone', () => {
    const first = namedServices(
      usualProgramme(big).map((r) => (/oil/.test(r.task) && r.everyHours === 100 ? { ...r, firstHours: 20 } : r)),
    );
    expect(first[0]).toMatchObject({ word: 'first service, at 20 h', tasks: ['engine-oil', 'oil-filter'] });
    expect(namedServices([limits('engine-oil', null, 12), limits('gear-lube', null, 12)]).map((s) => s.key)).toEqual([
      'yearly',
    ]);
    expect(namedServices([limits('engine-oil', 100)])).toEqual([]);
  });
  test('work goes by the largest service that is whole in it', () => {
    expect(serviceOf(of('300 h'), services)!.key).toBe('300 h');
    expect(serviceOf(of('100 h').slice(1), services)).toBeNull();
    expect(workName(of('100 h'), services)).toBe('100 h service');
    expect(workName([...of('100 h'), 'compression'], services)).toBe('100 h service, compression');
    expect(workName(['gear-lube', 'anodes'], services)).toBe('Gear lube, anodes');
  });
  test('engines of a boat that get the same are named together', () => {
    const at = (position: 'port' | 'starboard' | 'kicker' | 'single', word: string) => ({
      engineId: 1,
      position,
      word,
    });
    expect(worksText([at('port', '100 h service'), at('starboard', '100 h service'), at('kicker', 'Anodes')])).toBe(
      'port + starboard: 100 h service; kicker: Anodes',
    );
    expect(worksText([at('single', '100 h service')])).toBe('100 h service');
  });
});
