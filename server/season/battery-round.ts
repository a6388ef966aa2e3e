import type { BatteryRound } from '@diurna/contract/batteries';
import { names, type BoatFacts } from '@diurna/core/ahead';
import { addDays, type Day } from '@diurna/core/calendar';
import { answerTo, type TaskKind } from '@diurna/core/service';
import { batteryState, countsFrom, offSeasonOf, type OffSeason } from '@diurna/core/season';
import { and, desc, eq, gte } from 'drizzle-orm';
import { among, tables, type Db } from '../db/index.ts';
import { readRuleBook, type FleetCache } from '../service/index.ts';
import { readBase } from './kept.ts';
import { aboutOf, boatsAt } from './read-season.ts';

const { batteryLook, boatSeason, storagePlace } = tables;
/** Looks so many days before the closing still tell of the battery that is put in store. */
const LOOKS_BEFORE = 60;
const MOST_LOOKS = 6;

/** The day a battery task was last done at a boat; null = not in this time of standing. */
function doneFrom(boat: BoatFacts, task: TaskKind, from: Day): Day | null {
  const days = boat.engines.flatMap((e) => {
    const last = e.lastDone.get(task);
    return last && last.from !== 'new' && last.day >= from ? [last.day] : [];
  });
  return days.reduce<Day | null>((most, day) => (most === null || day > most ? day : most), null);
}

async function looksOf(db: Db, boatIds: number[], off: OffSeason) {
  const rows = await db
    .select()
    .from(batteryLook)
    .where(and(among(batteryLook.boatId, boatIds), gte(batteryLook.day, addDays(off.closes, -LOOKS_BEFORE))))
    .orderBy(desc(batteryLook.day), desc(batteryLook.id));
  const of = new Map<number, typeof rows>();
  for (const row of rows) of.set(row.boatId, [...(of.get(row.boatId) ?? []), row]);
  return of;
}

/** Batteries that were taken out for this time of standing and are not aboard again, those that wait longest first. */
export async function readBatteryRound(db: Db, fleet: FleetCache, baseId: number, now: Date): Promise<BatteryRound> {
  await fleet.refresh(now);
  const at = await readBase(db, baseId, now);
  const off = offSeasonOf(at.season, at.today);
  const { choices } = await readRuleBook(db);
  const about = { ...aboutOf(at, off), charger: answerTo('battery', choices).key === 'charger' };
  if (off === null) return { ...about, batteries: [] };
  const boats = boatsAt(fleet, baseId);
  const [looks, stand] = await Promise.all([
    looksOf(
      db,
      boats.map((b) => b.id),
      off,
    ),
    db
      .select({ boatId: boatSeason.boatId, staysOut: boatSeason.staysOut, place: storagePlace.name })
      .from(boatSeason)
      .leftJoin(storagePlace, eq(storagePlace.id, boatSeason.placeId))
      .where(
        among(
          boatSeason.boatId,
          boats.map((b) => b.id),
        ),
      ),
  ]);
  const standOf = new Map(stand.map((s) => [s.boatId, s]));
  const from = countsFrom(off, null);
  const batteries = boats
    .flatMap((boat): BatteryRound['batteries'] => {
      const own = looks.get(boat.id) ?? [];
      const since = doneFrom(boat, 'battery', from.after) ?? own.at(-1)?.day ?? null;
      // Looked at in spring it is aboard again.
      const aboard = doneFrom(boat, 'battery-check', from.spring) !== null;
      if (since === null || aboard || standOf.get(boat.id)?.staysOut) return [];
      return [
        {
          boatId: boat.id,
          boatName: boat.engines[0]!.boatName,
          place: standOf.get(boat.id)?.place ?? null,
          since,
          ...batteryState(own, since, at.today),
          looks: own
            .slice(0, MOST_LOOKS)
            .map(({ day, volts, celsius, restedHours, kind, charged }) => ({
              ...{ day, volts, celsius, restedHours, kind, charged },
            })),
        },
      ];
    })
    .sort((a, b) =>
      a.nextLook < b.nextLook ? -1 : a.nextLook > b.nextLook ? 1 : names.compare(a.boatName, b.boatName),
    );
  return { ...about, batteries };
}
