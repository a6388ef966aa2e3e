import { taskKind } from '@diurna/contract/fleet';
import type { BoatFacts } from '@diurna/core/ahead';
import { dayInZone } from '@diurna/core/calendar';
import {
  openingAfter,
  SEASON_VISITS,
  seasonAhead,
  seasonWorkOf,
  standingOf,
  whyNotReady,
  type BaseSeason,
  type BoatSeasonKept,
  type SeasonChange,
} from '@diurna/core/season';
import { sql } from 'drizzle-orm';
import { z } from 'zod';
import { rowsOf, tables, type Db } from '../db/index.ts';
import { readRuleBook } from './rule-book.ts';

const { baseSeason } = tables;
const changeRow = z.object({
  engine_id: z.number(),
  season: z.string(),
  task: taskKind,
  visit: z.enum(SEASON_VISITS).nullable(),
  reason: z.string(),
});

/**
 * Reads what is kept of the seasons of bases and boats.
 *
 * @returns for a boat; null where nobody entered when its base closes: nothing is asked of anybody before that
 */
export async function readSeasons(db: Db): Promise<(boat: BoatFacts) => BoatSeasonKept | null> {
  const seasons = new Map<number, BaseSeason>((await db.select().from(baseSeason)).map((s) => [s.baseId, s]));
  if (seasons.size === 0) return () => null;
  const [out, changes, { choices }] = await Promise.all([
    rowsOf(db, z.object({ boat_id: z.number() }), sql`select boat_id from boat_season where stays_out`),
    rowsOf(db, changeRow, sql`select engine_id, season, task, visit, reason from season_change order by id`),
    readRuleBook(db),
  ]);
  const staysOut = new Set(out.map((o) => o.boat_id));
  const changesOf = new Map<string, SeasonChange[]>();
  for (const { engine_id, season, ...change } of changes) {
    const key = `${engine_id} ${season}`;
    changesOf.set(key, [...(changesOf.get(key) ?? []), change]);
  }
  return (boat) => {
    const season = seasons.get(boat.engines[0]?.baseId ?? 0);
    if (!season) return null;
    return {
      season,
      staysOut: staysOut.has(boat.id),
      choices,
      changesOf: (engineId, name) => changesOf.get(`${engineId} ${name}`) ?? [],
    };
  };
}

/** Sets what the season wants of a boat now. */
export function wantOfSeason(boat: BoatFacts, kept: BoatSeasonKept | null, now: Date): void {
  const zone = boat.engines[0]?.timeZone;
  if (kept === null || zone === undefined) return;
  const today = dayInZone(now, zone);
  const standing = standingOf(boat, kept, today);
  boat.seasonWork = seasonWorkOf(standing, kept.season, today);
  boat.seasonAhead = standing === null ? [] : seasonAhead(standing, kept.season, today);
  boat.notReady = whyNotReady(standing);
  boat.opensOn = openingAfter(kept.season, today);
}
