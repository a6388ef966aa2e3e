import type { TaskKind } from '../../service/index.ts';
import { isAccessTemplate, type Template, type TemplateKey } from '../template.ts';
import { SHIPPED_ACCESS } from './access.ts';
import {
  BATTERY,
  BATTERY_CHECK,
  FIRST_OUTING,
  LOOK_OVER,
  OIL_LEVEL,
  OIL_LOOK,
  OIL_PRESSURE,
  OIL_TRACE,
  RUNNING_IN,
  SPRING_RUN,
} from './checks.ts';
import { HULL } from './hull.ts';
import { BOWLS, FUEL_FILTER, FUEL_REPAIR, SECOND_DOSE, SEPARATOR, STABILISER, TANK_CHECK } from './fuel.ts';
import { COMPRESSION, FOGGING, LEAK_DOWN, SPARK_PLUGS } from './ignition.ts';
import { ANODES, BONDING, GEAR_INSPECTION, GEAR_LUBE, GEAR_SEALS, GREASE, PROP_SHAFT, STEERING_ROD } from './leg.ts';
import { ENGINE_OIL, OIL_FILTER } from './oil.ts';
import { ANTIFREEZE, FLUSH, IMPELLER, PASSAGES, THERMOSTAT } from './pump.ts';

/** The template of each task as it comes with the book, until the coordinator writes the yard's own. */
export const SHIPPED: Record<TaskKind, Template> = {
  'engine-oil': ENGINE_OIL,
  'oil-filter': OIL_FILTER,
  'fuel-filter': FUEL_FILTER,
  separator: SEPARATOR,
  'gear-lube': GEAR_LUBE,
  'spark-plugs': SPARK_PLUGS,
  impeller: IMPELLER,
  thermostat: THERMOSTAT,
  anodes: ANODES,
  grease: GREASE,
  'prop-shaft': PROP_SHAFT,
  compression: COMPRESSION,
  'look-over': LOOK_OVER,
  'first-outing': FIRST_OUTING,
  'oil-level': OIL_LEVEL,
  'battery-check': BATTERY_CHECK,
  'running-in': RUNNING_IN,
  'gear-seals': GEAR_SEALS,
  'gear-inspection': GEAR_INSPECTION,
  'fuel-repair': FUEL_REPAIR,
  'leak-down': LEAK_DOWN,
  'oil-trace': OIL_TRACE,
  'oil-pressure': OIL_PRESSURE,
  passages: PASSAGES,
  bonding: BONDING,
  'tank-check': TANK_CHECK,
  flush: FLUSH,
  stabiliser: STABILISER,
  fogging: FOGGING,
  bowls: BOWLS,
  antifreeze: ANTIFREEZE,
  'steering-rod': STEERING_ROD,
  battery: BATTERY,
  'second-dose': SECOND_DOSE,
  'spring-run': SPRING_RUN,
  hull: HULL,
};

export { SHIPPED_ACCESS } from './access.ts';
export { OIL_LOOK };
/** A template as it comes with the book. */
export const shippedOf = (key: TemplateKey): Template => (isAccessTemplate(key) ? SHIPPED_ACCESS[key] : SHIPPED[key]);
