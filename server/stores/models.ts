import { servicesLeft, type ServicesLeft } from '@diurna/core/stores';
import { TASK_KINDS, taskApplies, TASKS } from '@diurna/core/service';
import { toMillilitres } from '@diurna/core/units';
import type { ModelShelf } from '@diurna/contract/stores';
import { tables, type Db } from '../db/index.ts';
import { whileUnchanged } from '../db/while-unchanged.ts';
import type { Handlers } from '../http/api.ts';
import { listModels } from '../fleet/index.ts';
import type { FleetCache } from '../service/index.ts';
import { linksOf, withOlder } from './links.ts';
import { fitmentsOf, onHandByPart } from './store.ts';

const { part } = tables;
const HOUR_MS = 3_600_000;

/** How many services of each kind the shelf can still do. */
export const modelHandlers = (fleet: FleetCache): Handlers<'modelShelves'> => ({
  modelShelves: ({ db, query, now }) =>
    whileUnchanged(db, `models ${query.baseId ?? 'all'} ${Math.floor(now.getTime() / HOUR_MS)}`, () =>
      readModels(db, fleet, now, query.baseId ?? null),
    ),
});

async function readModels(db: Db, fleet: FleetCache, now: Date, baseId: number | null): Promise<ModelShelf[]> {
  await fleet.refresh(now);
  const [models, fitments, own, parts, links] = await Promise.all([
    listModels(db),
    fitmentsOf(db),
    onHandByPart(db, baseId),
    db.select().from(part).limit(10_000),
    linksOf(db),
  ]);
  // What is left of an older number serves where the newer is asked for.
  const onHand = withOlder(own, links);
  const name = new Map(parts.map((p) => [p.id, { id: p.id, number: p.number, name: p.name }]));
  const here = [...fleet.allDue(now)].filter(({ facts }) => baseId === null || facts.baseId === baseId);
  const soon = new Map<string, number>();
  for (const { facts, due } of here)
    if (due.state === 'over' || due.state === 'due' || due.state === 'soon')
      soon.set(`${facts.modelId} ${due.task}`, (soon.get(`${facts.modelId} ${due.task}`) ?? 0) + 1);
  const engines = new Map<number, Set<number>>();
  for (const { facts } of here) engines.set(facts.modelId, (engines.get(facts.modelId) ?? new Set()).add(facts.id));
  return models
    .filter((m) => (engines.get(m.id)?.size ?? 0) > 0)
    .map((m): ModelShelf => {
      const volumes = {
        sumpMl: m.sump ? toMillilitres(m.sump.value, m.sump.unit) : null,
        gearCaseMl: m.gearCase ? toMillilitres(m.gearCase.value, m.gearCase.unit) : null,
      };
      const fits = fitments.filter((f) => f.modelId === m.id);
      const rows: ServicesLeft[] = TASK_KINDS.filter(
        (t) =>
          taskApplies(t, m.stroke) &&
          TASKS[t].usesParts &&
          (fits.some((f) => f.task === t) || m.rules.some((r) => r.task === t)),
      ).flatMap((t) => servicesLeft(t, fits, volumes, onHand));
      return {
        modelId: m.id,
        modelName: `${m.maker} ${m.name}`,
        stroke: m.stroke,
        engines: engines.get(m.id)?.size ?? 0,
        tasks: rows.map((r) => ({
          task: r.task,
          serials: r.serials,
          count: r.count,
          limitedBy: r.limitedBy === null ? null : (name.get(r.limitedBy) ?? null),
          dueSoon: soon.get(`${m.id} ${r.task}`) ?? 0,
        })),
      };
    });
}
