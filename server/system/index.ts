import { openApiDocument } from '@diurna/contract/openapi';
import { sql } from 'drizzle-orm';
import { databaseTrouble } from '../db/away.ts';
import type { Handlers } from '../http/api.ts';
import { readLastDay } from './last-day.ts';
import type { Watch } from './watch.ts';

export { metricsHandler, type AllMetrics } from './metrics.ts';
export { forgetHours, Watch } from './watch.ts';

/** Why a process cannot serve just now; empty = it can. */
const TROUBLES = { away: 'The database does not answer.', busy: 'Too much is under way in the database.' };

/** @param version of the app, as it stands in package.json @param queueOpen whether work behind the scenes goes on */
export function systemHandlers(
  version: string,
  watch: Watch,
  queueOpen: () => boolean,
): Handlers<'health' | 'lastDay' | 'openapi'> {
  let document: unknown;
  return {
    async health({ db, query, res }) {
      const told = { alive: true as const, version, loop: watch.delay() };
      if (query.only === 'alive') return { ...told, ready: true, why: [] };
      try {
        await db.execute(sql`select 1`);
      } catch (error) {
        const trouble = databaseTrouble(error);
        if (trouble === null) throw error;
        res.status(503).set('retry-after', '2');
        return { ...told, ready: false, why: [TROUBLES[trouble]] };
      }
      return { ...told, ready: true, why: queueOpen() ? [] : ['Work behind the scenes is not open yet.'] };
    },
    lastDay: async ({ db, now }) => {
      // What this process counted since it last told belongs to it.
      await watch.write();
      return readLastDay(db, version, now);
    },
    openapi: () => Promise.resolve((document ??= openApiDocument(version))),
  };
}
