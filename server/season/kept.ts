import type { BoatFacts } from '@diurna/core/ahead';
import { dayInZone, type Day } from '@diurna/core/calendar';
import {
  offSeasonBehind,
  offSeasonOf,
  seasonKey,
  usualSeasonOf,
  type BaseSeason,
  type CampaignCosts,
  type OffSeason,
  type SeasonChange,
} from '@diurna/core/season';
import { and, desc, eq, gte } from 'drizzle-orm';
import { among, tables, type Db, type Tx } from '../db/index.ts';
import { notFound } from '../http/problem.ts';

const { base, baseSeason, batteryLook, boat, boatSeason, person, seasonChange } = tables;

/** A base on a day, with its season. */
export interface BaseAt {
  id: number;
  timeZone: string;
  today: Day;
  season: BaseSeason;
  /** What the base says being late costs; null = the usual. */
  costs: Record<keyof CampaignCosts, number | null>;
  version: number;
  entered: boolean;
}

/** A base with its season, or the usual one of its half of the earth. */
export async function readBase(db: Db | Tx, baseId: number, now: Date): Promise<BaseAt> {
  const [row] = await db
    .select({ b: base, s: baseSeason })
    .from(base)
    .leftJoin(baseSeason, eq(baseSeason.baseId, base.id))
    .where(eq(base.id, baseId));
  if (!row) throw notFound('base');
  const { b, s } = row;
  return {
    id: b.id,
    timeZone: b.timeZone,
    today: dayInZone(now, b.timeZone),
    season: s ?? usualSeasonOf(b.hemisphere),
    costs: {
      ...{ frostDay: s?.frostDay ?? null, waitDay: s?.waitDay ?? null },
      ...{ oldOil: s?.oldOil ?? null, notAtAll: s?.notAtAll ?? null },
    },
    version: s?.version ?? 0,
    entered: s !== null,
  };
}

/** A decision about a list, with who took it and when. */
interface DecidedChange extends SeasonChange {
  engineId: number;
  by: string | null;
  at: Date;
}

/** What the book keeps of boats and engines for their season. */
export async function readKept(db: Db, boats: readonly BoatFacts[], off: OffSeason | null) {
  const boatIds = boats.map((b) => b.id);
  const engineIds = boats.flatMap((b) => b.engines.map((e) => e.id));
  const [kept, berths, changes] = await Promise.all([
    db.select().from(boatSeason).where(among(boatSeason.boatId, boatIds)),
    db.select({ id: boat.id, berth: boat.berth }).from(boat).where(among(boat.id, boatIds)),
    off === null
      ? []
      : db
          .select({ c: seasonChange, by: person.name })
          .from(seasonChange)
          .leftJoin(person, eq(person.id, seasonChange.personId))
          // Of the time of standing before, too: boats may still be in that.
          .where(
            and(gte(seasonChange.season, String(Number(seasonKey(off)) - 1)), among(seasonChange.engineId, engineIds)),
          ),
  ]);
  const ofEngine = new Map<string, DecidedChange[]>();
  for (const { c, by } of changes) {
    const key = `${c.engineId} ${c.season}`;
    ofEngine.set(key, [...(ofEngine.get(key) ?? []), { ...c, by }]);
  }
  return {
    kept: new Map(kept.map((k) => [k.boatId, k])),
    berths: new Map(berths.map((b) => [b.id, b.berth])),
    changesOf: (engineId: number, season: string) => ofEngine.get(`${engineId} ${season}`) ?? [],
  };
}
export type Kept = Awaited<ReturnType<typeof readKept>>;

/** The battery looks of a boat so far, the newest first. */
export function looksAt(db: Db | Tx, boatId: number) {
  return db
    .select()
    .from(batteryLook)
    .where(eq(batteryLook.boatId, boatId))
    .orderBy(desc(batteryLook.day), desc(batteryLook.id))
    .limit(10);
}

/** The time of standing a base is in or comes to. */
export async function offSeasonAt(db: Db | Tx, baseId: number, now: Date): Promise<OffSeason | null> {
  const at = await readBase(db, baseId, now);
  return offSeasonOf(at.season, at.today);
}

/** By what decisions are kept now at a base: its time of standing, and the one before, in which boats may still be. */
export async function openSeasons(db: Db | Tx, baseId: number, now: Date): Promise<string[]> {
  const at = await readBase(db, baseId, now);
  const [off, behind] = [offSeasonOf(at.season, at.today), offSeasonBehind(at.season, at.today)];
  return off === null || behind === null ? [] : [...new Set([seasonKey(off), seasonKey(behind)])];
}
