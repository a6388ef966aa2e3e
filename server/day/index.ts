import type { Handlers } from '../http/api.ts';
import type { FleetCache } from '../service/index.ts';
import { readDay } from './read-day.ts';
import { readRibbon } from './ribbon.ts';

export const dayHandlers = (fleet: FleetCache): Handlers<'readDay' | 'ribbon'> => ({
  readDay: ({ db, query, who, now }) => readDay(db, fleet, now, who, query.day, query.baseId ?? null),
  ribbon: ({ db, query, now }) => readRibbon(db, fleet, now, query),
});
