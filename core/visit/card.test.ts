import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { TaskKind } from '../service/index.ts';
import {
  actualMinutes,
  answerTicks,
  drainsTook,
  foldCard,
  keysAsked,
  progressOf,
  readingsWanted,
  sayTheSame,
  slotOf,
  standsAgainst,
  tasksDone,
  typedKey,
  typedOf,
  visitSteps,
  workFacts,
  type CardAct,
  type CardEntry,
} from './index.ts';

let n = 0;
const entry = (act: CardAct, more: Partial<CardEntry> = {}): CardEntry => ({
  id: `e${++n}`,
  seq: n,
  by: 1,
  at: n * 1000,
  act,
  seen: 0,
  against: null,
  ...more,
});
const tick = (step: string, done = true): CardAct => ({ kind: 'tick', step, done });
const read = (key: string, choice: string): CardAct => ({ kind: 'read', key, value: { choice } });
const steps = visitSteps(
  (['engine-oil', 'oil-filter'] as TaskKind[]).map((task) => ({
    engineId: 1,
    task,
    cylinders: 4,
    engine: {
      facts: workFacts({ powerHp: 60, stroke: 4, cylinders: 4 }),
      sump: { value: 2.7, unit: 'L' },
      gearCase: null,
    },
  })),
);

describe('a card is what its entries add up to', () => {
  test('the last word of each thing counts, in the order of the record; what waits on the phone comes last', () => {
    const state = foldCard([
      entry(read('1 oil look', 'black'), { seq: null, at: 1 }),
      entry(tick('a'), { seq: 2 }),
      entry(tick('b'), { seq: 3 }),
      entry(tick('a', false), { seq: 5 }),
      entry(read('1 oil look', 'milky'), { seq: 4 }),
    ]);
    expect([...state.ticks.keys()]).toEqual(['b']);
    expect(state.readings.get('1 oil look')!.value).toEqual({ choice: 'black' });
    expect(state.lastSeq).toBe(5);
  });
  test('ticked by two, it keeps the first one’s name and hour', () => {
    expect(
      foldCard([entry(tick('a'), { by: 1, at: 100 }), entry(tick('a'), { by: 2, at: 200 })]).ticks.get('a'),
    ).toMatchObject({ by: 1, at: 100 });
  });
  test('pauses open and close once', () => {
    const pause = (on: boolean, at: number) => entry({ kind: 'pause', on, why: null }, { at });
    expect(
      foldCard([pause(false, 1), pause(true, 10), pause(true, 20), pause(false, 30), pause(true, 40)]).pauses.map(
        (p) => [p.from, p.to],
      ),
    ).toEqual([
      [10, 30],
      [40, null],
    ]);
  });
  test('the same entries in any order they arrive give the same card', () => {
    const list = [
      tick('a'),
      tick('b'),
      tick('a', false),
      read('1 oil look', 'thin'),
      read('1 oil look', 'black'),
      { kind: 'remark', text: 'x' } as CardAct,
    ].map((a) => entry(a));
    fc.assert(
      fc.property(fc.shuffledSubarray(list, { minLength: list.length }), (mixed) => {
        const a = foldCard(list);
        const b = foldCard(mixed);
        expect([...b.ticks]).toEqual([...a.ticks]);
        expect([...b.readings]).toEqual([...a.readings]);
        expect(b.remark).toBe(a.remark);
      }),
    );
  });
});

describe('two people at once', () => {
  test('the same said twice is no contradiction; otherwise the later one that did not know waits for a person', () => {
    const record = [entry(read('1 lube look', 'dark'), { seq: 10, by: 2 })];
    const mine = (act: CardAct, seen: number) => standsAgainst({ act, by: 1, seen }, record)?.seq ?? null;
    expect(mine(read('1 lube look', 'dark'), 5)).toBeNull();
    expect(mine(read('1 lube look', 'milky'), 5)).toBe(10);
    // Known when it was written: a correction.
    expect(mine(read('1 lube look', 'milky'), 10)).toBeNull();
    expect(standsAgainst({ act: read('1 lube look', 'milky'), by: 2, seen: 5 }, record)).toBeNull();
    expect(mine(read('2 lube look', 'milky'), 5)).toBeNull();
  });
  test('until it is settled the first one counts, and nothing is dropped', () => {
    const first = entry(read('1 lube look', 'dark'), { seq: 1, by: 2 });
    const second = entry(read('1 lube look', 'milky'), { id: 'late', seq: 2, by: 1, against: 1 });
    const look = (more: CardEntry[]) => {
      const s = foldCard([first, second, ...more]);
      return [s.readings.get('1 lube look')!.value, s.open.map((e) => e.id)];
    };
    expect(look([])).toEqual([{ choice: 'dark' }, ['late']]);
    expect(look([entry({ kind: 'settle', entry: 'late', take: true }, { seq: 3 })])).toEqual([{ choice: 'milky' }, []]);
    expect(look([entry({ kind: 'settle', entry: 'late', take: false }, { seq: 3 })])).toEqual([{ choice: 'dark' }, []]);
  });
  test('two holds of one engine both stand, and one that waits on the phone is told as such', () => {
    const hold = (why: string): CardAct => ({ kind: 'hold', engineId: 1, why });
    expect(
      standsAgainst({ act: hold('cracked bracket'), by: 1, seen: 0 }, [entry(hold('fuel smell'), { seq: 4, by: 2 })]),
    ).toBeNull();
    const { holds } = foldCard([
      entry(hold('fuel smell'), { seq: 4, by: 2 }),
      entry(hold('cracked bracket'), { seq: null }),
    ]);
    expect(holds.map((h) => [h.why, h.sent])).toEqual([
      ['fuel smell', true],
      ['cracked bracket', false],
    ]);
  });
  test('every act that has a slot agrees with itself', () => {
    const acts: CardAct[] = [
      tick('a'),
      read('1 oil look', 'thin'),
      { kind: 'task', engineId: 1, task: 'grease', done: true },
      { kind: 'pause', on: true, why: null },
      { kind: 'remark', text: 'x' },
      { kind: 'decide', finding: '1 x', take: true, reason: null },
    ];
    for (const a of acts) expect([slotOf(a) !== null, sayTheSame(a, a)]).toEqual([true, true]);
    expect(slotOf({ kind: 'settle', entry: 'x', take: true })).toBeNull();
  });
});

describe('what follows from the ticks', () => {
  const ticksOf = (ids: string[], minutes = 1) => ids.map((id, i) => entry(tick(id), { at: i * minutes * 60_000 }));
  test('a task is done when its last step is ticked, or as a whole; taken back as a whole it is not', () => {
    const own = steps.filter((s) => s.task === 'oil-filter').map((s) => s.id);
    expect([...tasksDone(steps, foldCard(ticksOf(own.slice(1))))]).toEqual([]);
    expect([...tasksDone(steps, foldCard(ticksOf(own)))]).toEqual(['1 oil-filter']);
    expect([
      ...tasksDone(
        steps,
        foldCard([...ticksOf(own), entry({ kind: 'task', engineId: 1, task: 'oil-filter', done: false })]),
      ),
    ]).toEqual([]);
    expect([
      ...tasksDone(steps, foldCard([entry({ kind: 'task', engineId: 1, task: 'engine-oil', done: true })])),
    ]).toEqual(['1 engine-oil']);
  });
  test('a drain runs on from its tick, whoever looks and whenever', () => {
    const state = foldCard([entry(tick('1 engine-oil/drain'), { at: 0 })]);
    expect(progressOf(steps, state, 5 * 60_000).waits).toEqual([{ step: '1 engine-oil/drain', until: 20 * 60_000 }]);
    expect(progressOf(steps, state, 21 * 60_000).waits).toEqual([]);
  });
  test('readings asked for by the cylinder, and those still wanted', () => {
    const look = visitSteps([{ engineId: 3, task: 'compression', cylinders: 3 }]).find((s) =>
      s.readings.includes('compression'),
    )!;
    expect(keysAsked(look, 3).map((k) => k.key)).toEqual(['3 compression#1', '3 compression#2', '3 compression#3']);
    expect(
      readingsWanted(
        look,
        3,
        foldCard([entry({ kind: 'read', key: '3 compression#2', value: { value: 120, unit: 'psi' } })]),
      ),
    ).toEqual(['3 compression#1', '3 compression#3']);
  });
  test('the last answer of a step ticks it where all is as it should be, and never else', () => {
    const of = (id: string) => steps.find((s) => s.id === id)!;
    const [look, run, level] = [of('1 engine-oil/look'), of('1 run'), of('1 engine-oil/level')];
    const nothing = foldCard([]);
    expect(answerTicks(look, 4, nothing, ['1 oil look'], { choice: 'black' })).toBe(true);
    expect(answerTicks(look, 4, nothing, ['1 oil look'], { choice: 'milky' })).toBe(false);
    expect(answerTicks(look, 4, nothing, ['1 oil look'], { not: 'no light' })).toBe(false);
    // A figure that may be left empty is no answer of what the step hangs on.
    expect(answerTicks(look, 4, nothing, ['1 oil out'], { value: 2.5, unit: 'L' })).toBe(false);
    // Two are wanted: the first is not the last, and one that is wrong stays wrong.
    const keys = keysAsked(run, 4).map((k) => k.key);
    expect(keys).toEqual(['1 stream', '1 oil light']);
    expect(answerTicks(run, 4, nothing, ['1 stream'], { choice: 'strong' })).toBe(false);
    const after = (choice: string) => foldCard([entry(read('1 stream', choice))]);
    expect(answerTicks(run, 4, after('strong'), ['1 oil light'], { choice: 'out' })).toBe(true);
    expect(answerTicks(run, 4, after('weak'), ['1 oil light'], { choice: 'out' })).toBe(false);
    // What a person confirms is confirmed by what they say they saw; what is ticked is not ticked again.
    expect(level.gate).not.toBeNull();
    expect(answerTicks(level, 4, nothing, ['1 oil level'], { choice: 'upper' })).toBe(true);
    expect(answerTicks(level, 4, foldCard([entry(tick(level.id))]), ['1 oil level'], { choice: 'upper' })).toBe(false);
  });
  test('a look at every cylinder is whole with the last of them, or with all alike', () => {
    const look = visitSteps([{ engineId: 3, task: 'spark-plugs', cylinders: 3 }]).find((s) =>
      s.readings.includes('plug look'),
    )!;
    const all = keysAsked(look, 3).map((k) => k.key);
    expect(all).toHaveLength(3);
    expect(answerTicks(look, 3, foldCard([]), all.slice(0, 2), { choice: 'light' })).toBe(false);
    expect(answerTicks(look, 3, foldCard([]), all, { choice: 'light' })).toBe(true);
  });
  test('minutes really taken: from tick to tick, drains and pauses taken out', () => {
    const of = (id: string) => steps.find((s) => s.id === id)!;
    const at = new Map<string, number>();
    let now = 0;
    // Worked in an order that keeps to what comes before, each step a quarter longer than estimated.
    for (const s of [
      'arrive',
      '1 cowl off',
      '1 warm up',
      '1 engine-oil/vent',
      '1 engine-oil/drain',
      '1 engine-oil/screw',
      '1 oil-filter/off',
      '1 oil-filter/on',
      '1 oil-filter/tray',
      '1 engine-oil/look',
      '1 engine-oil/plug',
      '1 engine-oil/fill',
      '1 engine-oil/read',
      '1 run',
      '1 engine-oil/level',
    ]) {
      const ready = Math.max(
        now,
        ...of(s)
          .after.filter((a) => !a.endsWith(' started'))
          .map((a) => (at.get(a) ?? 0) + (steps.find((x) => x.id === a)?.wait ?? 0)),
      );
      now = ready + of(s).minutes * 1.25;
      if (s === '1 engine-oil/fill') now += 30;
      at.set(s, now);
    }
    const fill = at.get('1 engine-oil/fill')!;
    const entries = [...at].map(([id, minute]) => entry(tick(id), { at: minute * 60_000 }));
    entries.push(
      entry({ kind: 'pause', on: true, why: 'telephone' }, { at: (fill - 31) * 60_000 }),
      entry({ kind: 'pause', on: false, why: null }, { at: (fill - 1) * 60_000 }),
    );
    const took = actualMinutes(steps, foldCard(entries));
    expect(took.get('1 engine-oil')).toBeCloseTo(25 * 1.25, 0);
    expect(took.get('1 oil-filter')).toBeCloseTo(10 * 1.25, 0);
  });
  test('a drain is measured where somebody stood by, or came sooner; not where other work filled the time', () => {
    const plug = steps.find((s) => s.id === '1 engine-oil/plug')!;
    const drained = (minutes: number, between: number[] = [], ...more: Parameters<typeof entry>[0][]) =>
      drainsTook(
        steps,
        foldCard([
          entry(tick('1 engine-oil/drain'), { at: 1e9 }),
          ...between.map((m, i) => entry(tick(`1 oil-filter/${['off', 'on'][i]}`), { at: 1e9 + m * 60_000 })),
          entry(tick(plug.id), { at: 1e9 + (minutes + plug.minutes) * 60_000 }),
          ...more.map((act) => entry(act, { at: 1e9 + 60_000 })),
        ]),
      ).get('1 engine-oil');
    expect(drained(31)).toBeCloseTo(31, 1);
    expect(drained(12, [4, 11.9])).toBeCloseTo(12, 1);
    // The filter was put on until the moment the screw went in: it may have been empty long before.
    expect(drained(31, [4, 31])).toBeUndefined();
    expect(drained(31, [4, 20])).toBeCloseTo(31, 1);
    // An evening, a card ticked afterwards, a pause.
    expect([drained(900), drained(0.05), drained(31, [], { kind: 'pause', on: true, why: null })]).toEqual([
      undefined,
      undefined,
      undefined,
    ]);
  });
  test('a card ticked in one go says nothing but the estimate; a task ticked as a whole says nothing', () => {
    const all = steps.map((s, i) => entry(tick(s.id), { at: 1e9 + i * 100 }));
    expect(actualMinutes(steps, foldCard(all)).get('1 engine-oil')).toBeCloseTo(25, 6);
    expect(
      actualMinutes(
        steps,
        foldCard([...all, entry({ kind: 'task', engineId: 1, task: 'engine-oil', done: true })]),
      ).has('1 engine-oil'),
    ).toBe(false);
  });
});

describe('figures typed on a card', () => {
  test('the last one typed stands, an emptied field is empty, and each field is its own slot', () => {
    const type = (field: string, text: string) => entry({ kind: 'type', field, text });
    const state = foldCard([type('hours 1', '41'), type('hours 1', '412.5'), type('part 7', '2'), type('part 7', '')]);
    expect([...state.typed].map(([field, { text }]) => [field, text])).toEqual([['hours 1', '412.5']]);
    expect(slotOf({ kind: 'type', field: 'hours 1', text: '' })).not.toBe(
      slotOf({ kind: 'type', field: 'hours 2', text: '' }),
    );
    expect(
      sayTheSame({ kind: 'type', field: 'hours 1', text: '4' }, { kind: 'type', field: 'hours 1', text: '5' }),
    ).toBe(false);
  });
  test('names of fields go both ways; anything else names none', () => {
    for (const field of [
      { what: 'hours', engineId: 3 },
      { what: 'why', engineId: 3 },
      { what: 'volume', engineId: 3, task: 'gear-lube' },
      { what: 'part', partId: 12 },
    ] as const)
      expect(typedOf(typedKey(field))).toEqual(field);
    for (const key of [
      '',
      'hours',
      'hours 0',
      'hours x',
      'hours 3 engine-oil',
      'volume 3',
      'volume 3 tea',
      'part -1',
      'volume 3 engine-oil more',
    ])
      expect(typedOf(key)).toBeNull();
  });
});
