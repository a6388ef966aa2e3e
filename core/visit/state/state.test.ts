import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { type TaskKind } from '../../service/index.ts';
import {
  clashText,
  FACT_KEYS,
  isAccessTemplate,
  knownSteps,
  openOnArrival,
  shippedOf,
  stateFaults,
  templateFaults,
  TEMPLATE_KEYS,
  TURNS,
  violationsOf,
  visitSteps,
  workingOrder,
  type TemplateLine,
  type Templates,
  type TimedStep,
  type VisitTask,
} from '../index.ts';
import { anyVisit, inAnyOrder, visitOf, type Build } from '../test/any-visit.ts';

const BUILD: Build = { powerHp: 60, stroke: 4, cylinders: 4, traits: {}, choices: {}, unknownHistory: false };
const card = (kinds: readonly TaskKind[], build: Partial<Build> = {}) => visitOf([{ ...BUILD, ...build, kinds }]);
const clashesOf = (tasks: readonly VisitTask[], templates: Templates = {}) => {
  const clashes: string[] = [];
  visitSteps(tasks, templates, (c) => clashes.push(clashText(c)));
  return clashes;
};
/** Where each step stands in the order shown. */
const places = (tasks: readonly VisitTask[]) => {
  const { steps } = workingOrder(visitSteps(tasks));
  return (id: string) => {
    const at = steps.findIndex((t) => t.step.id === id);
    if (at < 0) throw new Error(`no ${id} among ${steps.map((t) => t.step.id).join(', ')}`);
    return at;
  };
};
/** Expects the steps to come in this order. */
const inThisOrder = (tasks: readonly VisitTask[], ids: string[]) => {
  const at = places(tasks);
  const found = ids.map((id) => at(`1 ${id}`));
  expect(found).toEqual([...found].sort((a, b) => a - b));
};

describe('no order of a card can hurt the engine', () => {
  test('whatever is on it, however its engines are built, whatever the yard answers: no order that keeps to it', () => {
    fc.assert(
      fc.property(anyVisit, fc.integer(), (engines, seed) => {
        const tasks = visitOf(engines);
        expect(clashesOf(tasks)).toEqual([]);
        expect(violationsOf(inAnyOrder(visitSteps(tasks), seed), openOnArrival(tasks))).toEqual([]);
      }),
      { numRuns: 150 },
    );
  });
  test('nor the one that is shown, with drains beside other work', () => {
    fc.assert(
      fc.property(anyVisit, (engines) => {
        const tasks = visitOf(engines);
        expect(violationsOf(workingOrder(visitSteps(tasks)).steps, openOnArrival(tasks))).toEqual([]);
      }),
      { numRuns: 40 },
    );
  });

  // Common practice, no source: each pair would wreck something the other way round.
  test.each<[string, TaskKind[], Partial<Build>, string[]]>([
    [
      'warm before the plugs come out',
      ['engine-oil', 'spark-plugs'],
      {},
      ['warm up', 'plugs out', 'spark-plugs/in', 'run'],
    ],
    [
      'cap and dipstick in before the run',
      ['engine-oil'],
      {},
      ['engine-oil/vent', 'engine-oil/read', 'run', 'engine-oil/level'],
    ],
    [
      'screw in and filter on before oil goes in',
      ['engine-oil', 'oil-filter'],
      {},
      ['engine-oil/plug', 'engine-oil/fill'],
    ],
    ['filter on before oil goes in', ['engine-oil', 'oil-filter'], {}, ['oil-filter/tray', 'engine-oil/fill']],
    ['gear case full before the run', ['gear-lube', 'thermostat'], {}, ['gear-lube/tight', 'run']],
    [
      'seals before the case is filled',
      ['gear-lube', 'gear-seals'],
      {},
      ['gear-lube/drain', 'gear-seals/pressure', 'gear-seals/seals', 'gear-seals/again', 'gear-lube/fill'],
    ],
    [
      'seals alone empty the case and fill it',
      ['gear-seals'],
      {},
      ['gear-seals/empty', 'gear-seals/pressure', 'gear-seals/again', 'gear-seals/refill'],
    ],
    ['fuel closed and dry before the run', ['fuel-filter', 'thermostat'], {}, ['fuel-filter/dry', 'run']],
    [
      'compression with oil in the sump',
      ['engine-oil', 'compression'],
      {},
      ['warm up', 'plugs out', 'compression/crank', 'engine-oil/drain'],
    ],
    [
      'fogged after the last run, plugs straight back',
      ['engine-oil', 'fogging', 'spark-plugs', 'compression'],
      {},
      ['run', 'plugs out', 'compression/crank', 'fogging/fog', 'spark-plugs/in'],
    ],
    ['treated fuel is run through', ['stabiliser', 'engine-oil'], {}, ['stabiliser/first', 'run']],
    [
      'antifreeze after the oil is in and read, battery still in',
      ['engine-oil', 'antifreeze', 'battery'],
      {},
      ['engine-oil/fill', 'run', 'antifreeze/hot', 'antifreeze/draw', 'battery/off'],
    ],
    [
      'bowls empty after the last run',
      ['engine-oil', 'bowls'],
      { choices: { bowls: 'drain' } },
      ['run', 'bowls/drain', 'bowls/shut'],
    ],
    [
      'run dry is the last run',
      ['engine-oil', 'bowls', 'antifreeze'],
      { choices: { bowls: 'run dry' } },
      ['run', 'antifreeze/draw', 'bowls/dry'],
    ],
    ['the old filter is cut once it is off', ['oil-filter', 'oil-trace'], {}, ['oil-filter/off', 'oil-trace/cut']],
    [
      'flushed and rinsed before anything is opened',
      ['flush', 'gear-lube', 'engine-oil'],
      {},
      ['flush/flush', 'engine-oil/drain'],
    ],
    [
      'the level that counts a quarter of an hour after the run, on a large V',
      ['engine-oil'],
      { powerHp: 250, cylinders: 6 },
      ['engine-oil/read', 'run', 'engine-oil/stand', 'engine-oil/level'],
    ],
  ])('%s', (_, kinds, build, order) => {
    inThisOrder(card(kinds, build), order);
  });

  test('of twins, neither runs nor is cranked while fuel of the other is open', () => {
    const tasks = visitOf([
      { ...BUILD, kinds: ['fuel-filter', 'engine-oil'] },
      { ...BUILD, kinds: ['engine-oil', 'compression'] },
    ]);
    const at = places(tasks);
    for (const run of ['2 warm up', '2 compression/crank', '2 run'])
      expect(at(run) < at('1 fuel-filter/off-canister') || at(run) > at('1 fuel-filter/dry')).toBe(true);
  });
  test('nothing known of the engine: it is not started before oil is in it, or somebody saw that there is', () => {
    const unknown = { unknownHistory: true };
    inThisOrder(card(['engine-oil', 'compression'], unknown), ['engine-oil/fill', 'compression/crank']);
    inThisOrder(card(['thermostat'], unknown), ['oil look', 'run']);
    expect(visitSteps(card(['thermostat'])).some((s) => s.id === '1 oil look')).toBe(false);
    expect(visitSteps(card(['thermostat'], { stroke: 2, ...unknown })).some((s) => s.id === '1 oil look')).toBe(false);
  });
  test('what was opened is closed again soon: plugs, drain screw, pump', () => {
    const { steps } = workingOrder(
      visitSteps(card(['engine-oil', 'oil-filter', 'spark-plugs', 'impeller', 'anodes', 'grease'])),
    );
    const at = (id: string) => steps.find((t) => t.step.id === `1 ${id}`)!.start;
    // Twenty minutes of work on four plugs, thirty-four on the pump; the sump drains for twenty.
    expect(at('spark-plugs/in') - at('plugs out')).toBeLessThan(25);
    expect(at('impeller/bolts') - at('impeller/housing-off')).toBeLessThan(45);
    expect(at('engine-oil/plug') - at('engine-oil/drain')).toBeLessThan(60);
  });
});

describe('the checker', () => {
  const at = (tasks: VisitTask[], order: string[]): TimedStep[] => {
    const steps = visitSteps(tasks);
    return order.map((id, i) => {
      const step = steps.find((s) => s.id === `1 ${id}`)!;
      return { step, start: i * 100, end: i * 100 + step.minutes, move: null };
    });
  };
  test('finds a run with plugs out, and says which step took them out', () => {
    const tasks = card(['engine-oil', 'spark-plugs']);
    expect(violationsOf(at(tasks, ['plugs out', 'warm up', 'spark-plugs/in']))).toEqual([
      { step: '1 warm up', fact: 'cylinders', by: '1 plugs out' },
    ]);
    expect(violationsOf(at(tasks, ['warm up', 'plugs out', 'spark-plugs/in']))).toEqual([]);
  });
  test('finds compression taken with the plugs in, and with the sump empty', () => {
    const tasks = card(['engine-oil', 'compression']);
    expect(violationsOf(at(tasks, ['compression/crank']))).toEqual([
      { step: '1 compression/crank', fact: 'cylinders', by: null },
    ]);
    const found = violationsOf(at(tasks, ['plugs out', 'engine-oil/drain', 'compression/crank', 'engine-oil/fill']));
    expect([...new Set(found.map((v) => v.fact))].sort()).toEqual(['drain screw', 'sump oil']);
  });
  test('finds hands on the boat while an engine runs, its waiting too', () => {
    const [run, rinse] = at(card(['flush']), ['flush/flush', 'flush/rinse']);
    expect(violationsOf([run!, { ...rinse!, start: run!.end + 1, end: run!.end + 5 }])).toEqual([
      { step: '1 flush/rinse', fact: 'another engine runs', by: '1 flush/flush' },
    ]);
    expect(violationsOf([run!, { ...rinse!, start: run!.end + 5, end: run!.end + 9 }])).toEqual([]);
  });
  test('an engine that may be empty is not started', () => {
    expect(violationsOf(at(card(['thermostat']), ['run']), new Map([[1, ['sump oil']]]))).toEqual([
      { step: '1 run', fact: 'sump oil', by: null },
    ]);
  });
});

describe('steps the yard writes', () => {
  const edited = (key: TaskKind, change: (lines: TemplateLine[]) => TemplateLine[]) =>
    stateFaults(key, change([...shippedOf(key)])).map((f) => f.text);
  test('as they come with the book nothing is wrong with them', () => {
    for (const key of TEMPLATE_KEYS) expect([key, stateFaults(key, shippedOf(key))]).toEqual([key, []]);
  });
  test('a run while the plugs are out is refused, with both steps named', () => {
    const faults = edited('spark-plugs', (lines) => [
      ...lines.map((l) => (l.key === 'in' ? { ...l, after: [...(l.after ?? []), 'listen'] } : l)),
      { key: 'listen', text: 'Start it and listen', share: 1, after: ['plugs out'], turns: 'late' },
    ]);
    expect(faults.join('\n')).toMatch(
      /"Start it and listen" would run the engine while plugs are out: "Covers and coils/,
    );
  });
  test('an order that turns the safe one round is refused', () => {
    // The oil would go in before the screw is back, and the screw would wait for the oil.
    const faults = edited('engine-oil', (lines) =>
      lines.map((l) =>
        l.key === 'plug'
          ? { ...l, after: ['fill', 'fill-label'] }
          : l.key === 'fill' || l.key === 'fill-label'
            ? { ...l, after: ['drain', 'hose'] }
            : l,
      ),
    );
    expect(faults.join('\n')).toMatch(/would come while the drain screw is out/);
  });
  test('what is opened has to be closed; what came with the book as an opening has to stay one', () => {
    expect(edited('fuel-filter', (lines) => lines.filter((l) => l.key !== 'dry')).join()).toMatch(
      /leaves the engine so that the fuel filter is off/,
    );
    expect(edited('engine-oil', (lines) => lines.filter((l) => l.key !== 'drain')).join()).toMatch(
      /has to say that it opens this: the sump is empty/,
    );
  });
  test('words and minutes are the yard’s: what a step does to the engine stays with it', () => {
    const templates: Templates = {
      'spark-plugs': shippedOf('spark-plugs').map(({ key, text, share, after, when, once }) => ({
        key,
        text: `${text}, as we do it`,
        share: share + 1,
        ...(after && { after }),
        ...(when && { when }),
        ...(once && { once }),
      })),
    };
    const tasks = card(['engine-oil', 'spark-plugs']);
    expect(violationsOf(workingOrder(visitSteps(tasks, templates)).steps)).toEqual([]);
    expect(visitSteps(tasks, templates).find((s) => s.id === '1 plugs out')!.opens).toEqual(['cylinders']);
  });
  test('any edit is refused, or any card with it is safe', () => {
    const anyKey = fc.constantFrom(...TEMPLATE_KEYS.filter((k): k is TaskKind => !isAccessTemplate(k)));
    const anyEdit = fc.record({
      kind: fc.constantFrom('drop', 'after', 'none after', 'run', 'open'),
      at: fc.nat(30),
      other: fc.nat(30),
      fact: fc.constantFrom(...FACT_KEYS),
      turns: fc.constantFrom(...TURNS),
    });
    let refused = 0;
    let kept = 0;
    fc.assert(
      fc.property(
        anyKey,
        fc.array(anyEdit, { minLength: 1, maxLength: 3 }),
        anyVisit,
        fc.integer(),
        (key, edits, engines, seed) => {
          let lines: TemplateLine[] = [...shippedOf(key)];
          edits.forEach((e, n) => {
            const i = e.at % lines.length;
            const other = lines[e.other % lines.length]!;
            const own = { key: `own ${n}`, text: `Own step ${n}`, share: 1, after: [other.once ?? other.key] };
            if (e.kind === 'drop' && lines.length > 1) lines = lines.filter((_, k) => k !== i);
            if (e.kind === 'after' && other.key !== lines[i]!.key)
              lines = lines.map((l, k) =>
                k === i ? { ...l, after: [...(l.after ?? []), other.once ?? other.key] } : l,
              );
            if (e.kind === 'none after') lines = lines.map((l, k) => (k === i ? { ...l, after: [] } : l));
            if (e.kind === 'run') lines = [...lines, { ...own, turns: e.turns }];
            if (e.kind === 'open') lines = [...lines, { ...own, opens: [e.fact] }];
          });
          const safe =
            templateFaults(lines, shippedOf(key), knownSteps(), key).length === 0 &&
            stateFaults(key, lines).length === 0;
          if (!safe) {
            refused++;
            return;
          }
          kept++;
          const tasks = visitOf(engines.map((e) => ({ ...e, kinds: [...new Set([...e.kinds, key])] })));
          expect(violationsOf(inAnyOrder(visitSteps(tasks, { [key]: lines }), seed), openOnArrival(tasks))).toEqual([]);
        },
      ),
      { numRuns: 45, seed: 13 },
    );
    // `npm run bench -- safety` tries five hundred.
    expect(Math.min(refused, kept)).toBeGreaterThan(5);
  });
});
