import { sql } from 'drizzle-orm';
import { tables, transaction } from '../db/index.ts';
import { writeAudit, type Handlers } from '../http/api.ts';
import { HttpProblem } from '../http/problem.ts';
import { knownDevices } from './devices.ts';
import { enter, refuseOtherSites } from './enter.ts';
import { hashPassword, refuseGuessable } from './passwords.ts';
import { describe, isOpen, type PeopleOptions } from './who-is-here.ts';

const { person, setting, base } = tables;

/** Setting the book up: the company, its first base and its administrator, once. */
export const firstRunHandlers = (options: PeopleOptions): Handlers<'firstRun'> => ({
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
    await knownDevices(options.secureCookie).remember(db, req, res, administrator, now);
    return describe(db, req, options);
  },
});
