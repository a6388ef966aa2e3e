import type { BoardReply } from '@diurna/contract/planner';
import { addDays } from '@diurna/core/calendar';
import { changeKind, matchCards, type CardStand } from '@diurna/core/changes';
import { planTaskId, planTaskOf, type PlannedVisit, type PlanProblem } from '@diurna/core/planner';

const DAYS = 5;
const day = <T>(of: (d: number) => T): T[] => Array.from({ length: DAYS }, (_, d) => of(d));

/** Boat 1 and 2 with an engine each (11 and 12), one oil change each and one impeller of engine 11. */
const TASKS = [
  { engine: 11, task: 'engine-oil', hands: 40, dear: 10 },
  { engine: 11, task: 'impeller', hands: 60, dear: 4 },
  { engine: 12, task: 'engine-oil', hands: 40, dear: 20 },
] as const;

/** Id of a task of the little board. */
export const taskAt = (i: number): string => planTaskId(TASKS[i]!.engine, TASKS[i]!.task);

/**
 * Wednesday 15 to Sunday 19 April 2026: Ines and Sven work Wednesday to Friday from 8:00 to 16:00, each day later
 * costs more; Plover (2) is out on Wednesday. A visit is set up in 15 min.
 */
export function boardOf(more: Partial<BoardReply> = {}, problem: Partial<PlanProblem> = {}): BoardReply {
  const shift = day((d) => (d < 3 ? { from: 480, to: 960 } : null));
  return {
    firstDay: '2026-04-15',
    today: '2026-04-15',
    days: DAYS,
    currency: 'EUR',
    moveCost: 5,
    standing: [],
    accepted: null,
    problem: {
      format: 'diurna-plan-problem',
      version: 1,
      days: DAYS,
      visit: { setupMinutes: 15 },
      bases: [{ id: '1', liftSlots: day(() => 1) }],
      technicians: ['3', '4'].map((id) => ({
        id,
        base: '1',
        skills: id === '3' ? ['lower units'] : [],
        shift,
        overtime: day(() => 0),
        ratePerHour: 60,
        overtimeFactor: 1.5,
      })),
      boats: ['1', '2'].map((id) => ({
        id,
        base: '1',
        free: day((d) => (id === '2' && d === 0 ? [] : [{ from: 480, to: 1020, idleCost: 0 }])),
      })),
      engines: [
        { id: '11', boat: '1', access: { cowl: 5 } },
        { id: '12', boat: '2', access: { cowl: 5 } },
      ],
      tasks: TASKS.map(({ engine, task, hands, dear }, i) => ({
        id: taskAt(i),
        engine: String(engine),
        kind: task,
        handsOn: hands,
        wait: 0,
        access: ['cowl'],
        skills: task === 'impeller' ? ['lower units'] : [],
        needsLift: false,
        dayCost: day((d) => d * dear),
        skipCost: 400,
        parts: task === 'impeller' ? { '5 at 1': 1 } : {},
      })),
      parts: [{ id: '5 at 1', supply: day((d) => (d === 0 ? 2 : 0)) }],
      pinned: [],
      ...problem,
    },
    boats: {
      '1': { name: 'Razorbill', baseId: 1, berth: '5', classKey: 'class day boat', held: [], hires: [] },
      '2': { name: 'Plover', baseId: 1, berth: '6', classKey: 'class day boat', held: [], hires: [[480, 1080]] },
    },
    people: { '3': { name: 'Ines Okoye', baseId: 1 }, '4': { name: 'Sven Achterberg', baseId: 1 } },
    bases: { '1': { name: 'North Quay' } },
    tasks: Object.fromEntries(
      TASKS.map(({ engine, task }, i) => [
        taskAt(i),
        {
          engineId: engine,
          task,
          position: 'single',
          modelId: 1,
          state: 'due',
          text: 'due in 3 days',
          likely: '2026-04-18',
          brings: [],
        },
      ]),
    ),
    parts: { '5 at 1': { partId: 5, number: 'IM-60', name: 'Impeller kit', unit: 'each' } },
    ...more,
  };
}

/** A visit as a card stands in the book. */
export const standingVisit = (
  visit: Pick<PlannedVisit, 'boat' | 'day' | 'technician' | 'tasks'> & { jobId: number },
): BoardReply['standing'][number] => ({ start: 480, elapsed: 60, version: 1, pinned: false, started: false, ...visit });

interface Sent {
  visits: { boat: string; day: number; technician: string; start: number; pinned?: boolean; tasks: string[] }[];
}

/** What the book would say to a plan of the little board: its cards against those that stand. */
export const lookOf =
  (standing: BoardReply['standing']) =>
  ({ body }: { body: unknown }) => {
    const { boats, people, firstDay } = boardOf();
    const stand = (v: Sent['visits'][number], open = true): CardStand => ({
      technicianId: Number(v.technician),
      day: addDays(firstDay, v.day),
      startMinute: Math.floor(v.start),
      pinned: v.pinned ?? false,
      open,
      remark: null,
      insisted: null,
      tasks: v.tasks.map((t) => ({ ...planTaskOf(t), state: 'open', templateVersion: 1 })),
    });
    const keyed = <T extends { tasks: string[] }>(list: readonly T[]) =>
      list.map((v) => ({ v, tasks: v.tasks.map(planTaskOf) }));
    const all = matchCards(keyed((body as Sent).visits), keyed(standing)).map(({ visit, card }) => {
      const before = card && stand(card.v);
      const after = visit ? stand(visit.v) : stand(card!.v, false);
      return {
        jobId: card?.v.jobId ?? null,
        boatId: Number((visit ?? card)!.v.boat),
        boatName: boats[(visit ?? card)!.v.boat]!.name,
        kind: changeKind({ before, after }),
        before,
        after,
        who: { before: before && people[before.technicianId]!.name, after: people[after.technicianId]!.name },
      };
    });
    const changes = all.filter((c) => c.kind !== 'none');
    return {
      changes,
      kept: all.length - changes.length,
      cost: { total: 0, day: 0, skip: 0, labour: 0, overtime: 0, idle: 0 },
      told: [...new Map(changes.map((c) => [c.after.technicianId, c])).values()].map((c) => ({
        personId: c.after.technicianId,
        name: c.who.after,
        text: c.kind,
      })),
    };
  };
