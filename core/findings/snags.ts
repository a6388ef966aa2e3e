import { COMPRESSION_SPREAD } from './measures.ts';
import type { TaskKind } from '../service/index.ts';

/** What people at the dock notice. Common practice, no source. */
export const SYMPTOMS = [
  { key: 'mid-range heat', word: 'Runs hot in mid-range' },
  { key: 'weak stream', word: 'Weak or no cooling stream' },
  { key: 'alarm', word: 'Alarm, or limps home' },
  { key: 'rough idle', word: 'Rough idle, misfires' },
  { key: 'hard start', word: 'Starts badly' },
  { key: 'no power', word: 'Lacks power' },
  { key: 'sheen', word: 'Sheen on the water' },
  { key: 'hard shift', word: 'Hard shift, a clunk' },
  { key: 'vibration', word: 'Shakes or vibrates' },
  { key: 'smoke', word: 'Smokes' },
  { key: 'oil light', word: 'Oil-pressure light' },
  { key: 'stiff steering', word: 'Steering or tilt is stiff' },
  { key: 'grounded', word: 'Touched ground, hit something' },
  { key: 'propeller damage', word: 'Propeller chipped or bent' },
] as const;
export type SymptomKey = (typeof SYMPTOMS)[number]['key'];
export const SYMPTOM_KEYS = SYMPTOMS.map((s) => s.key) as [SymptomKey, ...SymptomKey[]];

/** What the book knows of the engine that speaks for or against a cause. */
export interface SnagEvidence {
  stroke: 2 | 4;
  sand: boolean;
  /**
   * By task: the share of its interval used (1 = at the limit), null = no history; and how that is said in words. A
   * task without a rule is left out.
   */
  used: Partial<Record<TaskKind, { share: number | null; text: string }>>;
  /** The latest looks, by reading kind. */
  looks: Partial<Record<string, { choice: string; text: string }>>;
  /** Spread of the last compression test, 0..1, and its words. */
  compression: { spread: number; text: string } | null;
  /** The engine was worked on within the last days: what was opened may leak. */
  openedLately: string | null;
}

export interface Cause {
  key: string;
  text: string;
  /** Chance among the causes named, 0..1; they add up to 1. */
  weight: number;
  /** Why it stands where it stands, each a few words. */
  evidence: string[];
  /** What a visit would do about it. */
  tasks: TaskKind[];
}

interface Rule {
  key: string;
  text: string;
  /** How often it is this, before anything is known of the engine. */
  base: number;
  tasks: TaskKind[];
  /** Worn parts make it likelier the more of their interval is used. */
  wears?: TaskKind;
  /** A look that speaks for it: kind and the choices that do. */
  looks?: { kind: string; choices: string[] };
  compression?: boolean;
  opened?: boolean;
  sand?: boolean;
  strokes?: 2 | 4;
}

const PUMP: Rule = {
  key: 'pump',
  text: 'Worn pump impeller',
  base: 5,
  tasks: ['impeller'],
  wears: 'impeller',
  looks: { kind: 'impeller look', choices: ['set', 'cracked', 'missing'] },
  sand: true,
};
const THERMOSTAT: Rule = {
  key: 'thermostat',
  text: 'Thermostat sticks',
  base: 2,
  tasks: ['thermostat'],
  wears: 'thermostat',
};
const PASSAGE: Rule = {
  key: 'passages',
  text: 'Passages blocked by salt or a piece of rubber',
  base: 1,
  tasks: ['passages', 'flush'],
  looks: { kind: 'impeller look', choices: ['missing'] },
  sand: true,
};
const PLUG: Rule = {
  key: 'plugs',
  text: 'Worn or fouled plugs',
  base: 4,
  tasks: ['spark-plugs'],
  wears: 'spark-plugs',
  looks: { kind: 'plug look', choices: ['sooty', 'oily', 'white'] },
};
const FUEL: Rule = {
  key: 'fuel',
  text: 'Dirt or water in the fuel',
  base: 3,
  tasks: ['fuel-filter', 'separator', 'tank-check'],
  wears: 'fuel-filter',
  looks: { kind: 'fuel filter look', choices: ['dark', 'water'] },
};
const CYLINDER: Rule = {
  key: 'compression',
  text: 'A weak cylinder',
  base: 1,
  tasks: ['compression'],
  compression: true,
};
const OIL: Rule = {
  key: 'oil',
  text: 'Oil low, old or thinned',
  base: 2,
  tasks: ['engine-oil', 'oil-filter'],
  wears: 'engine-oil',
  looks: { kind: 'oil look', choices: ['thin', 'metal', 'milky'] },
  strokes: 4,
};
const SEAL: Rule = {
  key: 'seals',
  text: 'Gear-case seal leaks',
  base: 2,
  tasks: ['gear-seals', 'gear-lube'],
  wears: 'gear-lube',
  looks: { kind: 'lube look', choices: ['milky', 'water'] },
};
const LINE: Rule = {
  key: 'line',
  text: 'Line round the propeller shaft',
  base: 2,
  tasks: ['prop-shaft'],
  wears: 'prop-shaft',
  looks: { kind: 'shaft line', choices: ['line', 'seal'] },
};
const OPENED: Rule = {
  key: 'opened',
  text: 'What was opened last leaks, or oil spilt then runs off',
  base: 1,
  tasks: ['first-outing', 'look-over'],
  opened: true,
  looks: { kind: 'leak', choices: ['sheen', 'drip', 'leaks'] },
};
const GEARS: Rule = {
  key: 'gears',
  text: 'Worn dogs or gears',
  base: 1.5,
  tasks: ['gear-inspection'],
  looks: { kind: 'lube look', choices: ['grit'] },
};
const PROPELLER: Rule = {
  key: 'propeller',
  text: 'Propeller damaged, or its hub slips',
  base: 4,
  tasks: ['prop-shaft'],
  wears: 'prop-shaft',
};
/** What a blow does that nobody sees from the dock. */
const BENT: Rule = {
  key: 'bent',
  text: 'Shaft or gear case bent or cracked by the blow',
  base: 2,
  tasks: ['prop-shaft', 'gear-lube'],
  looks: { kind: 'lube look', choices: ['milky', 'water', 'grit'] },
};
const LINKAGE: Rule = {
  key: 'linkage',
  text: 'Cable or linkage dry or out of adjustment',
  base: 3,
  tasks: ['grease'],
  wears: 'grease',
};

const RULES: Record<SymptomKey, Rule[]> = {
  'mid-range heat': [PUMP, THERMOSTAT, PASSAGE],
  'weak stream': [
    { ...PUMP, base: 6 },
    { ...PASSAGE, base: 2 },
  ],
  alarm: [PUMP, OIL, THERMOSTAT, { ...FUEL, base: 1 }],
  'rough idle': [PLUG, FUEL, CYLINDER, { ...OIL, base: 0.5 }],
  'hard start': [
    { ...PLUG, base: 3 },
    FUEL,
    { key: 'battery', text: 'Weak battery or bad contact', base: 4, tasks: ['battery'], wears: 'battery' },
    CYLINDER,
  ],
  'no power': [
    FUEL,
    PLUG,
    { ...CYLINDER, base: 1.5 },
    { key: PROPELLER.key, text: PROPELLER.text, base: 2, tasks: PROPELLER.tasks },
  ],
  sheen: [OPENED, SEAL, { key: 'fuel leak', text: 'Fuel joint leaks', base: 1.5, tasks: ['look-over', 'fuel-filter'] }],
  'hard shift': [LINKAGE, GEARS, { ...LINE, base: 1 }],
  vibration: [PROPELLER, LINE, { ...PLUG, base: 2 }, GEARS],
  smoke: [{ ...OPENED, text: 'Spilt oil burns off', base: 1.5 }, { ...PLUG, base: 1.5 }, CYLINDER, OIL],
  'oil light': [
    { ...OIL, base: 6 },
    {
      key: 'pressure',
      text: 'Oil pressure really low',
      base: 2,
      tasks: ['oil-trace'],
      looks: { kind: 'oil look', choices: ['metal', 'thin'] },
      strokes: 4,
    },
  ],
  'stiff steering': [{ ...LINKAGE, tasks: ['grease', 'steering-rod'], base: 5 }],
  grounded: [
    { ...PROPELLER, text: 'Propeller bent, or its hub sheared' },
    BENT,
    { ...PASSAGE, key: 'sand', text: 'Sand in the pump and the passages', base: 2, tasks: ['flush', 'impeller'] },
  ],
  'propeller damage': [PROPELLER, { ...BENT, base: 1.5 }, { ...LINE, base: 1 }],
};

/**
 * Likely causes of a symptom, likeliest first: how often it is that anyway, times what this engine's own
 * record says. Worn parts weigh up to three times as much, fresh ones a third; a look that fits, four times.
 * Common practice, no source.
 */
export function causesOf(symptom: SymptomKey, evidence: SnagEvidence): Cause[] {
  const causes = RULES[symptom]
    .filter((r) => r.strokes === undefined || r.strokes === evidence.stroke)
    .map((r) => {
      let weight = r.base;
      const said: string[] = [];
      const used = r.wears === undefined ? undefined : evidence.used[r.wears];
      if (used) {
        // Unknown history is as bad as run out.
        const share = used.share === null ? 1 : Math.min(1.5, Math.max(0, used.share));
        weight *= share <= 0.5 ? 1 / 3 + (share / 0.5) * (2 / 3) : 1 + (share - 0.5) * 2;
        said.push(used.text);
      }
      const look = r.looks === undefined ? undefined : evidence.looks[r.looks.kind];
      if (look && r.looks) {
        const fits = r.looks.choices.includes(look.choice);
        weight *= fits ? 4 : 0.7;
        said.push(look.text);
      }
      if (r.compression && evidence.compression) {
        weight *= evidence.compression.spread > COMPRESSION_SPREAD ? 6 : evidence.compression.spread > 0.1 ? 2 : 0.4;
        said.push(evidence.compression.text);
      }
      if (r.opened) {
        weight *= evidence.openedLately === null ? 0.5 : 5;
        said.push(evidence.openedLately ?? 'nothing was opened lately');
      }
      if (r.sand && evidence.sand) {
        weight *= 1.5;
        said.push('works in sand');
      }
      return { key: r.key, text: r.text, weight, evidence: said, tasks: r.tasks };
    });
  const sum = causes.reduce((all, c) => all + c.weight, 0);
  return causes.map((c) => ({ ...c, weight: c.weight / sum })).sort((a, b) => b.weight - a.weight);
}

/** What a visit would do about it: the tasks of the causes that together make up most of the chance. */
export function visitFor(causes: readonly Cause[], enough = 0.75): TaskKind[] {
  const tasks: TaskKind[] = [];
  let sum = 0;
  for (const c of causes) {
    if (sum >= enough) break;
    for (const t of c.tasks) if (!tasks.includes(t)) tasks.push(t);
    sum += c.weight;
  }
  return tasks;
}
