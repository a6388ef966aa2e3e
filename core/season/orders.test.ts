import { describe, expect, test } from '@jest/globals';
import { traitsOf, type BuiltEngine } from '../fleet/index.ts';
import { SCHOOLS, type SchoolChoices, type TaskKind } from '../service/index.ts';
import { visitSteps, workFacts, type Step } from '../visit/index.ts';
import { seasonList, type SeasonVisit } from './index.ts';

/** Every combination of these values, by their names. */
function all<T extends Record<string, readonly unknown[]>>(of: T): { [K in keyof T]: T[K][number] }[] {
  return Object.entries(of).reduce<Record<string, unknown>[]>(
    (known, [key, values]) => known.flatMap((k) => values.map((value) => ({ ...k, [key]: value }))),
    [{}],
  ) as { [K in keyof T]: T[K][number] }[];
}
const optionsOf = (school: string) => SCHOOLS.find((s) => s.key === school)!.options.map((o) => o.key);

const ENGINES = all({
  stroke: [2, 4] as const,
  induction: ['carburettor', 'injection'] as const,
  drainsPoorly: [true, false],
  recoil: [true, false],
}).map(({ stroke, ...traits }): BuiltEngine => ({ powerHp: traits.recoil ? 6 : 60, stroke, cylinders: 2, traits }));
const ANSWERS: SchoolChoices[] = all({
  fogging: optionsOf('fogging'),
  antifreeze: optionsOf('antifreeze'),
  'last oil': optionsOf('last oil'),
  battery: optionsOf('battery'),
});
/** What one visit may hold: as it comes, or all at lay-up where the last hire went without. */
const TOGETHER: SeasonVisit[][] = [['before'], ['after'], ['before', 'after'], ['spring']];

/** A card of the season and, for each of its steps, all that is over before it in whatever order it is worked. */
function card(built: BuiltEngine, choices: SchoolChoices, frost: boolean, visits: readonly SeasonVisit[]) {
  const { items } = seasonList({ stroke: built.stroke, traits: traitsOf(built) }, choices, { frost });
  const kinds = items.filter((i) => visits.includes(i.visit)).map((i) => i.task);
  const engine = { facts: workFacts(built, choices, false), sump: null, gearCase: null };
  const steps = visitSteps(kinds.map((task) => ({ engineId: 1, task, cylinders: built.cylinders, engine })));
  const byId = new Map(steps.map((s) => [s.id, s]));
  const known = new Map<string, Set<string>>();
  const before = (id: string): Set<string> => {
    const found = known.get(id);
    if (found) return found;
    const own = new Set<string>();
    known.set(id, own);
    for (const a of byId.get(id)?.after ?? []) {
      const first = a.replace(/ started$/, '');
      own.add(first);
      for (const earlier of before(first)) own.add(earlier);
    }
    return own;
  };
  return {
    kinds: new Set<TaskKind>(kinds),
    turning: steps.filter((s) => s.turns !== null && s.turns !== 'crank'),
    of: (task: TaskKind) => steps.filter((s) => s.task === task),
    /** Whether the first is over before the second begins, in every order the card allows. */
    first: (a: Step, b: Step) => before(b.id).has(a.id),
  };
}

// Common practice, no source: the order of lay-up and recommission of the trade.
describe.each(TOGETHER.map((visits) => [visits.join(' and '), visits] as const))('a card of %s', (_, visits) => {
  test('in every order it allows, for every engine, climate and answer of the yard', () => {
    let cards = 0;
    for (const built of ENGINES)
      for (const choices of ANSWERS)
        for (const frost of [true, false]) {
          const { kinds, turning, of, first } = card(built, choices, frost, visits);
          cards++;
          const where = JSON.stringify({ built, choices, frost });
          const holds = (what: string, is: boolean) => {
            if (!is) throw new Error(`${what}: ${where}`);
          };
          for (const fog of of('fogging'))
            for (const run of turning) holds('fogged before the last run', run.task === 'fogging' || first(run, fog));
          for (const fill of of('antifreeze').filter((s) => s.turns !== null)) {
            const oil = of('engine-oil').find((s) => s.id.endsWith('engine-oil/fill'));
            holds('antifreeze before the oil is in', !oil || first(oil, fill));
            const out = of('battery')[0];
            holds('antifreeze with the battery out', !out || first(fill, out));
          }
          const bowls = of('bowls').find((s) => s.id.endsWith('bowls/drain'));
          if (bowls)
            for (const run of turning) holds('run after the bowls are dry', first(run, bowls) || run.id === bowls.id);
          const dose = of('stabiliser')[0];
          if (dose) {
            const five = turning.find((s) => s.id.endsWith(' run'));
            holds('no run carries the dose through, and no outing follows', !!five || visits.join() === 'before');
            if (five) holds('run before the dose', first(dose, five));
          }
          const [out] = of('battery');
          if (out) for (const run of turning) holds('battery out before a run', first(run, out));
          const cover = of('hull').at(-1);
          if (cover && out) holds('covered before the battery is out', first(of('battery').at(-1)!, cover));
          if (kinds.has('spring-run')) {
            const run = turning.find((s) => s.id.endsWith(' run'))!;
            for (const look of of('spring-run').filter((s) => !s.id.endsWith('stream')))
              holds(`run before "${look.text}"`, first(look, run));
            for (const terminals of of('battery-check').slice(-1))
              holds('run before its battery is looked at', first(terminals, run));
            if (built.stroke === 4) holds('nobody reads the oil before it', of('spring-run')[0]!.id.endsWith('level'));
          }
        }
    expect(cards).toBe(ENGINES.length * ANSWERS.length * 2);
  });
});

test('a two-stroke is never run dry without being fogged; what holds plugs open shuts them again', () => {
  for (const built of ENGINES.filter((e) => e.stroke === 2))
    for (const choices of ANSWERS) {
      const { of, first } = card(built, choices, true, ['after']);
      const dry = of('bowls').find((s) => /run it dry|runs? dry/i.test(s.text));
      if (dry) expect(of('fogging').length).toBeGreaterThan(0);
      const [fog, back] = [of('fogging').at(0), of('fogging').at(-1)];
      if (fog && back) expect(first(fog, back)).toBe(true);
    }
});
