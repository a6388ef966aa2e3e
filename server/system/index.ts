import { openApiDocument } from '@diurna/contract/openapi';
import { sql } from 'drizzle-orm';
import type { Handlers } from '../http/api.ts';

/** @param version of the app, as it stands in package.json. */
export function systemHandlers(version: string): Handlers<'health' | 'openapi'> {
  let document: unknown;
  return {
    async health({ db }) {
      await db.execute(sql`select 1`);
      return { ok: true, version };
    },
    openapi: () => Promise.resolve((document ??= openApiDocument(version))),
  };
}
