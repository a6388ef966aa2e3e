import type { FleetCache } from '../service/index.ts';
import type { Handlers } from '../http/api.ts';
import { readDay } from './read-day.ts';

export const dayHandlers = (fleet: FleetCache): Handlers<'readDay'> => ({
  readDay: ({ db, query, who, now }) => readDay(db, fleet, now, who, query.day, query.baseId ?? null),
});
