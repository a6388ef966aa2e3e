import type { TaskKind } from '@diurna/core/service';
import { MODELS, type ModelKey } from './models.ts';

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
  filter('LU-F1', 'Oil filter, Lumen', [2, 1, 1], ['lumen20', 'lumen6']),
  filter('LU-F2', 'Oil filter, Lumen, new number', [3, 2, 2], ['lumen20', 'lumen6']),
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
  single('PL-X22', 'Spark plug X22', '5.10', [6, 0, 4], 'spark-plugs', []),
  single('KIT-C60', 'Service kit, Corvane 60, every 100 h', '96.00', [2, 1, 0], 'engine-oil', []),
  pump('PK-C60', [4, 2, 1], 'corvane60', '58.00'),
  pump('PK-C150', [3, 2, 0], 'corvane150', '84.00'),
  pump('PK-C200', [2, 2, 0], 'corvane200', '96.00'),
  pump('PK-SK90', [1, 0, 1], 'skarn90', '71.00'),
  pump('PK-SK40', [2, 1, 1], 'skarn40', '49.00'),
  pump('PK-LU20', [2, 1, 1], 'lumen20', '32.00'),
  pump('PK-LU6', [2, 1, 1], 'lumen6', '24.00'),
  pump('PK-T50', [2, 1, 1], 'teal50', '41.00'),
  pump('PK-T8', [1, 1, 1], 'teal8', '26.00'),
  {
    number: 'FOG-2',
    name: 'Fogging oil',
    kind: 'other',
    unit: 'mL',
    price: '31.00',
    counts: [340, 150, 100],
    fits: [
      { model: 'teal50', task: 'fogging', quantity: 90 },
      { model: 'teal8', task: 'fogging', quantity: 40 },
    ],
  },
  {
    // How much goes into which tank the size of the tank tells.
    number: 'STAB-30',
    name: 'Fuel stabiliser, 30 mL to 10 L',
    kind: 'other',
    unit: 'mL',
    price: '26.00',
    counts: [900, 400, 250],
    fits: all.map((model) => ({ model, task: 'stabiliser' })),
  },
];
