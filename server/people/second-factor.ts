import { and, count, eq, isNull, lt } from 'drizzle-orm';
import { createHash, randomBytes } from 'node:crypto';
import { Secret, TOTP } from 'otpauth';
import { machineNow } from '../clock.ts';
import { tables, type Db, type Tx } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { faulty, HttpProblem, notFound } from '../http/problem.ts';
import type { Throttle, Tries } from '../http/throttle.ts';
import { isPassword } from './passwords.ts';

const { person, recoveryCode, secondFactor, setting } = tables;

type Names = 'readSecondFactor' | 'beginSecondFactor' | 'confirmSecondFactor' | 'endSecondFactor' | 'resetSecondFactor';

const STEP_S = 30;
/** A code of the step before or after is taken as well: clocks of phones differ. */
const STEPS_OFF = 1;
const RECOVERY_CODES = 10;
const RECOVERY_BYTES = 10;

const totpOf = (secret: string, label = '', issuer = 'Diurna') =>
  new TOTP({ issuer, label, secret: Secret.fromBase32(secret), algorithm: 'SHA1', digits: 6, period: STEP_S });

const hashOf = (code: string) =>
  createHash('sha256')
    .update(code.toUpperCase().replaceAll(/[^A-Z2-7]/g, ''))
    .digest('hex');

/** The step of time a code belongs to (RFC 6238), null when it belongs to none near now. */
export function stepOf(secret: string, code: string, nowMs: number): number | null {
  const off = totpOf(secret).validate({ token: code.replaceAll(/\s/g, ''), timestamp: nowMs, window: STEPS_OFF });
  return off === null ? null : Math.floor(nowMs / 1000 / STEP_S) + off;
}

/** Whether somebody shows a second factor at the door. */
export async function hasSecondFactor(db: Db | Tx, personId: number): Promise<boolean> {
  const [row] = await db.select().from(secondFactor).where(eq(secondFactor.personId, personId));
  return (row?.confirmedAt ?? null) !== null;
}

/** Takes a code of the authenticator, or one for recovery; each opens once, also when two come at the same time. */
export async function takeCode(db: Db | Tx, personId: number, code: string, now: Date): Promise<boolean> {
  const [row] = await db.select().from(secondFactor).where(eq(secondFactor.personId, personId));
  if (!row) return false;
  const step = stepOf(row.secret, code, machineNow());
  if (step !== null) {
    const taken = await db
      .update(secondFactor)
      .set({ lastStep: step })
      .where(and(eq(secondFactor.personId, personId), lt(secondFactor.lastStep, step)))
      .returning();
    return taken.length > 0;
  }
  const used = await db
    .update(recoveryCode)
    .set({ usedAt: now })
    .where(
      and(eq(recoveryCode.personId, personId), eq(recoveryCode.codeHash, hashOf(code)), isNull(recoveryCode.usedAt)),
    )
    .returning();
  return used.length > 0;
}

/** Takes somebody’s second factor away with its codes; tells whether there was one. */
export async function forgetSecondFactor(tx: Tx, personId: number): Promise<boolean> {
  await tx.delete(recoveryCode).where(eq(recoveryCode.personId, personId));
  return (await tx.delete(secondFactor).where(eq(secondFactor.personId, personId)).returning()).length > 0;
}

const triesOf = (personId: number): Tries => ({ key: `factor:${personId}`, free: 5, mostWait: 900 });

/** Whoever changes what opens the account shows the password again. */
async function needPassword(
  throttle: Throttle,
  db: Db,
  personId: number,
  password: string,
): Promise<typeof person.$inferSelect> {
  await throttle.attempt([triesOf(personId)]);
  const [me] = await db.select().from(person).where(eq(person.id, personId));
  if (!me || !(await isPassword(me.passwordHash, password)))
    throw faulty('password', 'The password is not right. Type the one you sign in with.');
  await throttle.right([triesOf(personId)]);
  return me;
}

function setUp(throttle: Throttle): Handlers<'beginSecondFactor' | 'confirmSecondFactor'> {
  return {
    async beginSecondFactor({ db, who, body, write }) {
      const me = await needPassword(throttle, db, who.id, body.password);
      if (await hasSecondFactor(db, who.id))
        throw new HttpProblem(409, 'You have a second factor already. End that first, then set up another.');
      const secret = new Secret({ size: 20 }).base32;
      await write(async (tx, audit) => {
        await tx
          .insert(secondFactor)
          .values({ personId: who.id, secret })
          .onConflictDoUpdate({
            target: secondFactor.personId,
            set: { secret, lastStep: 0 },
            setWhere: isNull(secondFactor.confirmedAt),
          });
        await audit({ act: 'changed', subject: 'second factor', subjectId: who.id, title: who.name, after: 'begun' });
      });
      const [settings] = await db.select().from(setting);
      return { secret, uri: totpOf(secret, me.username, `Diurna ${settings!.company}`).toString() };
    },

    async confirmSecondFactor({ who, body, write, now }) {
      await throttle.attempt([triesOf(who.id)]);
      const codes = Array.from({ length: RECOVERY_CODES }, () =>
        new Secret({ buffer: new Uint8Array(randomBytes(RECOVERY_BYTES)).buffer }).base32.replace(/.{4}(?=.)/g, '$&-'),
      );
      await write(async (tx, audit) => {
        const [row] = await tx.select().from(secondFactor).where(eq(secondFactor.personId, who.id)).for('update');
        if (!row || row.confirmedAt !== null)
          throw new HttpProblem(409, 'There is nothing to confirm. Set the second factor up anew.');
        const step = stepOf(row.secret, body.code, machineNow());
        if (step === null)
          throw faulty('code', 'This code does not fit. Check the clock of the phone, and type the code it shows now.');
        await tx
          .update(secondFactor)
          .set({ confirmedAt: now, lastStep: step })
          .where(eq(secondFactor.personId, who.id));
        await tx.delete(recoveryCode).where(eq(recoveryCode.personId, who.id));
        await tx.insert(recoveryCode).values(codes.map((c) => ({ personId: who.id, codeHash: hashOf(c) })));
        await audit({ act: 'changed', subject: 'second factor', subjectId: who.id, title: who.name, after: 'on' });
      });
      await throttle.right([triesOf(who.id)]);
      return { recoveryCodes: codes };
    },
  };
}

export function secondFactorHandlers(throttle: Throttle): Handlers<Names> {
  return {
    ...setUp(throttle),

    async readSecondFactor({ db, who }) {
      const [[row], [left], [settings]] = await Promise.all([
        db.select().from(secondFactor).where(eq(secondFactor.personId, who.id)),
        db
          .select({ n: count() })
          .from(recoveryCode)
          .where(and(eq(recoveryCode.personId, who.id), isNull(recoveryCode.usedAt))),
        db.select().from(setting),
      ]);
      const on = (row?.confirmedAt ?? null) !== null;
      return { on, recoveryLeft: on ? left!.n : 0, asked: settings!.secondFactor && asksOf(who.role) };
    },

    async endSecondFactor({ db, who, body, write }) {
      await needPassword(throttle, db, who.id, body.password);
      const [settings] = await db.select().from(setting);
      if (settings!.secondFactor && asksOf(who.role))
        throw new HttpProblem(
          422,
          'The yard asks a second factor of your role, so it stays on. An administrator can reset it when a phone is lost.',
        );
      await write(async (tx, audit) => {
        await forgetSecondFactor(tx, who.id);
        await audit({ act: 'changed', subject: 'second factor', subjectId: who.id, title: who.name, after: 'off' });
      });
      return { ok: true };
    },

    resetSecondFactor: ({ params, write }) =>
      write(async (tx, audit) => {
        const [found] = await tx.select().from(person).where(eq(person.id, params.id));
        if (!found) throw notFound('person');
        if (!(await forgetSecondFactor(tx, params.id)))
          throw new HttpProblem(409, `${found.name} has no second factor. There is nothing to reset.`);
        await audit({
          act: 'changed',
          subject: 'second factor',
          subjectId: found.id,
          title: found.name,
          after: 'reset by an administrator',
        });
        return { ok: true };
      }),
  };
}

/** Of whom a yard can ask a second factor: those who let others in and who decide. */
export const asksOf = (role: string): boolean => role === 'administrator' || role === 'coordinator';
