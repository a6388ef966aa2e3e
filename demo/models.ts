import type { KnownTraits, Variant } from '@diurna/core/fleet';
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

/** Figures of the invented makers' papers, by model, where the yard has entered them. */
export const FIGURES: Record<string, KnownTraits> = {
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
    propNutNm: { least: 74, most: 88 },
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

/** Where the invented makers changed an engine: from a serial on, and by transom. */
export const VARIANTS: Record<string, Variant[]> = {
  '60': [
    { from: null, to: null, transom: 'extra long', traits: { speedTube: true, twoPersonUnit: true } },
    { from: 'C60-40130', to: null, transom: null, traits: { gearScrews: 3 } },
  ],
};
