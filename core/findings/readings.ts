/** What is seen or measured at an engine while it is worked on. Common practice, no source. */
export const READING_KINDS = [
  'oil look',
  'oil out',
  'oil level found',
  'oil in',
  'oil topped up',
  'oil added',
  'oil level before',
  'oil level',
  'oil light',
  'oil pressure',
  'oil pressure look',
  'filter seat',
  'metal kind',
  'lube look',
  'lube in',
  'seal pressure',
  'seal pressure again',
  'gears look',
  'gaskets out',
  'screw',
  'torque',
  'compression',
  'leak loss',
  'plug look',
  'plug gap',
  'impeller look',
  'pump metal',
  'pieces found',
  'thermostat look',
  'anode left',
  'fuel filter look',
  'separator look',
  'shaft line',
  'hub look',
  'under cowl',
  'stream',
  'shift',
  'leak',
  'sheen',
  'tank look',
  'battery volts',
  'waste',
] as const;
export type ReadingKind = (typeof READING_KINDS)[number];

/** How a look strikes one; the word stands beside the colour. */
export type Tone = 'fine' | 'watch' | 'bad';
export interface ReadingOption {
  key: string;
  word: string;
  tone: Tone;
}

export type ReadingUnit = 'volume' | 'torque' | 'pressure' | 'gap' | 'percent' | 'count' | 'voltage';

export interface ReadingInfo {
  /** What the card asks. */
  asks: string;
  /** A short name, for lists and curves. */
  word: string;
  /** Asked once for the engine, once for each cylinder, or once for the visit. */
  per: 'engine' | 'cylinder' | 'visit';
  /** Looks to choose from, or a figure in this sort of unit. */
  options?: readonly ReadingOption[];
  unit?: ReadingUnit;
  /** The step cannot be ticked without it. */
  needed: boolean;
  /** Kept as a curve over the engine's life. */
  trend: boolean;
  /** Only engines of that stroke have it. */
  stroke?: 2 | 4;
}

const look = (
  word: string,
  asks: string,
  options: readonly [key: string, word: string, tone: Tone][],
  more: Partial<ReadingInfo> = {},
): ReadingInfo => ({
  word,
  asks,
  per: 'engine',
  needed: true,
  trend: true,
  options: options.map(([key, w, tone]) => ({ key, word: w, tone })),
  ...more,
});
const figure = (word: string, asks: string, unit: ReadingUnit, more: Partial<ReadingInfo> = {}): ReadingInfo => ({
  word,
  asks,
  per: 'engine',
  needed: false,
  trend: true,
  unit,
  ...more,
});

const LEVELS: [string, string, Tone][] = [
  ['below', 'below the lower mark', 'bad'],
  ['lower', 'lower half', 'watch'],
  ['upper', 'upper half', 'fine'],
  ['full', 'at the upper mark', 'fine'],
  ['above', 'above the upper mark', 'bad'],
];
const SEPARATOR: [string, string, Tone][] = [
  ['clean', 'clean', 'fine'],
  ['dirt', 'dirt', 'watch'],
  ['water', 'water in the bowl', 'bad'],
];

export const READINGS: Record<ReadingKind, ReadingInfo> = {
  'oil look': look('Old oil', 'What came out?', [
    ['black', 'black, normal', 'fine'],
    ['thin', 'thin, smells of fuel', 'bad'],
    ['milky', 'milky', 'bad'],
    ['metal', 'metal in it or on the screw', 'bad'],
  ]),
  'oil out': figure('Oil out', 'How much came out?', 'volume'),
  'oil level found': look('Level as found', 'Where did it stand before it was drained?', LEVELS),
  'oil in': figure('Oil in', 'How much went in?', 'volume'),
  'oil topped up': figure('Oil topped up', 'Topped up before the run', 'volume', { trend: false }),
  'oil added': figure('Oil added', 'Added after the run', 'volume', { trend: false }),
  'oil level before': look('Level before the run', 'Where does it stand? Not final yet.', LEVELS, { trend: false }),
  'oil level': look('Oil level', 'Where does it stand now?', LEVELS),
  'oil light': look(
    'Oil-pressure light',
    'Oil-pressure light, engine running?',
    [
      ['out', 'out', 'fine'],
      ['none', 'it has none', 'fine'],
      ['lit', 'lit', 'bad'],
    ],
    { stroke: 4 },
  ),
  'oil pressure': figure('Oil pressure', 'At idle, warm', 'pressure'),
  'oil pressure look': look('Oil pressure, by the manual', 'Is it what the manual wants?', [
    ['right', 'yes', 'fine'],
    ['low', 'below it', 'bad'],
  ]),
  'metal kind': look('Metal', 'What did the magnet say?', [
    ['none', 'nothing to be seen', 'fine'],
    ['steel', 'steel: it clings', 'bad'],
    ['soft', 'soft and bright: a bearing', 'bad'],
  ]),
  'filter seat': look('Filter seat', 'Metal at the seat or in the old filter?', [
    ['clean', 'none', 'fine'],
    ['metal', 'metal', 'bad'],
  ]),
  'lube look': look('Gear lube', 'What came out?', [
    ['dark', 'dark and clear', 'fine'],
    ['clear', 'clear', 'fine'],
    ['milky', 'milky', 'bad'],
    ['water', 'water ran out first', 'bad'],
    ['grit', 'grit, or more than fuzz on the magnet', 'bad'],
  ]),
  'lube in': figure('Lube in', 'How much went in?', 'volume', { trend: false }),
  'seal pressure': look(
    'Gear case under pressure',
    'Does the pressure hold?',
    [
      ['holds', 'holds', 'fine'],
      ['falls', 'falls: seals are due', 'watch'],
    ],
    { trend: false },
  ),
  'seal pressure again': look('Gear case after the seals', 'Pressure and vacuum, do both hold?', [
    ['holds', 'both hold', 'fine'],
    ['falls', 'one of them falls', 'bad'],
  ]),
  'gears look': look('Gears', 'Teeth, dogs, bearings?', [
    ['sound', 'sound', 'fine'],
    ['worn', 'worn, renewed now', 'watch'],
    ['broken', 'broken, not mended yet', 'bad'],
  ]),
  'gaskets out': figure('Gaskets out', 'How many came out?', 'count', { needed: true, trend: false }),
  screw: look(
    'Screw',
    'How did the screw come?',
    [
      ['free', 'free', 'fine'],
      ['tight', 'much tighter than it should', 'watch'],
      ['seized', 'seized', 'bad'],
    ],
    { needed: false },
  ),
  torque: figure('Torque', 'Tightened to', 'torque', { trend: false }),
  compression: figure('Compression', 'Cylinder', 'pressure', { per: 'cylinder', needed: true }),
  'leak loss': figure('Leak-down', 'Cylinder', 'percent', { per: 'cylinder', needed: true }),
  'plug look': look(
    'Plug',
    'Cylinder',
    [
      ['light', 'light and dry', 'fine'],
      ['sooty', 'sooty', 'watch'],
      ['oily', 'oily', 'bad'],
      ['white', 'very white', 'bad'],
    ],
    { per: 'cylinder' },
  ),
  'plug gap': figure('Plug gap', 'Gap as fitted', 'gap', { trend: false }),
  'impeller look': look('Old impeller', 'How does the old wheel look?', [
    ['sound', 'sound', 'fine'],
    ['set', 'vanes set or hard', 'watch'],
    ['cracked', 'cracked', 'bad'],
    ['missing', 'a piece is missing', 'bad'],
  ]),
  'pump metal': look('Pump metal', 'Liner, plate, housing?', [
    ['smooth', 'smooth', 'fine'],
    ['groove', 'groove in liner or plate', 'watch'],
    ['housing', 'housing scratched', 'bad'],
  ]),
  'pieces found': look('Pieces in the passages', 'Is every piece there?', [
    ['none', 'nothing was missing', 'fine'],
    ['all', 'every piece found', 'fine'],
    ['some', 'pieces still missing', 'bad'],
  ]),
  'thermostat look': look('Old thermostat', 'How did the old one look?', [
    ['shut', 'shut and clean', 'fine'],
    ['salt', 'salt or scale', 'watch'],
    ['rubber', 'rubber behind it', 'bad'],
    ['stuck', 'stuck open or shut', 'watch'],
  ]),
  'anode left': figure('Anode left', 'How much is left of the thinnest?', 'percent', { needed: true }),
  'fuel filter look': look('Fuel filter', 'How does the old one look?', [
    ['clean', 'as the new one', 'fine'],
    ['dark', 'darker', 'watch'],
    ['water', 'water in the bowl', 'bad'],
  ]),
  'separator look': look('Separator', 'What is in the glass?', SEPARATOR),
  'shaft line': look('Shaft', 'Line round the shaft?', [
    ['none', 'none', 'fine'],
    ['line', 'line, the seal is sound', 'watch'],
    ['seal', 'line in the seal', 'bad'],
  ]),
  'hub look': look('Propeller', 'Hub and blades?', [
    ['sound', 'sound', 'fine'],
    ['chipped', 'chips or a bent blade', 'watch'],
    ['slips', 'cracked, or the hub slips', 'bad'],
  ]),
  'under cowl': look('Under the cowl', 'What is to be seen?', [
    ['sound', 'all sound and dry', 'fine'],
    ['worn', 'belt, teeth or leads worn', 'watch'],
    ['oil', 'oil where none should be', 'watch'],
    ['fuel', 'fuel where none should be', 'bad'],
  ]),
  stream: look('Stream', 'How is the cooling stream?', [
    ['strong', 'soon and strong', 'fine'],
    ['weak', 'weak or late', 'bad'],
    ['none', 'none: stopped', 'bad'],
  ]),
  shift: look('Shift', 'Neutral, forward, reverse?', [
    ['all', 'all three as they should', 'fine'],
    ['wrong', 'one of them not', 'bad'],
  ]),
  leak: look('Leaks', 'Is everything dry?', [
    ['dry', 'dry', 'fine'],
    ['sheen', 'a sheen on the water', 'watch'],
    ['drip', 'a drip, tightened, dry now', 'watch'],
    ['leaks', 'it goes on leaking', 'bad'],
  ]),
  sheen: look('Sheen', 'Is the water clean round the leg?', [
    ['none', 'clean', 'fine'],
    ['sheen', 'still a sheen', 'bad'],
  ]),
  'tank look': look('Tank', 'What is in the glass?', SEPARATOR),
  'battery volts': figure('Battery', 'Rested, before it is charged', 'voltage', { needed: true }),
  waste: figure('Waste', 'What goes to the waste?', 'volume', { per: 'visit', trend: false }),
};

/** The streams waste is kept apart in. */
export const WASTE_STREAMS = ['used oil', 'gear lube', 'fuel', 'filters', 'rags'] as const;
export type WasteStream = (typeof WASTE_STREAMS)[number];
/** Filters and rags are counted; the rest is measured. */
export const wasteCounted = (stream: WasteStream): boolean => stream === 'filters' || stream === 'rags';

/** A look that was chosen, a figure with the unit it was read in, or why it was not possible. */
export type ReadingValue = { choice: string } | { value: number; unit: string } | { not: string };

/** The name of one reading on a card: its engine (0 = the visit), its kind, and its cylinder, step or stream. */
export interface ReadingKey {
  engineId: number;
  kind: ReadingKind;
  part: string | null;
}
/** The name of a reading on a card: "7 compression#2". Engine 0 = of the whole visit. */
export const readingKey = (engineId: number, kind: ReadingKind, part: string | number | null = null): string =>
  `${engineId} ${kind}${part === null ? '' : `#${part}`}`;
/** What a reading's name says; null = it names none. */
export function readingOf(key: string): ReadingKey | null {
  const found = /^(\d+) ([a-z ]+?)(?:#(.+))?$/.exec(key);
  const kind = READING_KINDS.find((k) => k === found?.[2]);
  return found && kind ? { engineId: Number(found[1]), kind, part: found[3] ?? null } : null;
}

/** Units a figure may be read in, the book's own first; factors are exact where NIST SP 811 has them. */
export const READING_UNITS: Record<ReadingUnit, readonly string[]> = {
  volume: ['L', 'US qt', 'mL', 'US fl oz', 'US gal'],
  torque: ['N·m', 'lbf·ft'],
  pressure: ['psi', 'kPa', 'bar'],
  gap: ['mm', 'in'],
  percent: ['%'],
  count: ['pieces'],
  voltage: ['V'],
};

/** A reading in words: "110 psi", "milky"; a choice nobody knows any more stands as it was given. */
export function valueText(key: string, value: ReadingValue | null): string {
  if (value === null) return 'taken back';
  if ('value' in value) return `${value.value} ${value.unit}`;
  if ('not' in value) return `not possible: ${value.not}`;
  const of = readingOf(key);
  return (of && READINGS[of.kind].options?.find((o) => o.key === value.choice)?.word) ?? value.choice;
}
