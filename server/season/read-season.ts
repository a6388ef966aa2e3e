import type { AboutSeason, SeasonRoom } from '@diurna/contract/season';
import { names, type BoatFacts, type EngineFacts } from '@diurna/core/ahead';
import { dayInZone, dayNumber, type Day } from '@diurna/core/calendar';
import type { SchoolChoices } from '@diurna/core/service';
import {
  byWeek,
  countsFrom,
  firstFrost,
  offSeasonOf,
  paceOf,
  phaseOf,
  putAwayBy,
  seasonKey,
  standingOf,
  visitBy,
  type OffSeason,
  type SeasonBoat,
} from '@diurna/core/season';
import { visitMinutes } from '@diurna/core/visit';
import { eq } from 'drizzle-orm';
import { tables, type Db } from '../db/index.ts';
import { readRuleBook, type FleetCache } from '../service/index.ts';
import { readBase, readKept, type BaseAt, type Kept } from './kept.ts';
import { partsWanted, stabiliserOf } from './wanted.ts';

const { storagePlace } = tables;
type BoatRow = SeasonRoom['boats'][number];
/** Put off longer than this it has lapsed: a season went by. */
const LAPSED_DAYS = 270;

type Tasks = SeasonBoat['visits'][number]['tasks'];

/** Minutes of work in one visit. Many boats are alike: what is built alike and lacks the same takes as long. */
function minutesOfVisits(): (engines: readonly EngineFacts[], tasks: Tasks) => number {
  const known = new Map<string, number>();
  return (engines, tasks) => {
    const built = engines.map(({ cylinders, traits }) => ({ cylinders, traits }));
    const at = (id: number) => engines.findIndex((e) => e.id === id);
    const key = `${JSON.stringify(built)} ${tasks.map((t) => `${at(t.engineId)} ${t.task}`).join()}`;
    let minutes = known.get(key);
    if (minutes === undefined) {
      const wanted = tasks.map(({ engineId, task }) => {
        const { cylinders, traits } = built[at(engineId)]!;
        return { engineId, task, cylinders, engine: { facts: { traits, switches: {} }, sump: null, gearCase: null } };
      });
      known.set(key, (minutes = Math.round(visitMinutes(wanted).elapsed)));
    }
    return minutes;
  };
}

function rowOf(
  facts: BoatFacts,
  { kept, berths, changesOf }: Kept,
  at: BaseAt,
  choices: SchoolChoices,
  minutesOf: ReturnType<typeof minutesOfVisits>,
): BoatRow[] {
  const own = kept.get(facts.id);
  const asKept = { season: at.season, staysOut: own?.staysOut ?? false, choices, changesOf };
  const standing = standingOf(facts, asKept, at.today);
  if (standing === null) return [];
  const {
    off,
    around: { last, first },
    of,
  } = standing;
  const row: BoatRow = {
    boatId: facts.id,
    boatName: facts.engines[0]!.boatName,
    berth: berths.get(facts.id) ?? null,
    version: own?.version ?? 0,
    season: seasonKey(off),
    staysOut: asKept.staysOut,
    placeId: own?.placeId ?? null,
    tankLitres: own?.tankLitres ?? null,
    held: facts.engines.flatMap((e) => e.held),
    lastOut: last?.out ?? null,
    lastBack: last?.back ?? null,
    firstOut: first,
    visits: of.visits.map((v) => {
      const open = v.tasks.filter((t) => t.doneOn === null);
      const free = open.filter((t) => t.job === null);
      const minutes = minutesOf(facts.engines, open);
      const same = free.length === open.length;
      return { ...v, minutes, freeMinutes: same ? minutes : minutesOf(facts.engines, free) };
    }),
    leftOut: of.leftOut,
    changes: facts.engines.flatMap((e) =>
      changesOf(e.id, seasonKey(off)).map(({ task, visit, by, at: on }) => ({
        ...{ engineId: e.id, task, put: visit, by },
        on: dayInZone(on, at.timeZone),
      })),
    ),
    laidUpOn: of.laidUpOn,
    readyOn: of.readyOn,
    next: of.next,
    by: of.next && visitBy(of.next, { last, first }, at.season, off),
    note: of.note,
  };
  return [row];
}

/** Findings first: their repairs want the time of standing. Then by the day the next visit waits for. */
function inOrder(a: BoatRow, b: BoatRow): number {
  const done = (r: BoatRow) => Number(r.next === null);
  const wanted = (r: BoatRow) =>
    r.next === 'spring' ? (r.firstOut ?? '9999') : r.next === 'before' ? (r.lastOut ?? '0') : (r.lastBack ?? '0');
  return (
    done(a) - done(b) ||
    Number(b.held.length > 0) - Number(a.held.length > 0) ||
    (wanted(a) < wanted(b) ? -1 : wanted(a) > wanted(b) ? 1 : 0) ||
    names.compare(a.boatName, b.boatName)
  );
}

function pacesOf(rows: readonly BoatRow[], at: BaseAt, off: OffSeason): Pick<SeasonRoom, 'layUp' | 'recommission'> {
  // One that was never brought out is still in the last time of standing: its lay-up is not this one's.
  const taking = rows.filter((r) => !r.staysOut);
  const here = taking.filter((r) => r.season === seasonKey(off));
  const from = countsFrom(off, null);
  const one = (done: Day[], begins: Day, by: Day) => ({
    total: taking.length,
    done: done.length,
    by,
    ...paceOf(taking.length, done, begins, by, at.today),
    weeks: byWeek(done, begins, by > at.today ? by : at.today),
  });
  return {
    layUp: one(
      here.flatMap((r) => r.laidUpOn ?? []),
      from.before,
      putAwayBy(at.season, off),
    ),
    recommission: one(
      here.flatMap((r) => r.readyOn ?? []),
      from.spring,
      off.opens,
    ),
  };
}

function deferredOf(boats: readonly BoatFacts[], today: Day): SeasonRoom['deferred'] {
  return boats
    .flatMap(({ engines }) =>
      engines.flatMap((e) =>
        e.deferrals.map((d) => ({
          id: d.id,
          boatId: e.boatId,
          boatName: e.boatName,
          engineId: e.id,
          position: e.position,
          task: d.task,
          until: d.until,
          reason: d.reason,
          by: d.by,
          on: d.on,
          lapsed: d.until < today || dayNumber(d.until) - dayNumber(d.on) > LAPSED_DAYS,
        })),
      ),
    )
    .sort((a, b) => (a.until < b.until ? -1 : a.until > b.until ? 1 : names.compare(a.boatName, b.boatName)));
}

async function placesOf(db: Db, baseId: number, rows: readonly BoatRow[]): Promise<SeasonRoom['places']> {
  const places = await db.select().from(storagePlace).where(eq(storagePlace.baseId, baseId)).orderBy(storagePlace.name);
  return places.map(({ id, version, name, kind, room }) => ({
    id,
    version,
    name,
    kind,
    room,
    boats: rows.filter((r) => r.placeId === id && !r.staysOut).length,
  }));
}

/** Boats with engines at a base. */
export const boatsAt = (fleet: FleetCache, baseId: number): BoatFacts[] =>
  [...fleet.boats.values()].filter((b) => b.engines[0]?.baseId === baseId);

/** A base in its time of standing: what everything of the room is about. */
export const aboutOf = (at: BaseAt, off: OffSeason | null): AboutSeason => {
  const { closes, opens, lows, doseMlPerTen = null } = at.season;
  const { frostDay, waitDay, oldOil, notAtAll } = at.costs;
  return {
    baseId: at.id,
    today: at.today,
    season: {
      ...{ closes, opens, lows: lows && [...lows], doseMlPerTen },
      ...{ frostDay, waitDay, oldOil, notAtAll },
      ...{ version: at.version, entered: at.entered },
    },
    off: off && { ...off, frost: firstFrost(at.season, off), putAwayBy: putAwayBy(at.season, off) },
  };
};

/** Everything the Season room shows of one base. */
export async function readSeason(db: Db, fleet: FleetCache, baseId: number, now: Date): Promise<SeasonRoom> {
  await fleet.refresh(now);
  const at = await readBase(db, baseId, now);
  const off = offSeasonOf(at.season, at.today);
  const boats = boatsAt(fleet, baseId);
  const [kept, { choices }] = [await readKept(db, boats, off), await readRuleBook(db)];
  const minutesOf = minutesOfVisits();
  const rows = off === null ? [] : boats.flatMap((b) => rowOf(b, kept, at, choices, minutesOf)).sort(inOrder);
  return {
    ...aboutOf(at, off),
    phase: off && phaseOf(off, at.today),
    boats: rows,
    ...(off === null ? { layUp: null, recommission: null } : pacesOf(rows, at, off)),
    ...(await partsWanted(db, rows, baseId)),
    stabiliser: stabiliserOf(rows, at.season.doseMlPerTen ?? null),
    deferred: deferredOf(boats, at.today),
    places: await placesOf(db, baseId, rows),
  };
}
