import type { Handlers } from '../http/api.ts';
import type { FleetCache } from '../service/index.ts';
import type { Think } from '../think.ts';
import { readDay } from './read-day.ts';
import { readRibbon } from './ribbon.ts';

export { workOutDay } from './read-day.ts';
export { readRibbon } from './ribbon.ts';

export const dayHandlers = (fleet: FleetCache, think: Think): Handlers<'readDay' | 'ribbon'> => ({
  readDay: ({ db, query, who, now }) => readDay(db, think, now, who, query.day, query.baseId ?? null),
  ribbon: ({ db, query, now }) => readRibbon(db, fleet, now, query),
});
