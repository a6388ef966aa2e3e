import { hash, verify } from '@node-rs/argon2';
import { and, eq, inArray, ne, sql } from 'drizzle-orm';
import type { Request } from 'express';
import { RateLimiterPostgres, RateLimiterRes } from 'rate-limiter-flexible';
import type pg from 'pg';
import { transaction, tables, type Db, type Tx } from '../db/index.ts';
import { personOf, writeAudit, type Handlers, type Who } from '../http/api.ts';
import { newCsrfToken } from '../http/session.ts';
import { HttpProblem } from '../http/problem.ts';
import type { Session } from '@diurna/contract/people';

const { person, setting, session, base } = tables;

export interface PeopleOptions {
  demoAccounts: Session['demoAccounts'];
  cookieName: string;
}

type Names = 'readSession' | 'signIn' | 'signOut' | 'signOutEverywhere' | 'changePassword' | 'firstRun';

/** Refused attempts before someone has to wait, and for how long. */
const ATTEMPTS = { perName: 5, perAddress: 40, seconds: 15 * 60 };

/** Sessions of the person end, except the one named. */
export async function endSessions(tx: Tx | Db, personId: number, except?: string): Promise<void> {
  await tx
    .delete(session)
    .where(and(sql`(${session.sess} ->> 'personId')::int = ${personId}`, except ? ne(session.sid, except) : undefined));
}

/** Argon2id with the package's defaults (19 MiB, two passes), as OWASP's cheat sheet asks (from fleet). */
export const hashPassword = (password: string) => hash(password);

function regenerate(req: Request): Promise<void> {
  return new Promise((resolve, reject) => {
    req.session.regenerate((error: unknown) => {
      if (error) reject(error instanceof Error ? error : new Error('session'));
      else resolve();
    });
  });
}

/** From here on the session is this person's. */
function enter(req: Request, { id, name, role, baseId }: Who): void {
  req.session.personId = id;
  req.session.who = { id, name, role, baseId };
}

/** Browsers say where a request comes from; a sign-in sent by another site is refused. */
function refuseOtherSites(req: Request): void {
  const site = req.get('sec-fetch-site');
  if (site !== undefined && site !== 'same-origin' && site !== 'none') {
    throw new HttpProblem(
      403,
      'This request came from another site and was refused. Open Diurna itself and sign in there.',
    );
  }
}

export function sessionHandlers(pool: pg.Pool, options: PeopleOptions): Handlers<Names> {
  const limiter = (points: number, keyPrefix: string) =>
    new RateLimiterPostgres({
      storeClient: pool,
      tableName: 'sign_in_throttle',
      tableCreated: true,
      keyPrefix,
      points,
      duration: ATTEMPTS.seconds,
    });
  const byName = limiter(ATTEMPTS.perName, 'name');
  const byAddress = limiter(ATTEMPTS.perAddress, 'address');
  // Checked when the name is unknown, so that the answer takes as long as for a known one.
  const decoy = hashPassword('nobody-has-this-password');

  async function describe(db: Db, req: Request) {
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
      firstRun: settings === undefined,
      demoAccounts: accounts
        .filter((a) => known.some((k) => k.username === a.username))
        .map(({ username, password, name, role }) => ({ username, password, name, role })),
    };
  }

  async function throttle(name: string, address: string): Promise<void> {
    try {
      await byAddress.consume(address);
      await byName.consume(name);
    } catch (error) {
      if (!(error instanceof RateLimiterRes)) throw error;
      const minutes = Math.max(1, Math.ceil(error.msBeforeNext / 60_000));
      throw new HttpProblem(429, `Too many tries. Wait ${minutes} min, or ask an administrator for a new password.`);
    }
  }

  return {
    readSession: ({ db, req }) => describe(db, req),

    async signIn({ db, req, body, log, requestId, now }) {
      refuseOtherSites(req);
      const name = body.username.trim().toLowerCase();
      const address = req.ip ?? 'unknown';
      await throttle(`${name}@${address}`, address);
      const [found] = await db.select().from(person).where(eq(person.username, name));
      const right = await verify(found?.passwordHash ?? (await decoy), body.password).catch(() => false);
      if (!found || !found.active || !right) {
        log.warn({ username: name }, 'sign-in refused');
        throw new HttpProblem(
          401,
          'Name and password do not belong together. Check both, capitals count in the password.',
        );
      }
      // Only refused attempts count: a whole yard may sign in from one address.
      await byName.delete(`${name}@${address}`);
      await byAddress.reward(address);
      await regenerate(req);
      enter(req, found);
      await writeAudit(db, now, found.id, requestId, {
        act: 'signed in',
        subject: 'person',
        subjectId: found.id,
        title: found.name,
      });
      return describe(db, req);
    },

    async signOut({ req, res, db, who, requestId, now }) {
      await writeAudit(db, now, who.id, requestId, {
        act: 'signed out',
        subject: 'person',
        subjectId: who.id,
        title: who.name,
      });
      await new Promise<void>((resolve) => {
        req.session.destroy(() => {
          resolve();
        });
      });
      res.clearCookie(options.cookieName);
      return { ok: true };
    },

    async signOutEverywhere({ req, res, write, who }) {
      await write(async (tx, audit) => {
        await endSessions(tx, who.id);
        await audit({
          act: 'signed out',
          subject: 'person',
          subjectId: who.id,
          title: who.name,
          after: { everywhere: true },
        });
      });
      await new Promise<void>((resolve) => {
        req.session.destroy(() => {
          resolve();
        });
      });
      res.clearCookie(options.cookieName);
      return { ok: true };
    },

    async changePassword({ db, req, body, write, who }) {
      const [me] = await db.select().from(person).where(eq(person.id, who.id));
      if (!me || !(await verify(me.passwordHash, body.current))) {
        throw new HttpProblem(422, 'The present password is not right.', [{ path: 'current', text: 'is not right' }]);
      }
      const passwordHash = await hashPassword(body.next);
      await write(async (tx, audit) => {
        await tx.update(person).set({ passwordHash }).where(eq(person.id, who.id));
        await endSessions(tx, who.id, req.sessionID);
        await audit({
          act: 'changed',
          subject: 'person',
          subjectId: who.id,
          title: who.name,
          after: { passwordChanged: true },
        });
      });
      return { ok: true };
    },

    async firstRun({ db, req, body, requestId, now }) {
      refuseOtherSites(req);
      const passwordHash = await hashPassword(body.password);
      const administrator = await transaction(db, async (tx) => {
        await tx.execute(sql`lock table ${setting} in exclusive mode`);
        const [exists] = await tx.select({ id: setting.id }).from(setting);
        if (exists) throw new HttpProblem(409, 'The book is already set up. Sign in instead.');
        await tx
          .insert(setting)
          .values({ company: body.company, currency: body.currency, demo: options.demoAccounts.length > 0 });
        const [home] = await tx
          .insert(base)
          .values({ name: body.baseName, timeZone: body.timeZone, hemisphere: body.hemisphere })
          .returning({ id: base.id });
        const [first] = await tx
          .insert(person)
          .values({ name: body.name, username: body.username, role: 'administrator', baseId: home!.id, passwordHash })
          .returning();
        await writeAudit(tx, now, first!.id, requestId, {
          act: 'added',
          subject: 'book',
          title: body.company,
          after: { base: body.baseName, administrator: body.name },
        });
        return first!;
      });
      await regenerate(req);
      enter(req, administrator);
      return describe(db, req);
    },
  };
}
