/** An engine as many yards have it, to begin a model with: only what its size says. */
export interface GenericModel {
  word: string;
  powerHp: number;
  stroke: 2 | 4;
  cylinders: number;
}

/**
 * Sizes a new model can begin with. Volumes, torques and the rest are left open on purpose: they are read off the plate
 * or the engine maker's manual, and until then cards say so. Usual sizes: common practice, no source.
 */
export const GENERIC_MODELS: readonly GenericModel[] = [
  { word: '6 hp four-stroke, one cylinder', powerHp: 6, stroke: 4, cylinders: 1 },
  { word: '10 hp four-stroke, two cylinders', powerHp: 10, stroke: 4, cylinders: 2 },
  { word: '20 hp four-stroke, two cylinders', powerHp: 20, stroke: 4, cylinders: 2 },
  { word: '40 hp four-stroke, three cylinders', powerHp: 40, stroke: 4, cylinders: 3 },
  { word: '60 hp four-stroke, four cylinders', powerHp: 60, stroke: 4, cylinders: 4 },
  { word: '90 hp four-stroke, four cylinders', powerHp: 90, stroke: 4, cylinders: 4 },
  { word: '150 hp four-stroke, four cylinders', powerHp: 150, stroke: 4, cylinders: 4 },
  { word: '250 hp four-stroke, six cylinders', powerHp: 250, stroke: 4, cylinders: 6 },
  { word: '8 hp two-stroke, two cylinders', powerHp: 8, stroke: 2, cylinders: 2 },
  { word: '40 hp two-stroke, three cylinders', powerHp: 40, stroke: 2, cylinders: 3 },
];
