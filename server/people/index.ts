import { asc, count, eq, and, ne } from 'drizzle-orm';
import type pg from 'pg';
import { tables, type Db, type Tx } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { HttpProblem } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';
import type { Throttle } from '../http/throttle.ts';
import { hashPassword, refuseGuessable } from './passwords.ts';
import { secondFactorHandlers } from './second-factor.ts';
import { doorHandlers } from './door.ts';
import { firstRunHandlers } from './first-run.ts';
import { ownPasswordHandlers } from './own-password.ts';
import { endSessions, sessionHandlers } from './session.ts';
import { isOpen, type PeopleOptions } from './who-is-here.ts';
import { writingOf } from './writing.ts';

export { makeAdministrator } from './make-administrator.ts';

const { person, setting } = tables;

type Names =
  | 'readSession'
  | 'signIn'
  | 'signOut'
  | 'signOutEverywhere'
  | 'changePassword'
  | 'firstRun'
  | 'listDevices'
  | 'endDevice'
  | 'readSecondFactor'
  | 'beginSecondFactor'
  | 'confirmSecondFactor'
  | 'endSecondFactor'
  | 'resetSecondFactor'
  | 'listPeople'
  | 'addPerson'
  | 'editPerson'
  | 'readSettings'
  | 'editSettings';

async function keepAnAdministrator(tx: Tx, leaving: number): Promise<void> {
  const [left] = await tx
    .select({ n: count() })
    .from(person)
    .where(and(eq(person.role, 'administrator'), eq(person.active, true), ne(person.id, leaving)));
  if ((left?.n ?? 0) === 0) {
    throw new HttpProblem(
      422,
      'This is the last administrator. Make someone else administrator first, or nobody could let people in.',
      [{ path: 'role', text: 'the last administrator has to stay' }],
    );
  }
}

export function peopleHandlers(pool: pg.Pool, options: PeopleOptions, throttle: Throttle): Handlers<Names> {
  const company = async (db: Db) => (await db.select().from(setting))[0]!.company;
  return {
    ...doorHandlers(options, throttle),
    ...firstRunHandlers(options),
    ...sessionHandlers(pool, options.secureCookie),
    ...ownPasswordHandlers(throttle),
    ...secondFactorHandlers(throttle),

    listPeople: ({ db }) =>
      db
        .select({
          id: person.id,
          name: person.name,
          username: person.username,
          role: person.role,
          baseId: person.baseId,
          active: person.active,
          version: person.version,
        })
        .from(person)
        .orderBy(asc(person.name))
        .limit(1000),

    async addPerson({ db, body, write }) {
      const { password, ...rest } = body;
      const openPassword = isOpen(options, body);
      if (!openPassword) refuseGuessable('password', password, [rest.name, rest.username, await company(db)]);
      const passwordHash = await hashPassword(password);
      return write(async (tx, audit) => {
        const [row] = await tx
          .insert(person)
          .values({ ...rest, passwordHash, openPassword })
          .returning();
        await audit({ act: 'added', subject: 'person', subjectId: row!.id, title: row!.name, after: rest });
        return { id: row!.id, version: row!.version };
      });
    },

    async editPerson({ db, params, body, write }) {
      const { password, version, ...rest } = body;
      if (password !== undefined) refuseGuessable('password', password, [rest.name, rest.username, await company(db)]);
      const passwordHash = password === undefined ? undefined : await hashPassword(password);
      return write(async (tx, audit) => {
        const before = await lockVersion(tx, person, params.id, version, 'person');
        if (before.role === 'administrator' && (rest.role !== 'administrator' || !rest.active)) {
          await keepAnAdministrator(tx, params.id);
        }
        const [row] = await tx
          .update(person)
          .set({ ...rest, ...(passwordHash && { passwordHash, openPassword: false }), ...nextVersion(person) })
          .where(eq(person.id, params.id))
          .returning();
        if (passwordHash !== undefined || !rest.active) await endSessions(tx, params.id);
        await audit({
          act: 'changed',
          subject: 'person',
          subjectId: row!.id,
          title: row!.name,
          before,
          after: { ...rest, ...(passwordHash && { passwordChanged: true }) },
        });
        return { id: row!.id, version: row!.version };
      });
    },

    async readSettings({ db }) {
      const [row] = await db.select().from(setting);
      const { company: name, currency, shelfPolicy, secondFactor, morningMinute, version } = row!;
      return { company: name, currency, shelfPolicy, secondFactor, morningMinute, ...writingOf(row), version };
    },

    editSettings: ({ body, write }) =>
      write(async (tx, audit) => {
        const { version, ...rest } = body;
        const before = await lockVersion(tx, setting, 1, version, 'page of settings');
        const [row] = await tx
          .update(setting)
          .set({ ...rest, ...nextVersion(setting) })
          .returning();
        await audit({ act: 'changed', subject: 'settings', title: rest.company, before, after: rest });
        return { version: row!.version };
      }),
  };
}
