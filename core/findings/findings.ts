import { WEIGHTS, type Finding, type FindingEngine, type Readings } from './finding.ts';
import { coolingAndShift, pumpRead } from './looks/cooling.ts';
import { fuelRead, leaksSeen } from './looks/fuel.ts';
import { anodeLeft, gearLube, shaftLine } from './looks/gear.ts';
import { compressionRead, plugsRead } from './looks/ignition.ts';
import { fillAndLevel, fuelInOil, metalInOil, waterInOil } from './looks/oil.ts';
import { screwsAndTorques } from './looks/screws.ts';
import { lookAt } from './looks/look.ts';

/** Every look at an engine; what weighs alike stands in this order. */
const LOOKS = [
  gearLube,
  fuelInOil,
  waterInOil,
  metalInOil,
  compressionRead,
  plugsRead,
  pumpRead,
  coolingAndShift,
  shaftLine,
  anodeLeft,
  fuelRead,
  leaksSeen,
  screwsAndTorques,
  fillAndLevel,
];

/**
 * Every finding of one engine's readings, worst first: what was seen, what it means, and what the book proposes.
 * Common practice, no source; the engine maker's manual outranks it.
 */
export function findingsOf(engine: FindingEngine, readings: Readings): Finding[] {
  const look = lookAt(engine, readings);
  for (const part of LOOKS) part(look);
  return look.found.sort((a, b) => WEIGHTS.indexOf(b.weight) - WEIGHTS.indexOf(a.weight));
}
