import { byBoat, type EngineDue } from '@diurna/core/ahead';
import type { EngineFacts } from '@diurna/core/ahead';
import { dayNumber, minuteInZone } from '@diurna/core/calendar';
import { dueDays, namedServices, nearestLimit, serviceOf, type Due, type DueState } from '@diurna/core/service';
import type { Outlook, OutlookRow } from '@diurna/contract/service';
import type { DueSelection } from './due-selection.ts';

import { type FleetCache } from './fleet-cache.ts';

interface Query {
  from: string;
  days: number;
  state?: DueState | undefined;
  sort: 'worst' | 'boat' | 'model' | 'base';
}

/** The lines of the chart: an engine each, with what may fall due in the days asked for. */
export function outlookOf(
  fleet: FleetCache,
  { matching, counts }: DueSelection,
  { from, days, state, sort }: Query,
): Outlook {
  const first = dayNumber(from);
  // Worst first: the order in which engines first come up.
  const tasksOf = new Map<EngineFacts, EngineDue[]>();
  for (const one of matching) {
    const tasks = tasksOf.get(one.facts);
    if (tasks) tasks.push(one);
    else tasksOf.set(one.facts, [one]);
  }
  const engines = [...tasksOf.keys()].filter(
    (facts) => state === undefined || tasksOf.get(facts)!.some(({ due }) => due.state === state),
  );
  if (sort === 'boat') engines.sort(byBoat);
  if (sort === 'model') engines.sort((a, b) => a.modelName.localeCompare(b.modelName) || byBoat(a, b));
  if (sort === 'base') engines.sort((a, b) => a.baseId - b.baseId || byBoat(a, b));
  const hires: Outlook['hires'] = {};
  for (const facts of engines) {
    if (!(facts.boatId in hires)) hires[facts.boatId] = hiresOf(fleet, facts, first, days);
  }
  return { from, days, rows: engines.map((facts) => rowOf(facts, tasksOf.get(facts)!, first, days)), hires, counts };
}

function hiresOf(
  fleet: FleetCache,
  { boatId, timeZone }: EngineFacts,
  first: number,
  days: number,
): [number, number][] {
  const shown: [number, number][] = [];
  const all = fleet.boats.get(boatId)?.hires ?? [];
  // A day of slack for the zone; the exact place is worked out below.
  const start = (first - 1) * 86_400_000;
  const end = (first + days + 1) * 86_400_000;
  for (const { out, back } of all) {
    if (back < start || out > end) continue;
    const place = (instant: number) => {
      const { dayNo, minute } = minuteInZone(instant, timeZone);
      return Math.round((dayNo - first + minute / 1440) * 100) / 100;
    };
    shown.push([place(out), place(back)]);
  }
  return shown;
}

/** The first service is one of a new engine only. */
const rulesOf = (facts: EngineFacts, tasks: readonly EngineDue[]) =>
  tasks.some(({ due }) => due.last?.from === 'new')
    ? facts.rules
    : facts.rules.map((r) => ({ ...r, firstHours: null }));

/** The nearest limit of an engine. @param tasks its tasks, worst first */
export function nearestOf(tasks: readonly EngineDue[]): OutlookRow['nearest'] {
  const worst = tasks.find(({ due }) => due.state !== 'fine') ?? tasks[0];
  return worst ? { task: worst.due.task, state: worst.due.state, text: nearestLimit(worst.due) } : null;
}

const WANTED = new Set<DueState>(['over', 'due', 'soon']);

function rowOf(facts: EngineFacts, tasks: readonly EngineDue[], first: number, days: number): OutlookRow {
  const jobs = new Map<number, OutlookRow['jobs'][number]>();
  for (const [task, job] of facts.openJobs) {
    const known = jobs.get(job.id);
    if (known) known.tasks.push(task);
    else jobs.set(job.id, { id: job.id, day: dayNumber(job.day) - first, technician: job.technician, tasks: [task] });
  }
  const wanted = tasks.filter(({ due }) => WANTED.has(due.state)).map(({ due }) => due.task);
  return {
    engineId: facts.id,
    boatId: facts.boatId,
    boatName: facts.boatName,
    position: facts.position,
    baseId: facts.baseId,
    modelName: facts.modelName,
    lifeHours: facts.lifeHours,
    hoursPerWeek: facts.hoursPerWeek,
    nearest: nearestOf(tasks),
    service: wanted.length < 2 ? null : (serviceOf(wanted, namedServices(rulesOf(facts, tasks)))?.word ?? null),
    tasks: tasks.flatMap(({ due }) => markOf(due, first, days)),
    jobs: [...jobs.values()],
  };
}

function markOf(due: Due, first: number, days: number): OutlookRow['tasks'] {
  const text = nearestLimit(due);
  if (due.state === 'over' || due.state === 'unknown')
    return [{ task: due.task, state: due.state, early: null, likely: null, late: null, text }];
  const on = dueDays(due);
  if (on === null) return [];
  const offset = (day: string | null) => (day === null ? null : dayNumber(day) - first);
  const early = offset(on.early);
  if (early === null || early >= days) return [];
  return [{ task: due.task, state: due.state, early, likely: offset(on.likely), late: offset(on.late), text }];
}
