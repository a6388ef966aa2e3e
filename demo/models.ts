import type { TaskKind } from '@diurna/core/service';

/** Invented engines with invented figures; none stands for a real one. */
export interface DemoModel {
  maker: string;
  name: string;
  powerHp: number;
  stroke: 2 | 4;
  cylinders: number;
  sump: [number, 'L' | 'US qt'] | null;
  gear: [number, 'L' | 'US fl oz'];
  prefix: string;
  metered: boolean;
  heavyLube: boolean;
}

export const MODELS = {
  corvane60: {
    maker: 'Corvane',
    name: '60',
    powerHp: 60,
    stroke: 4,
    cylinders: 4,
    sump: [2.7, 'L'],
    gear: [0.64, 'L'],
    prefix: 'C60',
    metered: true,
    heavyLube: false,
  },
  corvane150: {
    maker: 'Corvane',
    name: '150',
    powerHp: 150,
    stroke: 4,
    cylinders: 4,
    sump: [4.4, 'L'],
    gear: [0.98, 'L'],
    prefix: 'C150',
    metered: true,
    heavyLube: true,
  },
  corvane200: {
    maker: 'Corvane',
    name: '200',
    powerHp: 200,
    stroke: 4,
    cylinders: 6,
    sump: [5.9, 'L'],
    gear: [1.07, 'L'],
    prefix: 'C200',
    metered: true,
    heavyLube: true,
  },
  skarn90: {
    maker: 'Skarn',
    name: '90',
    powerHp: 90,
    stroke: 4,
    cylinders: 4,
    sump: [4.3, 'US qt'],
    gear: [25.4, 'US fl oz'],
    prefix: 'SK9',
    metered: true,
    heavyLube: true,
  },
  skarn40: {
    maker: 'Skarn',
    name: '40',
    powerHp: 40,
    stroke: 4,
    cylinders: 3,
    sump: [2.1, 'US qt'],
    gear: [14.2, 'US fl oz'],
    prefix: 'SK4',
    metered: true,
    heavyLube: false,
  },
  lumen20: {
    maker: 'Lumen',
    name: '20',
    powerHp: 20,
    stroke: 4,
    cylinders: 2,
    sump: [1.25, 'L'],
    gear: [0.24, 'L'],
    prefix: 'LU20',
    metered: true,
    heavyLube: false,
  },
  lumen6: {
    maker: 'Lumen',
    name: '6',
    powerHp: 6,
    stroke: 4,
    cylinders: 1,
    sump: [0.52, 'L'],
    gear: [0.17, 'L'],
    prefix: 'LU6',
    metered: false,
    heavyLube: false,
  },
  teal50: {
    maker: 'Teal',
    name: '50',
    powerHp: 50,
    stroke: 2,
    cylinders: 3,
    sump: null,
    gear: [0.41, 'L'],
    prefix: 'T50',
    metered: true,
    heavyLube: false,
  },
  teal8: {
    maker: 'Teal',
    name: '8',
    powerHp: 8,
    stroke: 2,
    cylinders: 2,
    sump: null,
    gear: [0.19, 'L'],
    prefix: 'T8',
    metered: false,
    heavyLube: false,
  },
} as const satisfies Record<string, DemoModel>;
export type ModelKey = keyof typeof MODELS;

export interface DemoPart {
  number: string;
  name: string;
  kind: 'oil' | 'oil filter' | 'gear lube' | 'plug' | 'pump kit' | 'gasket' | 'washer' | 'other';
  unit: 'each' | 'mL';
  price: string;
  /** On hand at Brindle Quay, Outer Mole, Larkspur Slip. */
  counts: [number, number, number];
  fits: { model: ModelKey; task: TaskKind; quantity?: number; from?: string; to?: string }[];
}

const four = (Object.keys(MODELS) as ModelKey[]).filter((k) => MODELS[k].stroke === 4);
const all = Object.keys(MODELS) as ModelKey[];

/** The serial from which the Corvane 60 takes another oil filter. */
export const FILTER_CHANGE = { last: 'C60-40116', first: 'C60-40117' };

const filter = (number: string, name: string, counts: [number, number, number], models: ModelKey[]): DemoPart => ({
  number,
  name,
  kind: 'oil filter',
  unit: 'each',
  price: '11.40',
  counts,
  fits: models.map((model) => ({ model, task: 'oil-filter', quantity: 1 })),
});
const pump = (number: string, counts: [number, number, number], model: ModelKey, price: string): DemoPart => ({
  number,
  name: `Pump kit, ${MODELS[model].maker} ${MODELS[model].name}`,
  kind: 'pump kit',
  unit: 'each',
  price,
  counts,
  fits: [{ model, task: 'impeller', quantity: 1 }],
});
const plug = (number: string, counts: [number, number, number], models: ModelKey[]): DemoPart => ({
  number,
  name: `Spark plug ${number.slice(3)}`,
  kind: 'plug',
  unit: 'each',
  price: '6.90',
  counts,
  fits: models.map((model) => ({ model, task: 'spark-plugs', quantity: MODELS[model].cylinders })),
});

const single = (
  number: string,
  name: string,
  price: string,
  counts: [number, number, number],
  task: TaskKind,
  models: ModelKey[],
): DemoPart => ({
  number,
  name,
  kind: 'other',
  unit: 'each',
  price,
  counts,
  fits: models.map((model) => ({ model, task, quantity: 1 })),
});

export const PARTS: DemoPart[] = [
  {
    number: 'OIL-1030',
    name: 'Engine oil 10W-30, marine grade',
    kind: 'oil',
    unit: 'mL',
    price: '8.20',
    counts: [31_400, 18_200, 6_100],
    fits: four.map((model) => ({ model, task: 'engine-oil' })),
  },
  {
    number: 'LUBE-90',
    name: 'Gear lube 90, heavy',
    kind: 'gear lube',
    unit: 'mL',
    price: '14.50',
    counts: [6_200, 3_400, 900],
    fits: all.filter((k) => MODELS[k].heavyLube).map((model) => ({ model, task: 'gear-lube' })),
  },
  {
    number: 'LUBE-80',
    name: 'Gear lube 80, light',
    kind: 'gear lube',
    unit: 'mL',
    price: '12.10',
    counts: [4_150, 2_050, 1_300],
    fits: all.filter((k) => !MODELS[k].heavyLube).map((model) => ({ model, task: 'gear-lube' })),
  },
  {
    number: 'C60-F1',
    name: 'Oil filter, Corvane 60 early',
    kind: 'oil filter',
    unit: 'each',
    price: '9.80',
    counts: [3, 1, 0],
    fits: [{ model: 'corvane60', task: 'oil-filter', quantity: 1, to: FILTER_CHANGE.last }],
  },
  {
    number: 'C60-F2',
    name: 'Oil filter, Corvane 60',
    kind: 'oil filter',
    unit: 'each',
    price: '10.60',
    counts: [8, 4, 2],
    fits: [{ model: 'corvane60', task: 'oil-filter', quantity: 1, from: FILTER_CHANGE.first }],
  },
  filter('CX-F4', 'Oil filter, Corvane 150 and 200', [9, 5, 2], ['corvane150', 'corvane200']),
  filter('SK-F1', 'Oil filter, Skarn', [6, 4, 1], ['skarn90', 'skarn40']),
  filter('LU-F1', 'Oil filter, Lumen', [4, 2, 2], ['lumen20', 'lumen6']),
  {
    number: 'WSH-14',
    name: 'Drain washer 14 mm',
    kind: 'washer',
    unit: 'each',
    price: '0.90',
    counts: [42, 25, 11],
    fits: four.map((model) => ({ model, task: 'engine-oil', quantity: 1 })),
  },
  {
    number: 'GSK-GC2',
    name: 'Gear-case screw gasket',
    kind: 'gasket',
    unit: 'each',
    price: '0.70',
    counts: [58, 31, 12],
    fits: all.map((model) => ({ model, task: 'gear-lube', quantity: MODELS[model].heavyLube ? 3 : 2 })),
  },
  plug('PL-CV4', [28, 16, 4], ['corvane60', 'corvane150']),
  plug('PL-CV6', [12, 6, 0], ['corvane200']),
  plug('PL-SK3', [16, 8, 3], ['skarn90', 'skarn40']),
  plug('PL-LU1', [6, 4, 2], ['lumen20', 'lumen6']),
  plug('PL-TL2', [9, 6, 2], ['teal50', 'teal8']),
  single('FF-C', 'Fuel filter element, canister', '13.20', [10, 5, 1], 'fuel-filter', [
    'corvane60',
    'corvane150',
    'corvane200',
    'skarn90',
    'skarn40',
    'teal50',
  ]),
  single('FF-L', 'Fuel filter, in-line', '5.40', [7, 5, 4], 'fuel-filter', ['lumen20', 'lumen6', 'teal8']),
  single('SEP-10', 'Separator element, 10 micron', '17.80', [9, 4, 2], 'separator', [
    'corvane60',
    'corvane150',
    'corvane200',
    'skarn90',
    'skarn40',
    'teal50',
  ]),
  single('TH-C', 'Thermostat with gasket, Corvane', '34.00', [2, 1, 0], 'thermostat', [
    'corvane60',
    'corvane150',
    'corvane200',
  ]),
  single('TH-S', 'Thermostat with gasket, Skarn', '31.00', [1, 1, 1], 'thermostat', ['skarn90', 'skarn40']),
  single('TH-T', 'Thermostat with gasket, Teal and Lumen', '22.00', [1, 1, 0], 'thermostat', [
    'teal50',
    'teal8',
    'lumen20',
  ]),
  pump('PK-C60', [4, 2, 1], 'corvane60', '58.00'),
  pump('PK-C150', [3, 2, 0], 'corvane150', '84.00'),
  pump('PK-C200', [2, 2, 0], 'corvane200', '96.00'),
  pump('PK-SK90', [1, 0, 1], 'skarn90', '71.00'),
  pump('PK-SK40', [2, 1, 1], 'skarn40', '49.00'),
  pump('PK-LU20', [2, 1, 1], 'lumen20', '32.00'),
  pump('PK-LU6', [2, 1, 1], 'lumen6', '24.00'),
  pump('PK-T50', [2, 1, 1], 'teal50', '41.00'),
  pump('PK-T8', [1, 1, 1], 'teal8', '26.00'),
];

/** Figures of the invented makers' papers, by model, where the yard has entered them. */
export const FIGURES: Record<string, Record<string, number | string>> = {
  '60': {
    gearScrews: 2,
    drainScrewNm: 21,
    filterNm: 16,
    plugNm: 19,
    gearScrewNm: 8,
    propNutNm: 62,
    plugGapMm: 1,
    dipstickMl: 700,
    compressionFloorKpa: 780,
    drainSocketMm: 15,
    filterWrenchMm: 66,
    plugSocketMm: 16,
    propSocketMm: 27,
    oilGrade: '10W-30',
    propNut: 'bent tab',
  },
  '150': {
    gearScrews: 3,
    drainScrewNm: 26,
    plugNm: 22,
    propNutNm: 74,
    plugGapMm: 1.1,
    dipstickMl: 1000,
    drainSocketMm: 19,
    plugSocketMm: 16,
    runsOn: 'muffs or flush port',
  },
  '200': {
    gearScrews: 3,
    drainKind: 'valve',
    plugNm: 24,
    plugGapMm: 1.1,
    dipstickMl: 1100,
    compressionFloorKpa: 900,
    runsOn: 'muffs or flush port',
    oilGrade: '10W-30',
  },
  '50': { gearScrews: 2, plugNm: 20, plugGapMm: 0.9, compressionFloorKpa: 720, runsOn: 'muffs' },
};

/** Limits of invented makers that differ from the usual ones, by model: a ladder whose 300 h service is the big one. */
export const MAKERS: Record<string, { task: TaskKind; everyHours: number | null; everyMonths: number | null }[]> = {
  '200': [
    { task: 'spark-plugs', everyHours: 300, everyMonths: 36 },
    { task: 'impeller', everyHours: 300, everyMonths: 24 },
    { task: 'compression', everyHours: 300, everyMonths: null },
  ],
  // A tiller has nothing to look at between two changes.
  '6': [{ task: 'look-over', everyHours: null, everyMonths: 12 }],
};
