import type { Session } from '@diurna/contract/people';
import { sharedFirstNames } from '@diurna/core/people';
import { and, eq, inArray } from 'drizzle-orm';
import type { Request } from 'express';
import { tables, type Db } from '../db/index.ts';
import { personOf } from '../http/api.ts';
import { newCsrfToken } from '../http/session.ts';
import { writingOf } from './writing.ts';

const { person, setting } = tables;

export interface PeopleOptions {
  demoAccounts: Session['demoAccounts'];
  secureCookie: boolean;
}

/** Whether somebody gets the very account the demo's papers offer. */
export const isOpen = (options: PeopleOptions, given: { username: string; password: string }): boolean =>
  options.demoAccounts.some((a) => a.username === given.username && a.password === given.password);

const activeNames = async (db: Db) =>
  (await db.select({ name: person.name }).from(person).where(eq(person.active, true))).map((p) => p.name);

/** Who is here, and what the page has to know before anything else. */
export async function describe(db: Db, req: Request, options: PeopleOptions) {
  const who = personOf(req);
  const [settings] = await db.select().from(setting);
  const [me] = who ? await db.select().from(person).where(eq(person.id, who.id)) : [];
  const accounts = settings?.demo ? options.demoAccounts : [];
  const known =
    accounts.length > 0
      ? await db
          .select({ username: person.username })
          .from(person)
          .where(
            and(
              eq(person.active, true),
              inArray(
                person.username,
                accounts.map((a) => a.username),
              ),
            ),
          )
      : [];
  return {
    person: me
      ? {
          id: me.id,
          name: me.name,
          username: me.username,
          role: me.role,
          baseId: me.baseId,
          active: me.active,
          version: me.version,
        }
      : null,
    csrfToken: who ? newCsrfToken(req) : '',
    company: settings?.company ?? '',
    currency: settings?.currency ?? 'EUR',
    shelfPolicy: settings?.shelfPolicy ?? ('refuse' as const),
    writing: writingOf(settings),
    firstRun: settings === undefined,
    halfway: who?.halfway ?? false,
    shared: who !== null && (req.session.shared ?? false),
    sharedNames: who ? [...sharedFirstNames(await activeNames(db))] : [],
    demoAccounts: accounts
      .filter((a) => known.some((k) => k.username === a.username))
      .map(({ username, password, name, role }) => ({ username, password, name, role })),
  };
}
