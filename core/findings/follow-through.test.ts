import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  followUpDue,
  nextReturn,
  openFollowUps,
  type FollowUp,
  type ServiceDone,
  type TaskKind,
} from '../service/index.ts';
import { causesOf, checksMissing, releaseFault, SYMPTOM_KEYS, visitFor, wasteOf, type SnagEvidence } from './index.ts';

describe('holds', () => {
  const hold = { engineId: 1, at: 100, checks: ['gear-seals', 'gear-lube'] as TaskKind[] };
  test('released only when every check is in the log after it was put on', () => {
    expect(checksMissing(hold, [])).toEqual(['gear-seals', 'gear-lube']);
    expect(
      checksMissing(hold, [
        { task: 'gear-seals', at: 90 },
        { task: 'gear-lube', at: 95 },
      ]),
    ).toEqual(['gear-seals', 'gear-lube']);
    expect(checksMissing(hold, [{ task: 'gear-seals', at: 110 }])).toEqual(['gear-lube']);
    expect(releaseFault(hold, [{ task: 'gear-seals', at: 110 }])).toBe(
      'Not before this is done and in the log: gear lube.',
    );
    expect(
      releaseFault(hold, [
        { task: 'gear-seals', at: 110 },
        { task: 'gear-lube', at: 120 },
      ]),
    ).toBeNull();
  });
  test('lube filled in before the seals were done is not the lube wanted after them', () => {
    expect(
      checksMissing(hold, [
        { task: 'gear-lube', at: 105 },
        { task: 'gear-seals', at: 110 },
      ]),
    ).toEqual(['gear-lube']);
  });
  test('both on one card are written down at the same moment', () => {
    expect(
      checksMissing(hold, [
        { task: 'gear-lube', at: 110 },
        { task: 'gear-seals', at: 110 },
      ]),
    ).toEqual([]);
  });
  test('a hold without checks is a person’s word alone', () => {
    expect(releaseFault({ ...hold, checks: [] }, [])).toBeNull();
  });
});

describe('work asked for', () => {
  const asked = (id: number, task: TaskKind, afterId: number | null = null, at = 100): FollowUp => ({
    id,
    task,
    afterId,
    at,
    dueOn: '2026-04-15',
    why: 'seen',
  });
  const done = (id: number, task: TaskKind, at: number): ServiceDone => ({ id, task, at });
  const chain = [asked(1, 'engine-oil'), asked(2, 'fuel-repair', 1), asked(3, 'engine-oil', 2)];
  const state = (log: ServiceDone[]) => openFollowUps(chain, log).map((o) => [o.followUp.id, o.waitsFor?.id ?? null]);
  test('fuel in the oil: change now, mend, change again; the first change is not the one after the repair', () => {
    expect(state([])).toEqual([
      [1, null],
      [2, 1],
      [3, 2],
    ]);
    expect(state([done(1, 'engine-oil', 110)])).toEqual([
      [2, null],
      [3, 2],
    ]);
    expect(state([done(1, 'engine-oil', 110), done(2, 'engine-oil', 120)])).toEqual([
      [2, null],
      [3, 2],
    ]);
    expect(state([done(1, 'engine-oil', 110), done(2, 'fuel-repair', 120)])).toEqual([[3, null]]);
    expect(state([done(1, 'engine-oil', 110), done(2, 'fuel-repair', 120), done(3, 'engine-oil', 130)])).toEqual([]);
  });
  test('what was done before it was asked for does not count', () => {
    expect(state([done(1, 'engine-oil', 90)])[0]).toEqual([1, null]);
  });
  test('two alike want two services', () => {
    expect(
      openFollowUps([asked(1, 'tank-check'), asked(2, 'tank-check')], [done(1, 'tank-check', 120)]).map(
        (o) => o.followUp.id,
      ),
    ).toEqual([2]);
  });
  test('more services never leave more to be done', () => {
    const kinds: TaskKind[] = ['engine-oil', 'fuel-repair', 'gear-lube'];
    fc.assert(
      fc.property(
        fc.array(fc.record({ task: fc.constantFrom(...kinds), at: fc.integer({ min: 90, max: 200 }) }), {
          maxLength: 8,
        }),
        fc.nat(8),
        (log, cut) => {
          const all = log.sort((a, b) => a.at - b.at).map((d, i) => ({ id: i, ...d }));
          expect(openFollowUps(chain, all).length).toBeLessThanOrEqual(openFollowUps(chain, all.slice(0, cut)).length);
        },
      ),
    );
  });
  test('due by its day; with none known it is soon, whenever the boat comes back', () => {
    expect(followUpDue('fuel-repair', '2026-04-15', null, 20_558)).toMatchObject({
      state: 'due',
      daysLeft: 0,
      share: 1,
    });
    expect(followUpDue('fuel-repair', '2026-04-10', null, 20_558).state).toBe('over');
    expect(followUpDue('gear-lube', '2026-05-13', null, 20_558).state).toBe('soon');
    expect(followUpDue('first-outing', null, null, 20_558)).toMatchObject({ state: 'soon', limitDay: null });
  });
  test('the next return is that of the first hire that begins afterwards', () => {
    const hires = [
      { out: 50, back: 90 },
      { out: 300, back: 400 },
      { out: 150, back: 210 },
    ];
    expect(nextReturn(hires, 100)).toBe(210);
    expect(nextReturn(hires, 301)).toBeNull();
    // One that is out already was not serviced before it left.
    expect(nextReturn([{ out: 50, back: 150 }], 100)).toBeNull();
  });
});

// Common practice, no source.
describe('snags', () => {
  const plain: SnagEvidence = { stroke: 4, sand: false, used: {}, looks: {}, compression: null, openedLately: null };
  const used = (share: number | null) => ({ share, text: `used ${share ?? 'unknown'}` });
  test('mid-range heat, a weak stream: the pump first; more so the older it is', () => {
    for (const symptom of ['mid-range heat', 'weak stream'] as const) {
      const fresh = causesOf(symptom, { ...plain, used: { impeller: used(0.05) } });
      const old = causesOf(symptom, { ...plain, used: { impeller: used(1.2) } });
      expect(old[0]!.key).toBe('pump');
      expect(old[0]!.evidence).toEqual(['used 1.2']);
      expect(old.find((c) => c.key === 'pump')!.weight).toBeGreaterThan(fresh.find((c) => c.key === 'pump')!.weight);
    }
  });
  test('a fresh pump whose last wheel lost a vane: the passages move up', () => {
    const lost = causesOf('weak stream', {
      ...plain,
      used: { impeller: used(0.02) },
      looks: { 'impeller look': { choice: 'missing', text: 'a piece was missing' } },
    });
    const plainly = causesOf('weak stream', { ...plain, used: { impeller: used(0.02) } });
    expect(lost.find((c) => c.key === 'passages')!.evidence).toEqual(['a piece was missing']);
    expect(lost.find((c) => c.key === 'passages')!.weight).toBeGreaterThanOrEqual(
      plainly.find((c) => c.key === 'passages')!.weight,
    );
  });
  test('rough idle with a weak cylinder: compression first', () => {
    expect(
      causesOf('rough idle', {
        ...plain,
        used: { 'spark-plugs': used(0.1), 'fuel-filter': used(0.1) },
        compression: { spread: 0.22, text: '22 % apart' },
      })[0]!.key,
    ).toBe('compression');
    expect(causesOf('rough idle', plain)[0]!.key).toBe('plugs');
  });
  test('a sheen after work: what was opened; a two-stroke has no sump to look at', () => {
    expect(causesOf('sheen', { ...plain, openedLately: 'oil yesterday' })[0]!.key).toBe('opened');
    expect(causesOf('alarm', { ...plain, stroke: 2 }).some((c) => c.key === 'oil')).toBe(false);
    expect(causesOf('alarm', plain).some((c) => c.key === 'oil')).toBe(true);
  });
  test('shares add up to one, worn parts weigh no less than fresh ones, a visit covers three cases in four', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...SYMPTOM_KEYS),
        fc.double({ min: 0, max: 1.5, noNaN: true }),
        fc.boolean(),
        (symptom, share, sand) => {
          const causes = causesOf(symptom, {
            ...plain,
            sand,
            used: { impeller: used(share), 'spark-plugs': used(share), 'engine-oil': used(share) },
          });
          expect(causes.length).toBeGreaterThan(0);
          expect(causes.reduce((sum, c) => sum + c.weight, 0)).toBeCloseTo(1, 9);
          expect(causes.map((c) => c.weight)).toEqual(causes.map((c) => c.weight).sort((a, b) => b - a));
          const visit = visitFor(causes);
          let covered = 0;
          for (const c of causes) if (c.tasks.every((t) => visit.includes(t))) covered += c.weight;
          expect(covered).toBeGreaterThanOrEqual(Math.min(0.75, 1) - 1e-9);
        },
      ),
    );
  });
});

describe('waste', () => {
  const label = () => ({ sump: { value: 2.7, unit: 'L' as const }, gearCase: { value: 0.64, unit: 'L' as const } });
  test('oil as it was measured coming out, else by the label; filters by the piece', () => {
    expect(
      wasteOf(
        [
          { engineId: 1, task: 'engine-oil' },
          { engineId: 2, task: 'engine-oil' },
          { engineId: 1, task: 'oil-filter' },
          { engineId: 1, task: 'gear-lube' },
        ],
        label,
        { '1 oil out': { value: 2.8, unit: 'L' } },
      ),
    ).toEqual([
      { stream: 'used oil', quantity: 5500, measured: false },
      { stream: 'gear lube', quantity: 640, measured: false },
      { stream: 'filters', quantity: 1, measured: true },
    ]);
  });
  test('what is typed for a stream counts, in whatever unit', () => {
    expect(
      wasteOf([{ engineId: 1, task: 'engine-oil' }], label, {
        '0 waste#used oil': { value: 3, unit: 'US qt' },
        '0 waste#rags': { value: 2, unit: 'pieces' },
      }),
    ).toEqual([
      { stream: 'used oil', quantity: 2839, measured: true },
      { stream: 'rags', quantity: 2, measured: true },
    ]);
  });
  test('work that takes nothing out leaves nothing', () => {
    expect(wasteOf([{ engineId: 1, task: 'grease' }], label, {})).toEqual([]);
  });
});
