import { WEIGHTS, type Finding, type FindingEngine, type Readings } from './finding.ts';
import { coolingAndShift, passagesSearched, pumpRead, thermostatRead } from './looks/cooling.ts';
import { fuelRead, leaksSeen, tankSeen } from './looks/fuel.ts';
import { anodeLeft } from './looks/anodes.ts';
import { caseUnderPressure, gearLube, gearsSeen, hubSeen, shaftLine } from './looks/gear.ts';
import { batteryRead, underCowl } from './looks/engine.ts';
import { compressionRead, leakDownRead, plugsRead } from './looks/ignition.ts';
import { notRead } from './looks/not-read.ts';
import { gasketsOut, levelLeft, lubeIn, oilSums } from './looks/fill.ts';
import { fuelInOil, metalInOil, metalTraced, oilPressure, oilPressureRead, oilUsed, waterInOil } from './looks/oil.ts';
import { screwsAndTorques } from './looks/screws.ts';
import { lookAt } from './looks/look.ts';

/** Every look at an engine; what weighs alike stands in this order. */
const LOOKS = [
  gearLube,
  caseUnderPressure,
  gearsSeen,
  fuelInOil,
  waterInOil,
  metalInOil,
  metalTraced,
  oilPressure,
  oilPressureRead,
  compressionRead,
  leakDownRead,
  plugsRead,
  pumpRead,
  passagesSearched,
  thermostatRead,
  coolingAndShift,
  shaftLine,
  hubSeen,
  anodeLeft,
  fuelRead,
  tankSeen,
  underCowl,
  batteryRead,
  leaksSeen,
  screwsAndTorques,
  gasketsOut,
  oilUsed,
  oilSums,
  levelLeft,
  lubeIn,
  notRead,
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
