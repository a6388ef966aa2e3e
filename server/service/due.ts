import { byBoat, type EngineDue } from '@diurna/core/ahead';
import { dayInZone, dayNumber } from '@diurna/core/calendar';
import { nearestLimit, sourceText } from '@diurna/core/service';
import type { DueRow, Outlook } from '@diurna/contract/service';
import type { Handlers } from '../http/api.ts';
import { shared } from '../http/shared.ts';
import { DueSelections } from './due-selection.ts';
import { type FleetCache } from './fleet-cache.ts';
import { outlookOf } from './outlook.ts';

function rowOf({ facts, rule, due, asked, deferral }: EngineDue): DueRow {
  return {
    engineId: facts.id,
    boatId: facts.boatId,
    boatName: facts.boatName,
    position: facts.position,
    baseId: facts.baseId,
    modelId: facts.modelId,
    modelName: facts.modelName,
    lifeHours: facts.lifeHours,
    hoursPerWeek: facts.hoursPerWeek,
    lastReadDay: facts.lastReadDay,
    due,
    rule: {
      task: rule.task,
      everyHours: rule.everyHours,
      everyMonths: rule.everyMonths,
      firstHours: rule.firstHours ?? null,
      counting: rule.counting ?? 'rolling',
      anchor: rule.anchor ?? null,
    },
    asked: asked ?? null,
    deferral: deferral
      ? {
          id: deferral.id,
          until: deferral.until,
          spring: deferral.spring,
          reason: deferral.reason,
          by: deferral.by,
          on: deferral.on,
          otherwise: nearestLimit(deferral.otherwise),
        }
      : null,
    because: sourceText(rule, facts.modelName),
    job: facts.openJobs.get(due.task) ?? null,
  };
}

const MOST_OUTLOOKS = 20;

/** What falls due: the list and the chart by weeks. */
export function dueHandlers(fleet: FleetCache): Handlers<'dueList' | 'outlook'> {
  const selections = new DueSelections();
  /** A cache by the selection it shows: gone with it when the fleet changes. */
  const outlooks = new WeakMap<object, Map<string, Outlook>>();
  return {
    async dueList({ query, now }) {
      await fleet.refresh(now);
      const { matching, counts, engines } = selections.choose(fleet, now, query);
      const shown =
        query.state === undefined && query.sort === 'worst'
          ? matching
          : matching.filter(({ due }) => query.state === undefined || due.state === query.state);
      if (query.sort === 'boat') shown.sort((a, b) => byBoat(a.facts, b.facts));
      if (query.sort === 'model')
        shown.sort((a, b) => a.facts.modelName.localeCompare(b.facts.modelName) || byBoat(a.facts, b.facts));
      const page = shown.slice((query.page - 1) * query.size, query.page * query.size);
      return { rows: page.map(rowOf), total: shown.length, page: query.page, size: query.size, counts, engines };
    },

    async outlook({ query, now }) {
      await fleet.refresh(now);
      const selection = selections.choose(fleet, now, query);
      const key = `${query.from} ${query.days} ${query.sort} ${query.state}`;
      let known = outlooks.get(selection);
      if (!known) outlooks.set(selection, (known = new Map<string, Outlook>()));
      let outlook = known.get(key);
      if (!outlook) {
        outlook = shared(outlookOf(fleet, selection, query));
        if (known.size < MOST_OUTLOOKS) known.set(key, outlook);
      }
      return outlook;
    },
  };
}

/** Days since the last reading, or null when there is none. */
export function daysSinceReading(fleet: FleetCache, now: Date, engineId: number): number | null {
  const facts = fleet.engines.get(engineId);
  if (!facts?.lastReadDay) return null;
  return dayNumber(dayInZone(now, facts.timeZone)) - dayNumber(facts.lastReadDay);
}
