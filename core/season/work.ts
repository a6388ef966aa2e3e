import type { BoatFacts, SeasonAhead, SeasonWork } from '../ahead/index.ts';
import { addDays, dayInZone, type Day } from '../calendar/index.ts';
import { TASKS, type SchoolChoices } from '../service/index.ts';
import { seasonBoat, type SeasonBoat } from './boat.ts';
import { VISIT_WORDS, type SeasonChange, type SeasonVisit } from './campaign.ts';
import { hiresAround, type HiresAround } from './hires.ts';
import {
  DAYS_BEFORE_OPENING,
  firstFrost,
  offSeasonBehind,
  offSeasonOf,
  phaseOf,
  putAwayBy,
  seasonKey,
  type BaseSeason,
  type OffSeason,
} from './season.ts';

/** What is kept of a boat's season. */
export interface BoatSeasonKept {
  season: BaseSeason;
  staysOut: boolean;
  choices: SchoolChoices;
  /** Decisions about an engine in the time of standing of that name. */
  changesOf: (engineId: number, season: string) => readonly SeasonChange[];
}

/** By when a visit is wanted: before the last hire goes out, before frost, before the first hire. */
export function visitBy(visit: SeasonVisit, { last, first }: HiresAround, season: BaseSeason, off: OffSeason): Day {
  if (visit === 'before') return last?.out ?? off.closes;
  return visit === 'after' ? putAwayBy(season, off) : (first ?? off.opens);
}

type Hired = Pick<BoatFacts, 'engines' | 'hires'>;

/**
 * All that a boat still gets in its time of standing, and when: before its last hire, between that and frost, between
 * the weeks before the opening and its first hire.
 */
export function seasonAhead({ off, around, of }: BoatStanding, season: BaseSeason, today: Day): SeasonAhead[] {
  const from = {
    before: today,
    after: around.last?.back ?? off.closes,
    spring: addDays(off.opens, -DAYS_BEFORE_OPENING),
  };
  const later = (a: Day, b: Day) => (a > b ? a : b);
  return of.visits.flatMap(({ visit, tasks }) => {
    // What missed its last hire goes in at lay-up; in spring nothing of autumn is made up for.
    if (visit !== 'spring' && phaseOf(off, today) === 'opening') return [];
    const at = visit === 'before' && of.next === 'after' ? 'after' : visit;
    const first = later(today, from[at]);
    const by = later(first, visitBy(at, around, season, off));
    return tasks.flatMap(({ engineId, task, doneOn }) =>
      doneOn === null ? [{ engineId, task, from: first, by }] : [],
    );
  });
}

/** A boat in the time of standing its work belongs to. */
export interface BoatStanding {
  off: OffSeason;
  around: HiresAround;
  of: SeasonBoat;
}

function standingIn(boat: Hired, kept: BoatSeasonKept, off: OffSeason, zone: string, today: Day): BoatStanding {
  const around = hiresAround(boat, off, zone);
  const of = seasonBoat(
    { engines: boat.engines, staysOut: kept.staysOut, last: around.last },
    off,
    { frost: firstFrost(kept.season, off) !== null },
    kept.choices,
    (engineId) => kept.changesOf(engineId, seasonKey(off)),
    today,
  );
  return { off, around, of };
}

/** It was put away, or begun to be brought out: the book knows of its season. */
const isKnown = ({ visits }: SeasonBoat) => visits.some((v) => v.visit !== 'before' && v.done > 0);

/**
 * A boat in its time of standing. One that was put away and has not been out since the opening is still in the last
 * one, however long the season runs already: it is brought out before its first hire.
 *
 * @returns null where the base never closes, or nothing stands there
 */
export function standingOf(boat: Hired, kept: BoatSeasonKept, today: Day): BoatStanding | null {
  const off = offSeasonOf(kept.season, today);
  const zone = boat.engines[0]?.timeZone;
  if (off === null || zone === undefined) return null;
  const behind = offSeasonBehind(kept.season, today);
  if (behind !== null && behind.opens !== off.opens && phaseOf(off, today) === 'running') {
    const last = standingIn(boat, kept, behind, zone, today);
    const day = (instant: number) => dayInZone(new Date(instant), zone);
    const was = boat.hires.some((h) => day(h.out) >= behind.opens && day(h.out) < today);
    if (!was && last.of.next === 'spring' && isKnown(last.of)) return last;
  }
  return standingIn(boat, kept, off, zone, today);
}

/**
 * Why a boat does not go out before it was brought out of its lay-up, as a sentence; null = it may, or the book knows
 * nothing of its being put away.
 */
export function whyNotReady(standing: BoatStanding | null): string | null {
  if (standing === null || standing.of.next !== 'spring' || !isKnown(standing.of)) return null;
  const open = standing.of.visits.find((v) => v.visit === 'spring')!.tasks.filter((t) => t.doneOn === null);
  const words = [...new Set(open.map((t) => TASKS[t.task].word.toLowerCase()))];
  return `It was put away and is not brought out yet: ${words.join(', ')}.`;
}

/**
 * The work of the season that can be done at a boat now, with the day it is wanted by: before the last hire goes out,
 * before frost, before the first hire. What comes after a visit that is not done yet waits for it.
 *
 * @returns by engine; nothing while the season runs, but for boats that were never brought out
 */
export function seasonWorkOf(standing: BoatStanding | null, season: BaseSeason, today: Day): Map<number, SeasonWork[]> {
  const found = new Map<number, SeasonWork[]>();
  if (standing === null) return found;
  const { off, around, of } = standing;
  if (of.next === null || phaseOf(off, today) === 'running') return found;
  const by = visitBy(of.next, around, season, off);
  // What missed its last hire is done at lay-up.
  const visits = of.visits.filter((v) => v.visit === of.next || (v.visit === 'before' && of.next === 'after'));
  for (const { visit, tasks } of visits)
    for (const { engineId, task, because, doneOn } of tasks) {
      if (doneOn !== null) continue;
      const word = VISIT_WORDS[visit];
      const work = { task, by, why: `${word.charAt(0).toUpperCase()}${word.slice(1)}: ${because}.` };
      const own = found.get(engineId);
      if (own) own.push(work);
      else found.set(engineId, [work]);
    }
  return found;
}
