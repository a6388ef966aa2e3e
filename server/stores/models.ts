import { servicesLeft, type ServicesLeft } from '@diurna/core/stores';
import { TASK_KINDS, taskApplies, TASKS } from '@diurna/core/service';
import { toMillilitres } from '@diurna/core/units';
import type { ModelShelf } from '@diurna/contract/stores';
import { tables } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { listModels } from '../fleet/index.ts';
import type { FleetCache } from '../service/index.ts';
import { linksOf, withOlder } from './links.ts';
import { fitmentsOf, onHandByPart } from './store.ts';

const { part } = tables;

/** How many services of each kind the shelf can still do. */
export const modelHandlers = (fleet: FleetCache): Handlers<'modelShelves'> => ({
  async modelShelves({ db, query, now }) {
    await fleet.refresh(now);
    const [models, fitments, own, parts, links] = await Promise.all([
      listModels(db),
      fitmentsOf(db),
      onHandByPart(db, query.baseId ?? null),
      db.select().from(part).limit(10_000),
      linksOf(db),
    ]);
    // What is left of an older number serves where the newer is asked for.
    const onHand = withOlder(own, links);
    const name = new Map(parts.map((p) => [p.id, { id: p.id, number: p.number, name: p.name }]));
    const here = [...fleet.allDue(now)].filter(
      ({ facts }) => query.baseId === undefined || facts.baseId === query.baseId,
    );
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
            dueSoon: here.filter(
              ({ facts, due }) =>
                facts.modelId === m.id && due.task === r.task && ['over', 'due', 'soon'].includes(due.state),
            ).length,
          })),
        };
      });
  },
});
