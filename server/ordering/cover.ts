import type { ShelfCover } from '@diurna/contract/ordering';
import { dayInZone } from '@diurna/core/calendar';
import { coverTogether, type WantedService } from '@diurna/core/stores';
import { eq } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import { notFound } from '../http/problem.ts';
import { readYard } from '../planner/index.ts';
import type { FleetCache } from '../service/index.ts';

const { base, engineModel, part } = tables;

/** Services of one task on one model that take the same parts. */
interface Kind {
  modelId: number;
  task: ShelfCover['lacking'][number]['task'];
  service: WantedService;
}

/** What a base's shelf can do together of what comes up. @throws 404 for a base that is none */
export async function readCover(
  db: Db | Tx,
  fleet: FleetCache,
  now: Date,
  { baseId, days }: { baseId: number; days: number },
): Promise<ShelfCover> {
  const [at] = await db.select().from(base).where(eq(base.id, baseId));
  if (!at) throw notFound('base');
  // What falls due after these days may wait for other parts.
  const { facts, dues } = await readYard(db, fleet, now, dayInZone(now, at.timeZone), days, baseId, 0);
  const kinds = new Map<string, Kind>();
  facts.tasks.forEach((t, i) => {
    if (t.parts.length === 0) return;
    const { modelId } = dues[i]!.facts;
    const needs = new Map<number, number>();
    for (const p of t.parts) needs.set(p.partId, (needs.get(p.partId) ?? 0) + p.quantity);
    const key = `${modelId} ${t.task} ${[...needs].sort((a, b) => a[0] - b[0]).join(' ')}`;
    const known = kinds.get(key);
    if (known) known.service = { ...known.service, wanted: known.service.wanted + 1 };
    else kinds.set(key, { modelId, task: t.task, service: { wanted: 1, needs } });
  });
  const all = [...kinds.values()];
  const onHand = new Map(facts.parts.map((p) => [p.partId, p.onHand]));
  const cover = coverTogether(
    all.map((k) => k.service),
    onHand,
  );
  const [models, parts] = await Promise.all([
    db.select({ id: engineModel.id, maker: engineModel.maker, name: engineModel.name }).from(engineModel),
    db.select({ partId: part.id, number: part.number, name: part.name }).from(part),
  ]);
  const modelName = new Map(models.map((m) => [m.id, `${m.maker} ${m.name}`]));
  const lacking = new Map<string, ShelfCover['lacking'][number]>();
  all.forEach(({ modelId, task, service }, i) => {
    if (cover.done[i]! >= service.wanted) return;
    const key = `${modelId} ${task}`;
    const row = lacking.get(key) ?? { modelId, modelName: modelName.get(modelId) ?? '', task, wanted: 0, possible: 0 };
    lacking.set(key, { ...row, wanted: row.wanted + service.wanted, possible: row.possible + cover.done[i]! });
  });
  return {
    days,
    comesUp: all.reduce((sum, k) => sum + k.service.wanted, 0),
    possible: cover.total,
    exact: cover.exact,
    lacking: [...lacking.values()],
    short: cover.short.flatMap((id) => parts.filter((p) => p.partId === id)),
  };
}
