import { openApiDocument } from '@diurna/contract/openapi';
import { sql } from 'drizzle-orm';
import type { Handlers } from '../http/api.ts';
import type { LoopDelay } from './loop.ts';

export { watchLoop } from './loop.ts';

/** @param version of the app, as it stands in package.json @param delay how late this process is */
export function systemHandlers(version: string, delay: () => LoopDelay): Handlers<'health' | 'openapi'> {
  let document: unknown;
  return {
    async health({ db }) {
      await db.execute(sql`select 1`);
      return { ok: true, version, loop: delay() };
    },
    openapi: () => Promise.resolve((document ??= openApiDocument(version))),
  };
}
