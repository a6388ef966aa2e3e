import { eq } from 'drizzle-orm';
import { tables } from '../db/index.ts';
import { writeAudit, type Handlers } from '../http/api.ts';
import { HttpProblem } from '../http/problem.ts';
import type { Throttle, Tries } from '../http/throttle.ts';
import { knownDevices } from './devices.ts';
import { enter, refuseOtherSites } from './enter.ts';
import { hashPassword, isPassword } from './passwords.ts';
import { asksOf, hasSecondFactor, takeCode } from './second-factor.ts';
import { describe, type PeopleOptions } from './who-is-here.ts';

const { person, setting } = tables;

const QUARTER_S = 900;

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

/** Who is here, and getting in by name and password. */
export function doorHandlers(options: PeopleOptions, throttle: Throttle): Handlers<'readSession' | 'signIn'> {
  // Checked when the name is unknown, so that the answer takes as long as for a known one.
  const decoy = hashPassword('nobody-has-this-password');
  const asDemo = options.demoAccounts.length > 0;
  const { deviceOf, knows, remember } = knownDevices(options.secureCookie);

  const refused = () =>
    new HttpProblem(401, 'Name and password do not belong together. Check both, capitals count in the password.');

  return {
    readSession: ({ db, req }) => describe(db, req, options),

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
      return describe(db, req, options);
    },
  };
}
