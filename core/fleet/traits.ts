import type { TorqueFigure } from './torque.ts';

/**
 * How an engine model is built, as far as the work on it hangs on that. Torques in N.m, gaps in mm, pressures in kPa,
 * volumes in mL.
 */
export interface ModelTraits {
  /** How fuel gets in: bowls are drained on a carburettor, an injected engine keeps its fuel under pressure. */
  induction: 'carburettor' | 'injection' | 'direct injection';
  /** What it may run on out of the water; never a bucket. Null = nobody looked: muffs alone are taken for safe. */
  runsOn: 'muffs' | 'flush port' | 'muffs or flush port' | null;
  /** Big engines: a side cover under the cowl hides the drain. */
  sideCover: boolean;
  /** Where the sump is emptied. */
  drainAt: 'leg' | 'behind the side cover';
  /** How the sump is emptied. */
  oilBy: 'gravity' | 'extraction';
  /** A screw that comes out, or a valve with a tube on it that is backed off one turn at most. */
  drainKind: 'screw' | 'valve';
  fillAt: 'cap' | 'dipstick hole';
  /** Large V engines: 15 min at trailer tilt first, so that the heads drain to the sump. */
  tiltBeforeLevel: boolean;
  /** Keeps water though it stands upright: antifreeze where frost comes. */
  drainsPoorly: boolean;
  /** Null = nobody looked: no case has fewer than two. */
  gearScrews: 2 | 3 | null;
  /** The propeller blocks the gear-case screws. */
  gearNeedsPropOff: boolean;
  fuelFilter: 'in-line' | 'canister';
  propNut: 'cotter pin' | 'bevelled washer' | 'bent tab';
  /** Started by a rope that passes through the cowl. */
  recoil: boolean;
  /** The lower unit is too heavy for one. */
  twoPersonUnit: boolean;
  /** A bolt of the lower unit hides under the trim tab. */
  boltUnderTab: boolean;
  /** A speed pickup's tube runs into the lower unit. */
  speedTube: boolean;
  drainScrewNm: TorqueFigure | null;
  filterNm: TorqueFigure | null;
  plugNm: TorqueFigure | null;
  gearScrewNm: TorqueFigure | null;
  propNutNm: TorqueFigure | null;
  plugGapMm: number | null;
  drainSocketMm: number | null;
  filterWrenchMm: number | null;
  plugSocketMm: number | null;
  propSocketMm: number | null;
  /** From the lower to the upper mark of the dipstick. */
  dipstickMl: number | null;
  /** Below this no cylinder is sound; null = only the spread is judged. */
  compressionFloorKpa: number | null;
  oilGrade: string | null;
  lubeGrade: string | null;
}

/** Those somebody entered, as they come over the wire. */
export type KnownTraits = { [K in keyof ModelTraits]?: ModelTraits[K] | undefined };

/** An engine's size, by which the usual is taken. */
export interface EngineSize {
  powerHp: number;
  stroke: 2 | 4;
  cylinders: number;
}
/** An engine's size, and what somebody entered of how it is built. */
export interface BuiltEngine extends EngineSize {
  traits?: KnownTraits | null;
}

/**
 * What is taken for a model until somebody enters the maker's own: by size and stroke. Common practice, no
 * source; torques are the model's own or unknown, because they differ within one class of engine.
 */
export function usualTraits({ powerHp, stroke, cylinders }: EngineSize): ModelTraits {
  const big = powerHp >= 115;
  return {
    // Small ones and most old two-strokes have carburettors.
    induction: stroke === 4 ? (powerHp < 25 ? 'carburettor' : 'injection') : big ? 'direct injection' : 'carburettor',
    runsOn: null,
    sideCover: big && stroke === 4,
    drainAt: big ? 'behind the side cover' : 'leg',
    oilBy: 'gravity',
    drainKind: 'screw',
    fillAt: 'cap',
    drainsPoorly: false,
    tiltBeforeLevel: powerHp >= 175 && cylinders >= 6,
    gearScrews: null,
    gearNeedsPropOff: false,
    fuelFilter: powerHp >= 40 ? 'canister' : 'in-line',
    propNut: powerHp >= 40 ? 'bevelled washer' : 'cotter pin',
    recoil: powerHp <= 10,
    twoPersonUnit: powerHp >= 25,
    boltUnderTab: powerHp >= 40,
    speedTube: powerHp >= 75,
    drainScrewNm: null,
    filterNm: null,
    plugNm: null,
    gearScrewNm: null,
    propNutNm: null,
    plugGapMm: null,
    drainSocketMm: null,
    filterWrenchMm: null,
    plugSocketMm: null,
    propSocketMm: null,
    dipstickMl: null,
    compressionFloorKpa: null,
    oilGrade: null,
    // 75 hp and over takes the heavy grade (common practice, no source).
    lubeGrade: powerHp >= 75 ? '90, heavy' : '80, light',
  };
}

/** The traits in force: what is entered for the model over what is usual. */
export function traitsOf(model: BuiltEngine): ModelTraits {
  const set = Object.fromEntries(Object.entries(model.traits ?? {}).filter(([, value]) => value != null));
  return { ...usualTraits(model), ...set };
}
