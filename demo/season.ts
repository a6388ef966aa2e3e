import { addDays, type Day } from '@diurna/core/calendar';
import type { batteryRoutes } from '@diurna/contract/batteries';
import type { seasonRoutes } from '@diurna/contract/season';
import type { ReplyOf } from '@diurna/contract';
import type { Visitor } from './visitor.ts';

type Season = ReplyOf<(typeof seasonRoutes)['readSeason']>;
type Round = ReplyOf<(typeof batteryRoutes)['batteryRound']>;
type Boat = Season['boats'][number];
const monthDay = (day: Day) => day.slice(5);

/** The coldest night of each month where the middle of winter lies in the month of that day; invented. */
function lowsAround(middle: Day): number[] {
  const coldest = Number(middle.slice(5, 7)) - 1;
  return Array.from({ length: 12 }, (_, m) => Math.round(8 - 12 * Math.cos(((m - coldest) / 6) * Math.PI)));
}

/** Work of the season that no programme asks for: it moves no due date of the story. */
const OUT_OF_SEASON = [
  'flush',
  'stabiliser',
  'second-dose',
  'hull',
  'steering-rod',
  'fogging',
  'bowls',
  'antifreeze',
  'battery',
];

/** Writes the open work of these visits of a boat down as done that day. */
async function done(
  visitor: Visitor,
  boat: Boat,
  visits: readonly string[],
  doneOn: Day,
  by: string,
  only?: readonly string[],
): Promise<void> {
  const tasks = boat.visits
    .filter((v) => visits.includes(v.visit))
    .flatMap((v) => v.tasks)
    .filter((t) => only === undefined || only.includes(t.task));
  for (const engineId of new Set(tasks.map((t) => t.engineId))) {
    const own = tasks.filter((t) => t.engineId === engineId && t.doneOn === null && t.job === null).map((t) => t.task);
    if (own.length > 0)
      await visitor.send('POST', '/service/entries', {
        ...{ engineId, tasks: own, doneOn, hours: null, doneBy: by, remark: null },
      });
  }
}

/** Boats that still wait for their recommission: one went out without it, the others have their first hire ahead. */
function notReady(boats: readonly Boat[], today: Day): Set<number> {
  const free = boats.filter((b) => b.held.length === 0);
  const ahead = free.filter((b) => b.firstOut === null || b.firstOut >= today);
  const gone = free.filter((b) => b.firstOut !== null && b.firstOut < today);
  return new Set([...gone.slice(-1), ...ahead.slice(0, 4)].map((b) => b.boatId));
}

/**
 * The story of the seasons, on whatever day it begins: one base opened twelve days ago and brings its last boats out,
 * one closes in twenty days and has begun its lay-up, the third never closes.
 */
export async function tellSeasons(
  visitor: Visitor,
  today: Day,
  bases: { opening: number; closing: number; open: number },
): Promise<void> {
  const year = (baseId: number, closes: Day | null, opens: Day | null) =>
    visitor.send('PUT', `/season/bases/${baseId}`, {
      closes: closes && monthDay(closes),
      opens: opens && monthDay(opens),
      lows: closes && lowsAround(addDays(closes, 75)),
      version: 0,
    });
  await year(bases.opening, addDays(today, -165), addDays(today, -12));
  await year(bases.closing, addDays(today, 20), addDays(today, 165));
  await year(bases.open, null, null);
  const read = (baseId: number) => visitor.send<Season>('GET', `/season?baseId=${baseId}`);

  const opening = await read(bases.opening);
  const waiting = notReady(opening.boats, today);
  for (const [i, boat] of opening.boats.entries()) {
    // Put away in autumn; most were brought out again, a few each week before the opening.
    await done(visitor, boat, ['after'], addDays(today, -150 + (i % 5) * 4), 'Tomasz', OUT_OF_SEASON);
    if (!waiting.has(boat.boatId))
      await done(visitor, boat, ['spring'], addDays(today, -14 - (i % 4) * 6), i % 2 ? 'Tomasz' : 'Ines');
  }
  const round = await visitor.send<Round>('GET', `/season/batteries?baseId=${bases.opening}`);
  const [low, fine] = round.batteries;
  for (const [of, volts, charged] of [
    [low, 12.31, true],
    [fine, 12.62, false],
  ] as const)
    if (of)
      await visitor.send('POST', `/season/boats/${of.boatId}/battery`, {
        ...{ volts, celsius: 9, restedHours: 24, kind: 'flooded', charged, remark: null },
      });

  const { id: hall } = await visitor.send<{ id: number }>('POST', '/season/places', {
    ...{ baseId: bases.closing, name: 'Slip shed', kind: 'hall', room: 4 },
  });
  await visitor.send('POST', '/season/places', {
    ...{ baseId: bases.closing, name: 'Back yard', kind: 'yard', room: 6 },
  });
  for (const [i, boat] of (await read(bases.closing)).boats.entries()) {
    if (i > 3) break;
    await visitor.send('PUT', `/season/boats/${boat.boatId}`, {
      ...{ staysOut: false, placeId: i < 2 ? hall : null, tankLitres: [90, 25, 60, 120][i], version: 0 },
    });
    if (i % 2 === 1) await done(visitor, boat, ['before'], addDays(today, -3), 'Jory', OUT_OF_SEASON);
  }
}
