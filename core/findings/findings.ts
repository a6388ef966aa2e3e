import { type ModelTraits } from '../fleet/index.ts';
import type { TaskKind } from '../service/index.ts';
import {
  inBothUnits,
  kilopascals,
  newtonMetres,
  round,
  toMillilitres,
  unitTrap,
  VOLUME_UNITS,
  type PrintedVolume,
  type VolumeUnit,
} from '../units/index.ts';
import {
  READING_UNITS,
  readingKey,
  readingOf,
  READINGS,
  type ReadingKind,
  type ReadingUnit,
  type ReadingValue,
} from './readings.ts';

/** What a finding asks for. Nothing of it happens before a person says so. */
export type Proposal =
  /** Further work: now, once the one before it in the list is done, or in so many days. */
  | { kind: 'follow-up'; task: TaskKind; when: 'now' | 'after the one before' | number }
  /** The engine must not go out before these are in the service log and a person lets it go. */
  | { kind: 'hold'; checks: TaskKind[] }
  /** The task's interval on this boat is cut to so many percent. */
  | { kind: 'shorten'; task: TaskKind; percent: number }
  /** The task's parts are put on order for this engine. */
  | { kind: 'order'; task: TaskKind };

export const WEIGHTS = ['normal', 'watch', 'act', 'hold', 'stop'] as const;
export type Weight = (typeof WEIGHTS)[number];

export interface Finding {
  /** Stable while its readings say the same: engine and code. */
  key: string;
  engineId: number;
  code: string;
  /** The readings it rests on. */
  from: string[];
  weight: Weight;
  /** What was seen, what it means, what is best done, each a sentence. */
  seen: string;
  means: string;
  does: string;
  proposals: Proposal[];
}

/** What the judgement of readings hangs on. */
export interface FindingEngine {
  id: number;
  cylinders: number;
  traits: ModelTraits;
  sump: PrintedVolume | null;
  gearCase: PrintedVolume | null;
  /** Nothing was changed in it before: a little swarf is normal then. */
  firstOil: boolean;
}

export type Readings = Readonly<Record<string, ReadingValue>>;

/** The most the highest and the lowest cylinder may differ, of the highest. Common practice, no source. */
export const COMPRESSION_SPREAD = 0.15;
/** "15 %". */
export const COMPRESSION_SPREAD_TEXT = `${COMPRESSION_SPREAD * 100} %`;
/** So far apart a cylinder is not to be trusted at sea. Common practice, no source. */
const SEVERE_SPREAD = 0.3;
/** More out than in by this share: something got into the oil. Common practice, no source. */
const GAINED = 0.05;
const ANODE_SPENT = 50;
const ANODE_FAST = 33;
/** Line at the shaft: the lube is looked at again after so many days. Common practice, no source. */
const LOOK_AGAIN_DAYS = 28;
const SOON_DAYS = 14;

/** (highest - lowest) / highest; null with fewer than two cylinders read. */
export function compressionSpread(pressures: readonly number[]): number | null {
  if (pressures.length < 2) return null;
  const highest = Math.max(...pressures);
  return highest <= 0 ? null : (highest - Math.min(...pressures)) / highest;
}

/** Whether cylinders so far apart pass; exactly at the limit they do. */
export const spreadPasses = (spread: number): boolean => spread <= COMPRESSION_SPREAD + 1e-9;

/** Kilopascals of a pressure as read; null for a unit that is none. */
export function kilopascalsOf({ value, unit }: { value: number; unit: string }): number | null {
  return unit === 'kPa' ? value : unit === 'bar' ? value * 100 : unit === 'psi' ? kilopascals(value) : null;
}
/** Newton metres of a torque as read, from N·m or lbf·ft; null for a unit that is none. */
export const newtonMetresOf = ({ value, unit }: { value: number; unit: string }): number | null =>
  unit === 'N·m' ? value : unit === 'lbf·ft' ? newtonMetres(value) : null;
/** Millilitres of a volume as read; null for a unit that is none. */
export function millilitresOf({ value, unit }: { value: number; unit: string }): number | null {
  return VOLUME_UNITS.includes(unit as VolumeUnit) ? toMillilitres(value, unit as VolumeUnit) : null;
}

const percent = (share: number) => `${round(share * 100, 1)} %`;

const TANK_WHEN_IN = 'Look at the tank when the boat is in anyway.';

/**
 * Every finding of one engine's readings, worst first: what was seen, what it means, and what the book proposes.
 * Common practice, no source; the engine maker's manual outranks it.
 */
export function findingsOf(engine: FindingEngine, readings: Readings): Finding[] {
  const found: Finding[] = [];
  const at = (kind: ReadingKind, part: string | number | null = null) => readings[readingKey(engine.id, kind, part)];
  /** Values of a kind whatever its part, with their keys. */
  const all = (kind: ReadingKind) =>
    Object.entries(readings).flatMap(([key, value]) => {
      const of = readingOf(key);
      return of?.engineId === engine.id && of.kind === kind ? [{ key, part: of.part, value }] : [];
    });
  const choice = (kind: ReadingKind) => {
    const value = at(kind);
    return value && 'choice' in value ? value.choice : null;
  };
  const add = (
    code: string,
    from: string[],
    weight: Weight,
    seen: string,
    means: string,
    does: string,
    proposals: Proposal[] = [],
  ) => {
    found.push({ key: `${engine.id} ${code}`, engineId: engine.id, code, from, weight, seen, means, does, proposals });
  };
  const key = (kind: ReadingKind) => readingKey(engine.id, kind);

  const lube = choice('lube look');
  if (lube === 'milky' || lube === 'water') {
    add(
      'water in lube',
      [key('lube look')],
      'hold',
      lube === 'milky' ? 'The gear lube is milky.' : 'Water ran out of the gear case first.',
      'Water has come past a seal; left in, it ruins the bearings and freezes the case.',
      'Hold it. Pressure test and seals, line at the shaft, then fresh lube. Never just refill.',
      [
        { kind: 'hold', checks: ['gear-seals', 'gear-lube'] },
        { kind: 'follow-up', task: 'prop-shaft', when: 'now' },
        { kind: 'follow-up', task: 'gear-seals', when: 'now' },
        { kind: 'follow-up', task: 'gear-lube', when: 'after the one before' },
      ],
    );
  }
  if (lube === 'grit')
    add(
      'grit in lube',
      [key('lube look')],
      'hold',
      'Grit in the gear lube, or more than fuzz on the magnet.',
      'Teeth, dogs or bearings are wearing.',
      'Hold it and look into the gears.',
      [
        { kind: 'hold', checks: ['gear-inspection'] },
        { kind: 'follow-up', task: 'gear-inspection', when: 'now' },
      ],
    );

  const oil = choice('oil look');
  const out = at('oil out');
  const label = engine.sump;
  const gained = out && 'value' in out && label ? gainOf(out, label) : null;
  const risen = choice('oil level') === 'above' && at('oil in') === undefined;
  if (oil === 'thin' || gained !== null || (risen && oil === null)) {
    const from = [
      oil === 'thin' && key('oil look'),
      gained !== null && key('oil out'),
      risen && oil === null && key('oil level'),
    ].filter((k) => k !== false);
    const seen =
      oil === 'thin'
        ? 'The engine oil is thin and smells of fuel.'
        : gained !== null
          ? `${gained} more oil came out than the label says goes in.`
          : 'The oil level has risen since it was filled.';
    add(
      'fuel in oil',
      from,
      'act',
      seen,
      'Fuel gets into the sump: the oil no longer carries, and its vapour burns.',
      'Change it now, mend the fuel system, and change it again after that.',
      [
        { kind: 'follow-up', task: 'engine-oil', when: 'now' },
        { kind: 'follow-up', task: 'fuel-repair', when: 'after the one before' },
        { kind: 'follow-up', task: 'engine-oil', when: 'after the one before' },
      ],
    );
  }
  if (oil === 'milky')
    add(
      'water in oil',
      [key('oil look')],
      'hold',
      'The engine oil is milky.',
      'Water in the sump: a head gasket, a cooler, or it was under water.',
      'Hold it until it is known where the water comes from, and change the oil again.',
      [
        { kind: 'hold', checks: ['leak-down', 'engine-oil'] },
        { kind: 'follow-up', task: 'leak-down', when: 'now' },
        { kind: 'follow-up', task: 'engine-oil', when: 'after the one before' },
      ],
    );
  const metal = [oil === 'metal' && key('oil look'), choice('filter seat') === 'metal' && key('filter seat')].filter(
    (k) => k !== false,
  );
  if (metal.length > 0) {
    const seen =
      metal.length === 2
        ? 'Metal in the oil and at the filter.'
        : oil === 'metal'
          ? 'Metal in the oil or on the drain screw.'
          : 'Metal at the filter’s seat.';
    if (engine.firstOil)
      add(
        'swarf',
        metal,
        'watch',
        seen,
        'A little swarf is normal at the first change of a new engine.',
        'Nothing more now; look again at the next change.',
      );
    else
      add(
        'metal in oil',
        metal,
        'act',
        seen,
        'Something inside is wearing.',
        'Find out what before it runs hard again.',
        [{ kind: 'follow-up', task: 'oil-trace', when: 'now' }],
      );
  }

  const pressures = all('compression').flatMap(({ key: k, part, value }) => {
    const kpa = 'value' in value ? kilopascalsOf(value) : null;
    return kpa === null || kpa <= 0
      ? []
      : [{ key: k, cylinder: Number(part), kpa, value: value as { value: number; unit: string } }];
  });
  const spread = pressures.length < engine.cylinders ? null : compressionSpread(pressures.map((p) => p.kpa));
  const floor = engine.traits.compressionFloorKpa;
  const low = floor === null ? [] : pressures.filter((p) => p.kpa < floor);
  if ((spread !== null && !spreadPasses(spread)) || low.length > 0) {
    const weakest = [...pressures].sort((a, b) => a.kpa - b.kpa)[0]!;
    const severe = (spread ?? 0) > SEVERE_SPREAD || low.length > 0;
    const seen =
      low.length > 0
        ? `Cylinder ${weakest.cylinder} makes ${weakest.value.value} ${weakest.value.unit}, below the model’s floor.`
        : `The cylinders lie ${percent(spread!)} apart; cylinder ${weakest.cylinder} is the weakest. ${COMPRESSION_SPREAD_TEXT} is the most.`;
    add(
      'compression',
      pressures.map((p) => p.key),
      severe ? 'hold' : 'act',
      seen,
      'A cylinder is worn or leaks: rings, valves or head gasket.',
      severe ? 'Hold it; test again and by leak-down.' : 'Test again warm, then by leak-down.',
      [
        ...(severe ? [{ kind: 'hold' as const, checks: ['leak-down' as const] }] : []),
        { kind: 'follow-up', task: 'compression', when: 'now' },
        { kind: 'follow-up', task: 'leak-down', when: 'now' },
      ],
    );
  }

  for (const [is, code, word, means, does, proposals] of PLUGS) {
    const plugs = all('plug look').filter(({ value }) => 'choice' in value && value.choice === is);
    if (plugs.length > 0)
      add(
        code,
        plugs.map((p) => p.key),
        is === 'sooty' ? 'watch' : 'act',
        `${plugs.length === engine.cylinders && plugs.length > 1 ? 'All plugs are' : `Plug ${plugs.map((p) => p.part).join(', ')} is`} ${word}.`,
        means,
        does,
        [...proposals],
      );
  }
  const gap = at('plug gap');
  if (gap && 'value' in gap && engine.traits.plugGapMm !== null) {
    const mm = gap.unit === 'in' ? gap.value * 25.4 : gap.value;
    if (Math.abs(mm - engine.traits.plugGapMm) > 0.1 + 1e-9)
      add(
        'plug gap',
        [key('plug gap')],
        'watch',
        `The gap is ${round(mm, 2)} mm; the model wants ${engine.traits.plugGapMm} mm.`,
        'It will misfire or start badly.',
        'Set it before the plug goes in.',
      );
  }

  const wheel = choice('impeller look');
  if (wheel === 'missing')
    add(
      'vane missing',
      [key('impeller look')],
      'act',
      'A piece of the old impeller is missing.',
      'It sits further up and will block a passage.',
      'Search the passages before the unit goes back on.',
      [{ kind: 'follow-up', task: 'passages', when: 'now' }],
    );
  else if (wheel === 'cracked' || wheel === 'set')
    add(
      'impeller worn',
      [key('impeller look')],
      'watch',
      wheel === 'set' ? 'The old vanes have set or are hard.' : 'The old vanes are cracked.',
      'It was due: it would not have pumped much longer.',
      'The new one is in; the interval is not to be stretched on this boat.',
    );
  const pump = choice('pump metal');
  if (pump === 'groove' || pump === 'housing') {
    add(
      'sand in pump',
      [key('pump metal')],
      'act',
      pump === 'groove' ? 'A groove in the pump’s liner or plate.' : 'The pump’s housing is scratched.',
      'Sand was in it, and the metal will eat the next impeller.',
      `${pump === 'groove' ? 'A whole kit' : 'A new housing and kit'} goes in, and this boat’s pump comes round sooner.`,
      [
        { kind: 'order', task: 'impeller' },
        { kind: 'shorten', task: 'impeller', percent: 50 },
      ],
    );
  }

  const stream = choice('stream');
  if (stream === 'weak' || stream === 'none')
    add(
      'cooling',
      [key('stream')],
      'hold',
      stream === 'none' ? 'No cooling stream.' : 'The cooling stream is weak or late.',
      'The pump does not deliver: it overheats under load.',
      'Hold it. Pump now; if the pump is new, search the passages.',
      [
        { kind: 'hold', checks: ['impeller'] },
        { kind: 'follow-up', task: 'impeller', when: 'now' },
      ],
    );
  if (choice('shift') === 'wrong')
    add(
      'shift',
      [key('shift')],
      'hold',
      'Neutral, forward and reverse do not all work.',
      'The shift shaft is not joined right, or the dogs are worn.',
      'Hold it. Off with the unit, join it again, test again.',
      [
        { kind: 'hold', checks: ['gear-inspection'] },
        { kind: 'follow-up', task: 'gear-inspection', when: 'now' },
      ],
    );

  const line = choice('shaft line');
  if (line === 'line')
    add(
      'line at shaft',
      [key('shaft line')],
      'watch',
      'Line round the propeller shaft; the seal looks sound.',
      'The seal is at risk.',
      'It is off now. Look at the lube again in four weeks.',
      [{ kind: 'follow-up', task: 'gear-lube', when: LOOK_AGAIN_DAYS }],
    );
  if (line === 'seal')
    add(
      'line in seal',
      [key('shaft line')],
      'act',
      'Line has cut into the shaft’s seal.',
      'Water will come in.',
      'Pressure test and seals soon, then look at the lube.',
      [
        { kind: 'follow-up', task: 'gear-seals', when: SOON_DAYS },
        { kind: 'follow-up', task: 'gear-lube', when: 'after the one before' },
      ],
    );

  const anode = at('anode left');
  if (anode && 'value' in anode && anode.value < ANODE_SPENT) {
    const fast = anode.value < ANODE_FAST;
    add(
      'anode',
      [key('anode left')],
      fast ? 'act' : 'watch',
      `${round(anode.value, 0)} % of the anode is left.`,
      fast ? 'It goes faster than it should: bonding, or current in the water.' : 'It is spent.',
      fast ? 'A new one, bonding looked at, and this boat’s anodes sooner.' : 'A new one goes on.',
      [
        { kind: 'order', task: 'anodes' },
        ...(fast
          ? [
              { kind: 'follow-up' as const, task: 'bonding' as const, when: SOON_DAYS },
              { kind: 'shorten' as const, task: 'anodes' as const, percent: 50 },
            ]
          : []),
      ],
    );
  }

  const fuel = choice('fuel filter look');
  if (fuel === 'dark')
    add(
      'fuel dirty',
      [key('fuel filter look')],
      'watch',
      'The fuel filter is darker than a new one.',
      'Dirt comes with the fuel.',
      TANK_WHEN_IN,
      [{ kind: 'follow-up', task: 'tank-check', when: LOOK_AGAIN_DAYS }],
    );
  const water = [
    fuel === 'water' && key('fuel filter look'),
    choice('separator look') === 'water' && key('separator look'),
  ].filter((k) => k !== false);
  if (water.length > 0)
    add(
      'water in fuel',
      water,
      'act',
      'Water in the fuel.',
      'It stops the engine and rusts the injectors.',
      'Draw the tank’s bottom, look at cap and vent.',
      [{ kind: 'follow-up', task: 'tank-check', when: 'now' }],
    );
  if (choice('separator look') === 'dirt')
    add(
      'dirt in fuel',
      [key('separator look')],
      'watch',
      'Dirt in the separator.',
      'It comes from the tank.',
      TANK_WHEN_IN,
      [{ kind: 'follow-up', task: 'tank-check', when: LOOK_AGAIN_DAYS }],
    );

  const leak = choice('leak');
  if (leak === 'leaks')
    add(
      'leak',
      [key('leak')],
      'hold',
      'It goes on leaking after it was tightened.',
      'A seal or a joint has failed.',
      'Hold it until it is dry.',
      [
        { kind: 'hold', checks: ['look-over'] },
        { kind: 'follow-up', task: 'look-over', when: 'now' },
      ],
    );
  else if (leak === 'sheen' || leak === 'drip')
    add(
      'drip',
      [key('leak')],
      'watch',
      leak === 'drip' ? 'It dripped and is dry now.' : 'A sheen on the water.',
      'Spilt oil runs off for a day; a leak goes on.',
      'Look again after the first outing; hold it if it goes on.',
      [{ kind: 'follow-up', task: 'first-outing', when: 1 }],
    );
  if (choice('sheen') === 'sheen')
    add(
      'sheen stays',
      [key('sheen')],
      'act',
      'The sheen is still there after the outing.',
      'It is no spilt oil: something leaks.',
      'Find the joint before the next hire.',
      [{ kind: 'follow-up', task: 'look-over', when: 'now' }],
    );

  for (const { key: k, part, value } of all('screw')) {
    const is = 'choice' in value ? value.choice : null;
    if (is !== 'tight' && is !== 'seized') continue;
    const task: TaskKind = part === 'gear-lube' ? 'gear-lube' : 'engine-oil';
    add(
      `screw ${task}`,
      [k],
      'watch',
      is === 'seized' ? 'A screw was seized.' : 'A screw was far tighter than it should be.',
      'Corrosion, or somebody over-tightened it.',
      'Allow time, and put a new screw in.',
      [{ kind: 'order', task }],
    );
  }
  for (const { key: k, value } of all('torque')) {
    const nm = 'value' in value ? newtonMetresOf(value) : null;
    const wanted = engine.traits[TORQUE_OF[readingOf(k)!.part ?? 'propeller'] ?? 'drainScrewNm'];
    if (nm !== null && typeof wanted === 'number' && Math.abs(nm / wanted - 1) > 0.2)
      add(
        `torque ${readingOf(k)!.part ?? ''}`.trim(),
        [k],
        'watch',
        `Tightened to ${round(nm, 1)} N·m; the model says ${round(wanted, 1)} N·m.`,
        nm > wanted ? 'Aluminium threads strip.' : 'It may work loose.',
        'Set it to the model’s figure.',
      );
  }

  const gaskets = at('gaskets out');
  if (gaskets && 'value' in gaskets && gaskets.value < engine.traits.gearScrews) {
    add(
      'gasket stuck',
      [key('gaskets out')],
      'stop',
      `${gaskets.value} of ${engine.traits.gearScrews} old gaskets came out.`,
      'One is still in the port; a new one on top of it leaks.',
      'Stop and find it before new ones go on.',
    );
  }
  volumeFinding(at('oil in'), engine.sump, 'oil in', add, key('oil in'));
  volumeFinding(at('lube in'), engine.gearCase, 'lube in', add, key('lube in'));
  if (choice('oil level') === 'below')
    add(
      'level low',
      [key('oil level')],
      'act',
      'The oil stands below the lower mark after the run.',
      'It runs dry in a turn.',
      'Top up to the upper half and read again.',
    );
  if (choice('oil level') === 'above' && at('oil in') !== undefined)
    add(
      'level high',
      [key('oil level')],
      'act',
      'The oil stands above the upper mark after the run.',
      'Too much foams and gets into the intake.',
      'Draw some off and read again.',
    );
  return found.sort((a, b) => WEIGHTS.indexOf(b.weight) - WEIGHTS.indexOf(a.weight));
}

/** Which torque of the model a step's reading is held against. */
const TORQUE_OF: Record<string, keyof ModelTraits> = {
  'engine-oil': 'drainScrewNm',
  'oil-filter': 'filterNm',
  'spark-plugs': 'plugNm',
  'gear-lube': 'gearScrewNm',
  propeller: 'propNutNm',
};

const PLUGS: readonly (readonly [
  is: string,
  code: string,
  word: string,
  means: string,
  does: string,
  proposals: readonly Proposal[],
])[] = [
  ['sooty', 'plugs sooty', 'sooty', 'It runs rich.', 'Look at the fuel system if the next ones foul too.', []],
  [
    'oily',
    'plugs oily',
    'oily',
    'Oil gets past rings or guides.',
    'Measure compression.',
    [{ kind: 'follow-up', task: 'compression', when: SOON_DAYS }],
  ],
  [
    'white',
    'plugs white',
    'very white',
    'It runs lean or hot.',
    'Fuel filter and cooling looked at before it runs hard.',
    [
      { kind: 'follow-up', task: 'fuel-filter', when: SOON_DAYS },
      { kind: 'follow-up', task: 'thermostat', when: SOON_DAYS },
    ],
  ],
];

function gainOf(out: { value: number; unit: string }, label: PrintedVolume): string | null {
  const ml = millilitresOf(out);
  if (ml === null || unitTrap(out as PrintedVolume, label) !== null) return null;
  const share = ml / toMillilitres(label.value, label.unit) - 1;
  return share > GAINED ? percent(share) : null;
}

function volumeFinding(
  value: ReadingValue | undefined,
  label: PrintedVolume | null,
  code: string,
  add: (code: string, from: string[], weight: Weight, seen: string, means: string, does: string) => void,
  from: string,
): void {
  if (!value || !('value' in value) || label === null || millilitresOf(value) === null) return;
  const trap = unitTrap(value as PrintedVolume, label);
  if (trap !== null) {
    add(
      `${code} unit`,
      [from],
      'act',
      `${value.value} ${value.unit} went in; the label says ${inBothUnits(label)}.`,
      `${value.value} looks like ${trap}, not ${value.unit}.`,
      'Look at the bottle and at the dipstick, and correct the figure or the filling.',
    );
    return;
  }
  const share = millilitresOf(value)! / toMillilitres(label.value, label.unit) - 1;
  if (share > 0.08)
    add(
      `${code} much`,
      [from],
      'watch',
      `${value.value} ${value.unit} went in, ${percent(share)} more than the label.`,
      code === 'oil in' ? 'Too much foams and gets into the intake.' : 'The label is for a drained case.',
      'Read the level again before the boat goes.',
    );
}

/** What stands in the way of a reading that is asked for; null = it can be taken. Looks have to be one of those offered, figures lie within what can be. */
export function readingFault(kind: ReadingKind, value: ReadingValue): string | null {
  const info = READINGS[kind];
  if (info.options)
    return 'choice' in value && info.options.some((o) => o.key === value.choice)
      ? null
      : `Choose one of: ${info.options.map((o) => o.word).join(', ')}.`;
  if (!('value' in value) || !Number.isFinite(value.value) || value.value < 0)
    return 'A figure of 0 or more is wanted.';
  if (!READING_UNITS[info.unit!].includes(value.unit)) return `It is given in ${READING_UNITS[info.unit!].join(', ')}.`;
  const { most, of } = LIMITS[info.unit!];
  return of(value)! > most ? `${value.value} ${value.unit} cannot be right. Look at the figure and its unit.` : null;
}

/** More than this is a slip of the hand or the wrong unit, in whichever unit it was read. No petrol outboard comes near. Common practice, no source. */
const LIMITS: Record<ReadingUnit, { most: number; of: (value: { value: number; unit: string }) => number | null }> = {
  volume: { most: 60_000, of: millilitresOf },
  torque: { most: 500, of: newtonMetresOf },
  pressure: { most: 3000, of: kilopascalsOf },
  gap: { most: 10, of: ({ value, unit }) => (unit === 'in' ? value * 25.4 : value) },
  percent: { most: 100, of: ({ value }) => value },
  count: { most: 100, of: ({ value }) => value },
};
