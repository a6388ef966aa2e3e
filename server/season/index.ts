import type { BatteryRound } from '@diurna/contract/batteries';
import type { SeasonRoom } from '@diurna/contract/season';
import type { Handlers } from '../http/api.ts';
import { seasonCalendar, seasonFile } from './season-file.ts';
import { eq } from 'drizzle-orm';
import { tables, type Db } from '../db/index.ts';
import { whileUnchanged } from '../db/while-unchanged.ts';
import { notFound } from '../http/problem.ts';
import { batteryHandlers } from './batteries.ts';
import { boatHandlers } from './boats.ts';
import { storageHandlers } from './places.ts';
import { yearHandlers } from './year.ts';
import { shared } from '../http/shared.ts';
import type { Think } from '../think.ts';

export { readSeasonPlan } from './backward.ts';
export { readBatteryRound } from './battery-round.ts';
export { readSeason } from './read-season.ts';

type Names =
  | 'planSeason'
  | 'readSeason'
  | 'batteryRound'
  | 'seasonFile'
  | 'seasonCalendar'
  | 'editBaseSeason'
  | 'editBoatSeason'
  | 'changeSeason'
  | 'addStoragePlace'
  | 'editStoragePlace'
  | 'addBatteryLook';

/** Midnight comes at a base on a quarter of an hour. */
const quarter = (now: Date) => Math.floor(now.getTime() / 900_000);

async function knownBase(db: Db, id: number): Promise<string> {
  const [row] = await db.select({ name: tables.base.name }).from(tables.base).where(eq(tables.base.id, id));
  if (!row) throw notFound('base');
  return row.name;
}

const seasonOf = (think: Think, db: Db, baseId: number, now: Date): Promise<SeasonRoom> =>
  whileUnchanged(db, `season ${baseId} ${quarter(now)}`, async () =>
    shared(await think('season', { now: now.getTime(), baseId })),
  );
const roundOf = (think: Think, db: Db, baseId: number, now: Date): Promise<BatteryRound> =>
  whileUnchanged(db, `battery round ${baseId} ${quarter(now)}`, async () =>
    shared(await think('battery round', { now: now.getTime(), baseId })),
  );

/** The season of a base: when it closes, what its boats get, where they stand, and their batteries. */
export const seasonHandlers = (think: Think): Handlers<Names> => ({
  async planSeason({ db, query, now }) {
    await knownBase(db, query.baseId);
    return whileUnchanged(db, `campaign ${query.baseId} ${query.share} ${quarter(now)}`, async () =>
      shared(await think('campaign', { now: now.getTime(), ...query })),
    );
  },
  async readSeason({ db, query, now }) {
    await knownBase(db, query.baseId);
    return seasonOf(think, db, query.baseId, now);
  },
  async batteryRound({ db, query, now }) {
    await knownBase(db, query.baseId);
    return roundOf(think, db, query.baseId, now);
  },
  async seasonFile({ db, query, now, res }) {
    const name = await knownBase(db, query.baseId);
    const text = seasonFile(name, await seasonOf(think, db, query.baseId, now));
    res.attachment(`diurna-season-${query.baseId}.csv`);
    return text;
  },
  async seasonCalendar({ db, query, now, res }) {
    const name = await knownBase(db, query.baseId);
    const [season, round] = [await seasonOf(think, db, query.baseId, now), await roundOf(think, db, query.baseId, now)];
    res.attachment(`diurna-season-${query.baseId}.ics`);
    return seasonCalendar(name, season, round, now);
  },
  ...yearHandlers,
  ...boatHandlers,
  ...storageHandlers,
  ...batteryHandlers,
});
