import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { reasonsAgainst, type Bar, type FeasibleDay, type WorkAsked } from './index.ts';

const DAY = { from: 450, to: 960 };
const day = (date: string, more: Partial<FeasibleDay> = {}): FeasibleDay => ({
  day: date,
  hand: {
    baseId: 1,
    baseName: 'North Quay',
    from: DAY.from,
    to: DAY.to,
    hard: 1020,
    rest: { from: 690, to: 840, minutes: 30 },
  },
  others: [{ name: 'Bram', skills: [] }],
  gaps: [{ from: 420, to: 1140 }],
  liftLeft: 2,
  taken: null,
  busy: [],
  ...more,
});
const asked = (
  today: Partial<FeasibleDay> = {},
  more: Partial<WorkAsked> = {},
  then: FeasibleDay[] = [],
): WorkAsked => ({
  boatName: 'Tern',
  baseId: 1,
  baseName: 'North Quay',
  person: { name: 'Ines', skills: ['lower units'] },
  tasks: [{ engineName: 'Tern port', task: 'engine-oil' }],
  minutes: 75,
  secondMinutes: 0,
  start: null,
  parts: [],
  waits: [],
  days: [day('2026-04-15', today), ...then],
  ...more,
});
const reasons = (w: WorkAsked) => reasonsAgainst(w, (d) => d);
const bars = (w: WorkAsked): Bar[] => reasons(w).map((r) => r.bar);
const impeller = { tasks: [{ engineName: 'Tern port', task: 'impeller' as const }] };

describe('what keeps work from being done', () => {
  test('nothing, where everything is there', () => {
    expect(reasons(asked())).toEqual([]);
    expect(reasons(asked({}, { start: 480 }))).toEqual([]);
  });
  test('off, at another base, without the skill; with when and who it could be', () => {
    const then = [day('2026-04-16', { hand: null }), day('2026-04-17')];
    expect(reasons(asked({ hand: null }, {}, then))).toEqual([
      { bar: 'person off', text: 'Ines is off that day.', frees: 'Ines is there again on 2026-04-17.' },
    ]);
    // Nobody knows when: who else is there.
    expect(reasons(asked({ hand: null }))[0]!.frees).toBe('Bram is on duty there that day.');
    const south = { baseId: 2, baseName: 'South Spit', from: 450, to: 960, hard: 960, rest: null };
    expect(reasons(asked({ hand: south }))[0]!.text).toBe('Ines is at South Spit that day; Tern lies at North Quay.');
    const others = [
      { name: 'Bram', skills: [] },
      { name: 'Reva', skills: ['lower units'] },
    ];
    expect(reasons(asked({ others }, { ...impeller, person: { name: 'Ines', skills: [] } }))).toEqual([
      { bar: 'no skill', text: 'Ines is not entered for lower units.', frees: 'Reva is on duty there that day.' },
    ]);
  });
  test('the boat is out, its gap too short, another has a card on it', () => {
    expect(reasons(asked({ gaps: [] }, {}, [day('2026-04-16')]))).toEqual([
      { bar: 'boat out', text: 'Tern is out all day.', frees: 'There is room on 2026-04-16.' },
    ]);
    const gaps = [{ from: 900, to: 1140 }];
    // To the minute: 75 minutes from 15:45 end with the last of the overtime at 17:00.
    expect(bars(asked({ gaps: [{ from: 945, to: 1140 }] }))).toEqual([]);
    expect(reasons(asked({ gaps: [{ from: 946, to: 1140 }] }))[0]!.text).toBe(
      'It takes 1 h 15; the longest gap of Tern within the hours of Ines is 1 h 14.',
    );
    expect(bars(asked({ gaps }, { start: 480 }))).toEqual(['gap too short']);
    expect(reasons(asked({ taken: 'Reva' }))).toEqual([
      { bar: 'boat taken', text: 'Reva has a card on Tern that day.', frees: 'Put the work on that card.' },
    ]);
  });
  test('hours: beside what stands, and without pushing it out', () => {
    const visit = (id: string, minutes: number, start: number | null) => ({
      id,
      minutes,
      start,
      windows: [{ from: 420, to: 1140 }],
    });
    expect(bars(asked({ busy: [visit('a', 300, null)] }))).toEqual([]);
    expect(bars(asked({ busy: [visit('a', 520, null)] }))).toEqual(['no hours']);
    // An hour that was said is kept: the rest is not one piece of 75 minutes.
    expect(bars(asked({ busy: [visit('a', 200, 500), visit('b', 250, 760)] }))).toEqual(['no hours']);
    expect(reasons(asked({ busy: [visit('a', 520, null)] }, {}, [day('2026-04-16')]))[0]!.frees).toBe(
      'There is room on 2026-04-16.',
    );
  });
  test('lift, second person, parts, and what comes before', () => {
    expect(bars(asked({ liftLeft: 0 }))).toEqual([]);
    expect(bars(asked({ liftLeft: 0, others: [] }, { ...impeller, secondMinutes: 29 }))).toEqual([
      'no lift',
      'no second person',
    ]);
    const part = { name: 'Filter', quantity: '2', free: '1', short: true, arrives: '2026-04-17' };
    expect(reasons(asked({}, { parts: [part, { ...part, short: false }] }))).toEqual([
      {
        bar: 'no part',
        text: 'Filter: 2 wanted, 1 free beside what is kept back for other cards.',
        frees: 'More is to arrive on 2026-04-17.',
      },
    ]);
    const cards = ['Plover', 'Fulmar', 'Brant', 'Avocet'].map((boatName, i) => ({ boatName, day: `2026-04-1${i}` }));
    expect(reasons(asked({}, { parts: [{ ...part, keptFor: cards }] }))[0]!.text).toBe(
      'Filter: 2 wanted, 1 free beside what is kept back for Plover on 2026-04-10, Fulmar on 2026-04-11, Brant on 2026-04-12 and 1 more.',
    );
    const waits = [{ engineName: 'Tern port', task: 'gear-lube' as const, before: 'gear-seals' as const }];
    expect(reasons(asked({}, { waits }))[0]!.text).toMatch(/^Gear lube of Tern port comes after .*not done yet\.$/);
  });
  test('all of it at once, in the order one would look', () => {
    const all = asked(
      { hand: null, gaps: [], taken: 'Reva', liftLeft: 0, others: [] },
      { ...impeller, person: { name: 'Ines', skills: [] } },
    );
    expect(bars(all)).toEqual(['person off', 'no skill', 'boat out', 'boat taken', 'no lift']);
  });
  test('more of anything never adds a reason: longer hours, wider gaps, less other work', () => {
    const span = fc.tuple(fc.integer({ min: 400, max: 1000 }), fc.integer({ min: 30, max: 500 }));
    fc.assert(
      fc.property(
        span,
        fc.integer({ min: 20, max: 300 }),
        fc.integer({ min: 0, max: 400 }),
        ([from, long], minutes, other) => {
          const windows = [{ from: 420, to: 1140 }];
          const busy = other < 30 ? [] : [{ id: 'a', minutes: other, start: null, windows }];
          const narrow = bars(asked({ gaps: [{ from, to: from + long }], busy }, { minutes }));
          const wide = bars(asked({ gaps: [{ from: from - 30, to: from + long + 30 }], busy }, { minutes }));
          const idle = bars(asked({ gaps: [{ from, to: from + long }], busy: [] }, { minutes }));
          expect(wide.filter((b) => !narrow.includes(b) && b !== 'no hours')).toEqual([]);
          expect(idle.filter((b) => !narrow.includes(b))).toEqual([]);
        },
      ),
    );
  });
});
