import type { BoatFacts, SeasonWork } from '../ahead/index.ts';
import type { Day } from '../calendar/index.ts';
import type { SchoolChoices } from '../service/index.ts';
import { seasonBoat } from './boat.ts';
import { VISIT_WORDS, type SeasonChange, type SeasonVisit } from './campaign.ts';
import { hiresAround, type HiresAround } from './hires.ts';
import { firstFrost, offSeasonOf, phaseOf, putAwayBy, seasonKey, type BaseSeason, type OffSeason } from './season.ts';

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

/**
 * The work of the season that can be done at a boat now, with the day it is wanted by: before the last hire goes out,
 * before frost, before the first hire. What comes after a visit that is not done yet waits for it.
 *
 * @returns by engine; nothing while the season runs
 */
export function seasonWorkOf(
  boat: Pick<BoatFacts, 'engines' | 'hires'>,
  { season, staysOut, choices, changesOf }: BoatSeasonKept,
  today: Day,
): Map<number, SeasonWork[]> {
  const found = new Map<number, SeasonWork[]>();
  const off = offSeasonOf(season, today);
  const zone = boat.engines[0]?.timeZone;
  if (off === null || zone === undefined || phaseOf(off, today) === 'running') return found;
  const around = hiresAround(boat, off, zone);
  const changes = (engineId: number) => changesOf(engineId, seasonKey(off));
  const of = seasonBoat(
    { engines: boat.engines, staysOut, last: around.last },
    off,
    { frost: firstFrost(season, off) !== null },
    choices,
    changes,
    today,
  );
  if (of.next === null) return found;
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
