import type { JobCard } from '@diurna/contract/jobs';
import { visitSteps, workFacts, workingOrder } from '@diurna/core/visit';
import { workName, type TaskKind } from '@diurna/core/service';

const facts = workFacts({ powerHp: 60, stroke: 4, cylinders: 4 });

/** A card of Razorbill's one engine with these tasks, their steps in working order; `more` is what a test is about. */
export function cardOf(
  tasks: readonly TaskKind[],
  { sump = null, ...more }: Partial<JobCard> & { sump?: JobCard['engines'][number]['sump'] } = {},
): JobCard {
  const order = workingOrder(
    visitSteps(tasks.map((task) => ({ engineId: 1, task, cylinders: 4, engine: { facts, sump, gearCase: null } }))),
  );
  return {
    id: 12,
    version: 3,
    boatId: 1,
    boatName: 'Razorbill',
    berth: '5',
    baseId: 1,
    baseName: 'North Quay',
    technicianId: 3,
    technician: 'Ines Okoye',
    day: '2026-04-15',
    status: 'open',
    startMinute: null,
    pinned: false,
    works: [{ engineId: 1, position: 'single', word: workName(tasks, []) }],
    minutes: 20,
    savedMinutes: 0,
    remark: null,
    insisted: null,
    finishedAt: null,
    partsUnknown: [],
    used: [],
    shelfPolicy: 'refuse',
    parts: [],
    steps: order.steps,
    elapsed: order.elapsed,
    entries: [],
    people: [],
    findings: [],
    holds: [],
    followUps: [],
    basis: [],
    waste: [],
    engines: [
      {
        id: 1,
        position: 'single',
        serial: 'C60-1',
        modelName: 'Corvane 60',
        powerHp: 60,
        stroke: 4,
        traits: {},
        firstOil: false,
        past: [],
        twin: null,
        oilUnknown: false,
        cylinders: 4,
        sump,
        gearCase: null,
        meter: null,
        recent: [],
      },
    ],
    tasks: tasks.map((task) => ({ engineId: 1, task, position: 'single', state: 'open' })),
    ...more,
  };
}
