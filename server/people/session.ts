import Bowser from 'bowser';
import { and, eq, inArray, ne, sql } from 'drizzle-orm';
import type { CookieOptions, Request, Response } from 'express';
import { createHash, randomBytes } from 'node:crypto';
import type pg from 'pg';
import { byBook, machineNow } from '../clock.ts';
import { transaction, tables, type Db, type Tx } from '../db/index.ts';
import { personOf, writeAudit, type Handlers, type Who } from '../http/api.ts';
import { cookieName, LASTS, newCsrfToken, sessionsOf } from '../http/session.ts';
import { HttpProblem, notFound } from '../http/problem.ts';
import { tell } from '../messages/index.ts';
import type { Throttle, Tries } from '../http/throttle.ts';
import { hashPassword, isPassword, refuseGuessable } from './passwords.ts';
import { asksOf, hasSecondFactor, takeCode } from './second-factor.ts';
import type { Session } from '@diurna/contract/people';
import { sharedFirstNames } from '@diurna/core/people';

const { knownDevice, person, setting, session, base } = tables;

export interface PeopleOptions {
  demoAccounts: Session['demoAccounts'];
  secureCookie: boolean;
}

type Names =
  | 'readSession'
  | 'signIn'
  | 'signOut'
  | 'signOutEverywhere'
  | 'changePassword'
  | 'firstRun'
  | 'listDevices'
  | 'endDevice';

const QUARTER_S = 900;
const YEAR_MS = 365 * 86_400_000;
const digest = (text: string) => createHash('sha256').update(text).digest('base64url');
/** Names a session to its person without opening it. */
const keyOf = (sid: string) => digest(sid).slice(0, 22);

/**
 * Tries that slow each other down at the door (OWASP, slow down online guessing attacks with device cookies): a browser
 * this person has signed in with before is counted by itself, so that nobody elsewhere can keep its person out; others
 * by name, and by address, where a whole yard may come from.
 */
function triesAtDoor(name: string, address: string, device: string | null): { own: Tries[]; common: Tries[] } {
  if (device !== null) return { own: [{ key: `device:${device}:${name}`, free: 5, mostWait: QUARTER_S }], common: [] };
  return {
    own: [{ key: `name:${name}@${address}`, free: 5, mostWait: QUARTER_S }],
    common: [
      { key: `name:${name}`, free: 20, mostWait: QUARTER_S },
      { key: `address:${address}`, free: 40, mostWait: 60 },
    ],
  };
}

/** The browser in words, as its person would name it. */
function deviceWords(req: Request): string {
  const agent = req.get('user-agent');
  if (!agent) return 'a program';
  const { browser, os, platform } = Bowser.parse(agent);
  const where = [os.name, platform.type === 'mobile' ? 'phone' : platform.type].filter(Boolean).join(', ');
  return [browser.name ?? 'a browser', where].filter(Boolean).join(' on ').slice(0, 80);
}

/** Sessions of the person end, except the one named. */
export async function endSessions(tx: Tx | Db, personId: number, except?: string): Promise<void> {
  await tx
    .delete(session)
    .where(and(sql`(${session.sess} ->> 'personId')::int = ${personId}`, except ? ne(session.sid, except) : undefined));
}

function regenerate(req: Request): Promise<void> {
  return new Promise((resolve, reject) => {
    req.session.regenerate((error: unknown) => {
      if (error) reject(error instanceof Error ? error : new Error('session'));
      else resolve();
    });
  });
}

/** From here on the session is this person's. */
async function enter(req: Request, { id, name, role, baseId }: Omit<Who, 'halfway'>, halfway: boolean, shared = false) {
  await regenerate(req);
  req.session.personId = id;
  req.session.who = { id, name, role, baseId, halfway };
  req.session.begun = machineNow();
  req.session.shared = shared;
  req.session.device = deviceWords(req);
  if (shared) req.session.cookie.maxAge = LASTS.shared.all;
}

/** Whether somebody gets the very account the demo's papers offer. */
export const isOpen = (options: PeopleOptions, given: { username: string; password: string }): boolean =>
  options.demoAccounts.some((a) => a.username === given.username && a.password === given.password);

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

export function sessionHandlers(pool: pg.Pool, options: PeopleOptions, throttle: Throttle): Handlers<Names> {
  // Checked when the name is unknown, so that the answer takes as long as for a known one.
  const decoy = hashPassword('nobody-has-this-password');
  const asDemo = options.demoAccounts.length > 0;
  const cookie: CookieOptions = { httpOnly: true, sameSite: 'lax', secure: options.secureCookie, path: '/' };
  const deviceCookie = options.secureCookie ? '__Host-diurna-device' : 'diurna-device';

  /** What this browser keeps to be known again, hashed. */
  function deviceOf(req: Request): string | null {
    const kept = new RegExp(`(?:^|; )${deviceCookie}=([\\w-]{22})(?:;|$)`).exec(req.get('cookie') ?? '')?.[1];
    return kept === undefined ? null : digest(kept);
  }

  /** Whether the person has signed in with this browser before. */
  async function knows(db: Db, personId: number, device: string): Promise<boolean> {
    const found = await db
      .select({ lastAt: knownDevice.lastAt })
      .from(knownDevice)
      .where(and(eq(knownDevice.personId, personId), eq(knownDevice.deviceHash, device)));
    return found.length > 0;
  }

  /** Remembers the browser; from another than before, the person is told. */
  async function remember(db: Db, req: Request, res: Response, who: typeof person.$inferSelect, now: Date) {
    let device = deviceOf(req);
    if (device === null) {
      const fresh = randomBytes(16).toString('base64url');
      res.cookie(deviceCookie, fresh, { ...cookie, maxAge: YEAR_MS });
      device = digest(fresh);
    }
    const others = await db
      .select({ device: knownDevice.deviceHash })
      .from(knownDevice)
      .where(eq(knownDevice.personId, who.id));
    await db
      .insert(knownDevice)
      .values({ personId: who.id, deviceHash: device, lastAt: now })
      .onConflictDoUpdate({ target: [knownDevice.personId, knownDevice.deviceHash], set: { lastAt: now } });
    // Nobody is told of those whose password anyone may read.
    if (who.openPassword || others.length === 0 || others.some((o) => o.device === device)) return;
    const text = `Your name was used to sign in with a new device: ${deviceWords(req)}. If that was not you, sign it out under The yard and change your password.`;
    await transaction(db, (tx) => tell(tx, [{ personId: who.id, kind: 'door', text }], now));
  }

  const activeNames = async (db: Db) =>
    (await db.select({ name: person.name }).from(person).where(eq(person.active, true))).map((p) => p.name);

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
      halfway: who?.halfway ?? false,
      shared: who !== null && (req.session.shared ?? false),
      sharedNames: who ? [...sharedFirstNames(await activeNames(db))] : [],
      demoAccounts: accounts
        .filter((a) => known.some((k) => k.username === a.username))
        .map(({ username, password, name, role }) => ({ username, password, name, role })),
    };
  }

  const refused = () =>
    new HttpProblem(401, 'Name and password do not belong together. Check both, capitals count in the password.');

  return {
    readSession: ({ db, req }) => describe(db, req),

    async signIn({ db, req, res, body, log, requestId, now }) {
      refuseOtherSites(req);
      const name = body.username.trim().toLowerCase();
      const [found] = await db.select().from(person).where(eq(person.username, name));
      const device = deviceOf(req);
      const known = found && device !== null && (await knows(db, found.id, device));
      const { own, common } = triesAtDoor(name, req.ip ?? 'unknown', known ? device : null);
      await throttle.attempt([...own, ...common]);
      const right = await isPassword(found?.passwordHash ?? (await decoy), body.password);
      if (!found || !found.active || !right) {
        log.warn({ username: name }, 'sign-in refused');
        throw refused();
      }
      const [settings] = await db.select().from(setting);
      if (found.openPassword && !(asDemo && settings?.demo)) {
        log.warn({ username: name }, 'sign-in refused: a demo password outside the demo');
        throw new HttpProblem(
          401,
          'This password stands in the demo’s papers, and the book is not run as the demo. An administrator can give you another.',
        );
      }
      const asked = await hasSecondFactor(db, found.id);
      if (asked && !(body.code !== undefined && (await takeCode(db, found.id, body.code, now)))) {
        // A right password alone is no wrong try; a wrong code is.
        if (body.code === undefined) await throttle.right(own, common);
        const text =
          body.code === undefined
            ? 'Now type the six figures your authenticator shows, or a code for recovery.'
            : 'This code does not fit, or was used already. Wait for the next one and type that.';
        throw new HttpProblem(401, text, [{ path: 'code', text }], 'second-factor');
      }
      // Only refused tries count: a whole yard may sign in from one address.
      await throttle.right(own, common);
      const halfway = (settings?.secondFactor ?? false) && asksOf(found.role) && !asked;
      await enter(req, found, halfway, body.shared);
      await remember(db, req, res, found, now);
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
      res.clearCookie(cookieName(options.secureCookie), cookie);
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
      res.clearCookie(cookieName(options.secureCookie), cookie);
      return { ok: true };
    },

    async changePassword({ db, req, body, write, who }) {
      const tries: Tries[] = [{ key: `password:${who.id}`, free: 5, mostWait: QUARTER_S }];
      await throttle.attempt(tries);
      const [me] = await db.select().from(person).where(eq(person.id, who.id));
      if (!me || !(await isPassword(me.passwordHash, body.current))) {
        throw new HttpProblem(422, 'The present password is not right.', [{ path: 'current', text: 'is not right' }]);
      }
      await throttle.right(tries);
      const [settings] = await db.select().from(setting);
      refuseGuessable('next', body.next, [me.name, me.username, settings!.company]);
      const passwordHash = await hashPassword(body.next);
      await write(async (tx, audit) => {
        await tx.update(person).set({ passwordHash, openPassword: false }).where(eq(person.id, who.id));
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

    async listDevices({ req, who, now }) {
      const at = byBook(now);
      return (await sessionsOf(pool, who.id)).map((s) => ({
        key: keyOf(s.sid),
        device: s.device || 'a browser',
        begun: at(s.begun),
        seen: at(s.seen),
        shared: s.shared,
        here: s.sid === req.sessionID,
      }));
    },

    async endDevice({ params, write, who }) {
      const found = (await sessionsOf(pool, who.id)).find((s) => keyOf(s.sid) === params.key);
      if (!found) throw notFound('device that is signed in');
      await write(async (tx, audit) => {
        await tx.delete(session).where(eq(session.sid, found.sid));
        await audit({
          act: 'signed out',
          subject: 'person',
          subjectId: who.id,
          title: who.name,
          after: { device: found.device },
        });
      });
      return { ok: true };
    },

    async firstRun({ db, req, res, body, requestId, now }) {
      refuseOtherSites(req);
      if (!isOpen(options, body)) refuseGuessable('password', body.password, [body.name, body.username, body.company]);
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
          .values({
            name: body.name,
            username: body.username,
            role: 'administrator',
            baseId: home!.id,
            passwordHash,
            openPassword: isOpen(options, body),
          })
          .returning();
        await writeAudit(tx, now, first!.id, requestId, {
          act: 'added',
          subject: 'book',
          title: body.company,
          after: { base: body.baseName, administrator: body.name },
        });
        return first!;
      });
      await enter(req, administrator, false);
      await remember(db, req, res, administrator, now);
      return describe(db, req);
    },
  };
}
