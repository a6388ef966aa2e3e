import { username } from '@diurna/contract/people';
import { sql } from 'drizzle-orm';
import { randomBytes } from 'node:crypto';
import { processClock } from '../clock.ts';
import { makeDb, makePool, tables, transaction } from '../db/index.ts';
import { migrateDatabase } from '../db/migrate.ts';
import { writeAudit } from '../http/api.ts';
import { hashPassword } from './passwords.ts';
import { forgetSecondFactor } from './second-factor.ts';
import { endSessions } from './session.ts';

const { person } = tables;

/** What a command cannot do, in words. */
class Refused extends Error {
  override name = 'Refused';
}

/**
 * For a yard in which nobody is left who can let people in: makes somebody an administrator with a new password, which
 * is given back. Whoever had the name keeps it, without second factor and signed out everywhere.
 */
export async function makeAdministrator(databaseUrl: string, migrations: string, name: string): Promise<string> {
  const given = username.safeParse(name);
  if (!given.success) throw new Refused(`The name ${given.error.issues[0]!.message}.`);
  const password = randomBytes(15).toString('base64url');
  const passwordHash = await hashPassword(password);
  const pool = makePool(databaseUrl);
  pool.on('error', () => undefined);
  try {
    const db = makeDb(pool);
    await migrateDatabase(db, migrations);
    await transaction(db, async (tx) => {
      const entrance = { role: 'administrator' as const, active: true, passwordHash, openPassword: false };
      const [row] = await tx
        .insert(person)
        .values({ name: given.data, username: given.data, ...entrance })
        .onConflictDoUpdate({ target: person.username, set: { ...entrance, version: sql`${person.version} + 1` } })
        .returning();
      await forgetSecondFactor(tx, row!.id);
      await endSessions(tx, row!.id);
      await writeAudit(tx, processClock()(), null, null, {
        act: 'changed',
        subject: 'person',
        subjectId: row!.id,
        title: row!.name,
        after: { role: 'administrator', passwordChanged: true, by: 'a command at the machine' },
      });
    });
    return password;
  } finally {
    await pool.end();
  }
}
