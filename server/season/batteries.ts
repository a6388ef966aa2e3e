import { dayInZone } from '@diurna/core/calendar';
import { batteryState } from '@diurna/core/season';
import { eq } from 'drizzle-orm';
import { tables } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { boatInUse } from './boat-in-use.ts';
import { looksAt, offSeasonAt } from './kept.ts';

const { base, batteryLook } = tables;

/** Looks at batteries in store. */
export const batteryHandlers: Handlers<'addBatteryLook'> = {
  addBatteryLook: ({ params, body, write, who, now }) =>
    write(async (tx, audit) => {
      const of = await boatInUse(tx, params.id);
      const [place] = await tx.select().from(base).where(eq(base.id, of.baseId));
      const at = body.at === undefined || new Date(body.at) > now ? now : new Date(body.at);
      const day = dayInZone(at, place!.timeZone);
      const { volts, celsius, restedHours, kind, charged, remark } = body;
      const [row] = await tx
        .insert(batteryLook)
        .values({ boatId: params.id, day, volts, celsius, restedHours, kind, charged, remark, personId: who.id, at })
        .returning({ id: batteryLook.id });
      await audit({ act: 'added', subject: 'season', subjectId: params.id, title: of.name, after: { volts, charged } });
      const looks = await looksAt(tx, params.id);
      const since = (await offSeasonAt(tx, of.baseId, now))?.closes ?? day;
      // One that a phone kept until now need not be the newest.
      const { percent, verdict } = batteryState(looks, since, looks[0]!.day);
      return { id: row!.id, percent, verdict };
    }),
};
