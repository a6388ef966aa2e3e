import type { PartLine } from '@diurna/contract/jobs';
import { builtAs } from '@diurna/core/fleet';
import {
  equivalentsAllowed,
  kitOf,
  mayServe,
  partsForEngine,
  type TaskOfEngine,
  type TaskPart,
} from '@diurna/core/stores';
import { dosesFor, rateOf } from '@diurna/core/season';
import { toMillilitres } from '@diurna/core/units';
import { workFacts } from '@diurna/core/visit';
import { asc, eq } from 'drizzle-orm';
import { among, tables, type Db, type Tx } from '../db/index.ts';
import { readRuleBook, timesDone } from '../service/index.ts';
import { placesAt } from './places.ts';
import { openAt, sizesOf } from './containers.ts';
import { linksOf } from './links.ts';
import { fitmentsOf, onHandByPart } from './store.ts';
import { insteadText } from './which.ts';

const { baseSeason, boat, boatSeason, engine, engineModel, job, part } = tables;

/** Stabiliser for a tank that may be full: too little spoils all of it. */
const fullDose = (litres: number, doseMlPerTen: number | null) =>
  Math.round(dosesFor({ litres, least: litres, most: litres }, rateOf(doseMlPerTen)).firstMl);

/** A card's tasks, or others that are picked for together at one base. */
export interface Picking {
  baseId: number;
  tasks: readonly TaskOfEngine[];
  /** The card they stand on: its parts follow what it was issued with, and worked by; left out = as things are now. */
  jobId?: number;
}

/** Engines as they take parts, with the tank of their boat and what its stabiliser's bottle says. */
const readBuilt = (db: Db | Tx, ids: readonly number[]) =>
  db
    .select({ e: engine, m: engineModel, litres: boatSeason.tankLitres, rate: baseSeason.doseMlPerTen })
    .from(engine)
    .innerJoin(engineModel, eq(engineModel.id, engine.modelId))
    .leftJoin(boat, eq(boat.id, engine.boatId))
    .leftJoin(boatSeason, eq(boatSeason.boatId, boat.id))
    .leftJoin(baseSeason, eq(baseSeason.baseId, boat.baseId))
    .where(among(engine.id, ids));

/** Reads once what decides which parts these sets take; the answer tells it for each of them. */
async function partsReader(
  db: Db | Tx,
  pickings: readonly Picking[],
): Promise<(picking: Picking) => { needs: TaskPart[]; unknown: TaskOfEngine[] }> {
  const ids = [...new Set(pickings.flatMap((p) => p.tasks.map((t) => t.engineId)))];
  if (ids.length === 0) return () => ({ needs: [], unknown: [] });
  const engines = await readBuilt(db, ids);
  const fitments = await fitmentsOf(db, [...new Set(engines.map(({ m }) => m.id))]);
  const times = await timesDone(db, ids);
  const { choices } = await readRuleBook(db);
  const jobIds = pickings.flatMap((p) => p.jobId ?? []);
  const cards =
    jobIds.length === 0
      ? []
      : await db
          .select({ id: job.id, answers: job.schoolAnswers, workedBy: job.workedBy })
          .from(job)
          .where(among(job.id, jobIds));
  return ({ tasks, jobId }) => {
    const card = cards.find((c) => c.id === jobId);
    const answers = card?.answers ?? choices;
    const own = new Set(tasks.map((t) => t.engineId));
    // A tank is dosed once, however many engines draw from it.
    const dosed = new Set<number>();
    const found = engines
      .filter(({ e }) => own.has(e.id))
      .map(({ e, m, litres, rate }) => {
        const was = card?.workedBy?.engines[e.id];
        const doses =
          e.boatId !== null &&
          !dosed.has(e.boatId) &&
          tasks.some((t) => t.engineId === e.id && t.task === 'stabiliser');
        if (doses) dosed.add(e.boatId!);
        return {
          engineId: e.id,
          ...partsForEngine(
            e,
            {
              sumpMl: m.sumpValue !== null && m.sumpUnit !== null ? toMillilitres(m.sumpValue, m.sumpUnit) : null,
              gearCaseMl: m.gearValue !== null && m.gearUnit !== null ? toMillilitres(m.gearValue, m.gearUnit) : null,
              doseMl: doses && litres !== null ? fullDose(litres, rate) : 0,
            },
            tasks.filter((t) => t.engineId === e.id).map((t) => t.task),
            fitments.filter((f) => f.modelId === m.id),
            {
              choices: answers,
              times: (was ? was.times : times.get(e.id)) ?? null,
              traits: workFacts(was?.model ?? builtAs(m, e), answers).traits,
            },
          ),
        };
      });
    return {
      needs: found.flatMap(({ engineId, needs }) => needs.map((n) => ({ ...n, engineId }))),
      unknown: found.flatMap(({ engineId, unknown }) => unknown.map((task) => ({ engineId, task }))),
    };
  };
}

/** What of a part, and of the numbers that may be fitted instead, lies there. */
export const servedBy = (p: Pick<PartLine, 'onHand' | 'instead'>): number =>
  p.instead.reduce((sum, o) => sum + Math.max(0, o.onHand), p.onHand);

/** What may be fitted instead of each of these parts: an older number that is left, a newer one, an equivalent. */
async function othersFor(db: Db | Tx, rows: readonly (typeof part.$inferSelect)[]) {
  const links = await linksOf(db);
  if (links.length === 0) return { ids: [] as number[], of: () => [] };
  const { choices } = await readRuleBook(db);
  const of = new Map(
    rows.map((p) => [
      p.id,
      [
        ...links.filter((l) => l.otherId === p.id && l.kind === 'superseded by' && l.approved).map((l) => l.partId),
        ...mayServe(p.id, links, equivalentsAllowed(p.kind, choices)).map((m) => m.partId),
      ],
    ]),
  );
  const ids = [...new Set([...of.values()].flat())];
  const found = ids.length === 0 ? [] : await db.select().from(part).where(among(part.id, ids));
  return {
    ids,
    of: (partId: number) =>
      of.get(partId)!.map((other) => {
        const { number, name } = found.find((r) => r.id === other)!;
        return { partId: other, number, name, why: insteadText(other, partId, links) };
      }),
  };
}

/**
 * The parts each set of tasks takes at its base, with what the shelf has and where it lies; read for all sets at once.
 */
export async function partsOfAll<P extends Picking>(
  db: Db | Tx,
  pickings: readonly P[],
): Promise<{ picking: P; parts: PartLine[]; partsUnknown: TaskOfEngine[] }[]> {
  const partsOf = await partsReader(db, pickings);
  const read = pickings.map((picking) => ({ picking, ...partsOf(picking) }));
  const ids = [...new Set(read.flatMap(({ needs }) => needs.map((n) => n.partId)))];
  const rows =
    ids.length === 0
      ? []
      : await db.select().from(part).where(among(part.id, ids)).orderBy(asc(part.kind), asc(part.number));
  const others = await othersFor(db, rows);
  const shelves = new Map<
    number,
    { onHand: Map<number, number>; places: Map<number, string>; open: Awaited<ReturnType<typeof openAt>> }
  >();
  // One after the other: a transaction has one connection.
  for (const baseId of new Set(pickings.map((p) => p.baseId)))
    shelves.set(baseId, {
      onHand: ids.length === 0 ? new Map<number, number>() : await onHandByPart(db, baseId, [...ids, ...others.ids]),
      places: await placesAt(db, baseId, [...ids, ...others.ids]),
      open: await openAt(
        db,
        rows.filter((p) => p.unit === 'mL').map((p) => p.id),
        baseId,
      ),
    });
  return read.map(({ picking, needs, unknown }) => {
    const kit = kitOf(picking.tasks, needs, unknown);
    const lineOf = new Map(kit.lines.map((l) => [l.partId, l]));
    const { onHand, places, open } = shelves.get(picking.baseId)!;
    return {
      picking,
      partsUnknown: kit.unknown,
      parts: rows.flatMap((p): PartLine[] => {
        const line = lineOf.get(p.id);
        return line
          ? [
              {
                ...line,
                number: p.number,
                name: p.name,
                unit: p.unit,
                onHand: onHand.get(p.id) ?? 0,
                place: places.get(p.id) ?? null,
                open: open
                  .filter((o) => o.partId === p.id)
                  .map((o) => ({ id: String(o.id), label: o.label, leftMl: o.leftMl })),
                sizes: sizesOf(p),
                instead: others
                  .of(p.id)
                  .map((o) => ({ ...o, onHand: onHand.get(o.partId) ?? 0, place: places.get(o.partId) ?? null })),
              },
            ]
          : [];
      }),
    };
  });
}

/** The parts one set of tasks takes at a base; those of a card as it was issued. */
export async function partsOfTasks(
  db: Db | Tx,
  tasks: readonly TaskOfEngine[],
  baseId: number,
  jobId?: number,
): Promise<{ parts: PartLine[]; partsUnknown: TaskOfEngine[] }> {
  const [only] = await partsOfAll(db, [{ baseId, tasks, ...(jobId !== undefined && { jobId }) }]);
  return { parts: only!.parts, partsUnknown: only!.partsUnknown };
}
