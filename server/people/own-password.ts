import { eq } from 'drizzle-orm';
import { tables } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { HttpProblem } from '../http/problem.ts';
import type { Throttle, Tries } from '../http/throttle.ts';
import { hashPassword, isPassword, refuseGuessable } from './passwords.ts';
import { endSessions } from './session.ts';

const { person, setting } = tables;
const QUARTER_S = 900;

/** One's own password. */
export const ownPasswordHandlers = (throttle: Throttle): Handlers<'changePassword'> => ({
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
});
