import { TASK_KINDS, type TaskKind } from '@diurna/core/service';
import {
  clashText,
  isAccessTemplate,
  knownSteps,
  openOnArrival,
  safeOrder,
  shippedOf,
  stateFaults,
  TEMPLATE_KEYS,
  templateFaults,
  violationsOf,
  visitSteps,
  workingOrder,
  type Fact,
  type Step,
  type TemplateLine,
} from '@diurna/core/visit';
import { seeded } from '@diurna/demo/random';
import fc from 'fast-check';
import { anyVisit, inAnyOrder, visitOf, type Build } from '../core/visit/test/any-visit.ts';
import { shortestOfAll } from '../core/visit/test/exhaustive.ts';
import { BIG_VISIT } from '../core/visit/test/visits.ts';
import { median, row } from './report.ts';
import { smallNet } from './visit.ts';

/** Fifteen tasks of a full programme; interim looks are among them. */
const PROGRAMME: readonly TaskKind[] = [...BIG_VISIT, 'compression', 'battery', 'flush'];
const EDITS = 500;
const CARDS_AN_EDIT = 10;
const ORDERED = 600;

type Engines = (Build & { kinds: readonly TaskKind[] })[];
const builds = (n: number, seed: number): Engines[] => fc.sample(anyVisit, { numRuns: n, seed });

/** What an order by chance of these engines would do wrong, and what cannot be kept apart. */
function wrongOf(engines: Engines, seed: number): string[] {
  const tasks = visitOf(engines);
  if (tasks.length === 0) return [];
  const clashes: string[] = [];
  const steps = visitSteps(tasks, {}, (c) => clashes.push(clashText(c)));
  return [...clashes, ...violationsOf(inAnyOrder(steps, seed), openOnArrival(tasks)).map((v) => `${v.step} ${v.fact}`)];
}

/**
 * Every set of the programme's tasks, for both strokes, each with a build and answers by chance; then several engines.
 */
function benchSets(): void {
  const pool = builds(2_000, 4).flat();
  let cards = 0;
  let wrong = 0;
  for (let set = 1; set < 2 ** PROGRAMME.length; set++) {
    const kinds = PROGRAMME.filter((_, i) => (set >> i) & 1);
    for (const stroke of [2, 4] as const) {
      const build = pool[(set * 2 + stroke) % pool.length]!;
      if (wrongOf([{ ...build, stroke, kinds }], set).length > 0) wrong++;
      cards++;
    }
  }
  const several = builds(6_000, 5);
  for (const [i, engines] of several.entries()) if (wrongOf(engines, i).length > 0) wrong++;
  cards += several.length;
  row(
    'cards whose order can hurt the engine, orders by chance',
    `${wrong}`,
    '0',
    wrong === 0,
    `${cards} cards: all ${2 ** PROGRAMME.length - 1} sets of ${PROGRAMME.length} tasks x 2 strokes, builds and answers sampled (seed 4), and any tasks on one to three engines (seed 5); 330 of 896 before the state was known`,
  );
  let shown = 0;
  for (const engines of builds(ORDERED, 6)) {
    const tasks = visitOf(engines);
    if (violationsOf(workingOrder(visitSteps(tasks)).steps, openOnArrival(tasks)).length > 0) shown++;
  }
  row(
    'working orders as they are shown that can',
    `${shown}`,
    '0',
    shown === 0,
    `${ORDERED} cards of one to three engines (seed 6)`,
  );
}

/** A template with a few changes by chance. */
function editOf(lines: readonly TemplateLine[], random: ReturnType<typeof seeded>): TemplateLine[] {
  let own = [...lines];
  const facts: Fact[] = ['cylinders', 'sump oil', 'gear oil', 'fuel filter', 'battery', 'lower unit'];
  for (let n = random.whole(1, 3); n > 0; n--) {
    const i = random.whole(0, own.length - 1);
    const other = random.pick(own);
    const key = `own ${n}`;
    const fresh = { key, text: `Own step ${n}`, share: 1, after: [other.once ?? other.key] };
    const kind = random.pick(['drop', 'after', 'free', 'run', 'open', 'swap']);
    if (kind === 'drop' && own.length > 1) own = own.filter((_, k) => k !== i);
    if (kind === 'after' && other.key !== own[i]!.key)
      own = own.map((l, k) => (k === i ? { ...l, after: [...(l.after ?? []), other.once ?? other.key] } : l));
    if (kind === 'free') own = own.map((l, k) => (k === i ? { ...l, after: [] } : l));
    if (kind === 'run' && !own.some((l) => l.key === key))
      own.push({ ...fresh, turns: random.pick(['early', 'late', 'crank']) });
    if (kind === 'open' && !own.some((l) => l.key === key)) own.push({ ...fresh, opens: [random.pick(facts)] });
    if (kind === 'swap') own = own.map((l, k) => (k === i ? { ...l, after: [...(other.after ?? [])] } : l));
  }
  return own;
}

function benchEdits(): void {
  const random = seeded(13);
  const keys = TEMPLATE_KEYS.filter((k): k is TaskKind => !isAccessTemplate(k));
  let refused = 0;
  let hurt = 0;
  for (let n = 0; n < EDITS; n++) {
    const key = random.pick(keys);
    const lines = editOf(shippedOf(key), random);
    if (templateFaults(lines, shippedOf(key), knownSteps(), key).length > 0 || stateFaults(key, lines).length > 0) {
      refused++;
      continue;
    }
    for (const [i, engines] of builds(CARDS_AN_EDIT, n).entries()) {
      const tasks = visitOf(engines.map((e) => ({ ...e, kinds: [...new Set([...e.kinds, key])] })));
      const steps = visitSteps(tasks, { [key]: lines });
      if (violationsOf(inAnyOrder(steps, i), openOnArrival(tasks)).length > 0) {
        hurt++;
        break;
      }
    }
  }
  row(
    'edits of templates that are kept and can hurt an engine',
    `${hurt}`,
    '0',
    hurt === 0,
    `${EDITS} edits by chance (seed 13), ${refused} refused; each kept one on ${CARDS_AN_EDIT} cards with any tasks`,
  );
}

/** A net of few steps in which things are opened and closed, and an engine is run or cranked. */
function statefulNet(seed: number): Step[] {
  const random = seeded(seed);
  const net = smallNet(seed).map((s) => ({ ...s, engineId: 1 }));
  const facts: Fact[] = ['cylinders', 'gear oil', 'fuel filter'];
  for (const fact of facts.slice(0, random.whole(1, 3))) {
    const opener = random.whole(0, net.length - 3);
    const closer = random.whole(opener + 1, net.length - 2);
    const opening = net[opener]!;
    net[opener] = { ...opening, opens: [...opening.opens, fact] };
    const closing = net[closer]!;
    net[closer] = {
      ...closing,
      closes: [...closing.closes, fact],
      after: [...new Set([...closing.after, opening.id])],
    };
  }
  const free = net.flatMap((s, i) => (s.opens.length + s.closes.length === 0 ? [i] : []));
  if (free.length > 0) {
    const run = random.pick(free);
    net[run] = { ...net[run]!, turns: 'late' };
  }
  return net;
}

function benchShortest(): void {
  let equal = 0;
  let nets = 0;
  for (let seed = 1; nets < 60 && seed < 400; seed++) {
    const clashes: unknown[] = [];
    const steps = safeOrder(statefulNet(seed), new Map(), (c) => clashes.push(c));
    if (clashes.length > 0) continue;
    nets++;
    const { elapsed, steps: shown } = workingOrder(steps);
    if (Math.abs(elapsed - shortestOfAll(steps)) < 1e-6 && violationsOf(shown).length === 0) equal++;
  }
  row(
    'orders of 6 to 12 steps shortest among the safe ones',
    `${equal} of ${nets}`,
    'all',
    equal === nets,
    'every order tried that runs before or after what is open, as the step says',
  );
}

/** How much longer cards are for being safe. */
function benchCost(): void {
  const random = seeded(17);
  const shares: number[] = [];
  const minutes: number[] = [];
  for (let n = 0; n < 200; n++) {
    const kinds = BIG_VISIT.filter(() => random.chance(0.5));
    const build: Build = {
      powerHp: random.pick([6, 60, 115, 200]),
      stroke: 4,
      cylinders: 4,
      traits: {},
      choices: {},
      unknownHistory: false,
    };
    const tasks = visitOf(Array.from({ length: random.whole(1, 2) }, () => ({ ...build, kinds })));
    if (tasks.length === 0) continue;
    const safe = workingOrder(visitSteps(tasks)).elapsed;
    const free = workingOrder(visitSteps(tasks, {}, undefined, (steps) => [...steps])).elapsed;
    minutes.push(safe - free);
    shares.push(safe / free - 1);
  }
  const mean = (of: number[]) => of.reduce((a, b) => a + b, 0) / of.length;
  row(
    'how much longer safety makes a card',
    `${mean(minutes).toFixed(1)} min`,
    'told',
    true,
    `${(100 * mean(shares)).toFixed(1)} % on average, median ${(100 * median(shares)).toFixed(1)} %, at most ${Math.max(...minutes).toFixed(0)} min; 200 cards by chance against the same steps kept apart by nothing but their templates`,
  );
}

/** Whether orders can hurt an engine, and what that costs. */
export function benchSafety(): void {
  if (TASK_KINDS.length < PROGRAMME.length) throw new Error('tasks are missing');
  benchSets();
  benchEdits();
  benchShortest();
  benchCost();
}
