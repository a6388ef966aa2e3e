import type { WhichPart } from '@diurna/contract/stores';
import { builtAs } from '@diurna/core/fleet';
import { TASK_KINDS, taskApplies, type TaskKind } from '@diurna/core/service';
import { kitCheck, partsForEngine, sumByPart, whichParts, type PartDoubt } from '@diurna/core/stores';
import { toMillilitres, volumeText } from '@diurna/core/units';
import { workFacts } from '@diurna/core/visit';
import { eq } from 'drizzle-orm';
import { among, tables, type Db } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { faulty, notFound } from '../http/problem.ts';
import { readRuleBook, timesDone } from '../service/index.ts';
import { linksOf, whyText, type LinkRow } from './links.ts';
import { placesAt } from './places.ts';
import { fitmentsOf, onHandByPart } from './store.ts';

const { boat, engine, engineModel, part, kitContent } = tables;

const volumesOf = (m: typeof engineModel.$inferSelect) => ({
  sumpMl: m.sumpValue !== null && m.sumpUnit !== null ? toMillilitres(m.sumpValue, m.sumpUnit) : null,
  gearCaseMl: m.gearValue !== null && m.gearUnit !== null ? toMillilitres(m.gearValue, m.gearUnit) : null,
});

/** A doubt in words that say what to do. */
function doubtText(doubt: PartDoubt, numberOf: (id: number) => string): string {
  switch (doubt.about) {
    case 'none known':
      return 'No part is known for this. Say at the part which engines it fits.';
    case 'two fit':
      return `${doubt.partIds.map(numberOf).join(' and ')} both fit by what is written. Narrow the serials of one, or say which came after the other.`;
    case 'transom':
      return 'It hangs on the transom, and nobody said which this engine has. Look at it, and write it down.';
    case 'figures':
      return `The part says ${volumeText(doubt.saidMl)}, the model ${volumeText(doubt.modelMl)}. One of the two is wrong: look at the label.`;
  }
}

/** Why a number may be fitted instead of another. */
export function insteadText(other: number, answer: number, links: readonly LinkRow[]): string {
  const older = links.find((l) => l.partId === other && l.otherId === answer);
  if (older) return whyText(older, true);
  const way = links.find((l) => l.partId === answer && l.otherId === other) ?? links.find((l) => l.otherId === other);
  return way ? whyText(way, false) : 'fits as well';
}

async function readEngine(db: Db, id: number) {
  const [found] = await db
    .select({ e: engine, m: engineModel, baseId: boat.baseId })
    .from(engine)
    .innerJoin(engineModel, eq(engineModel.id, engine.modelId))
    .leftJoin(boat, eq(boat.id, engine.boatId))
    .where(eq(engine.id, id));
  if (!found) throw notFound('engine');
  return found;
}

const partsNamed = async (db: Db, ids: readonly number[]) =>
  ids.length === 0
    ? []
    : db
        .select({ id: part.id, number: part.number, name: part.name, unit: part.unit })
        .from(part)
        .where(among(part.id, ids));

/** Which part each task takes on an engine. */
async function readWhich(db: Db, id: number): Promise<WhichPart[]> {
  const { e, m, baseId } = await readEngine(db, id);
  const [fitments, links, times, { choices }] = await Promise.all([
    fitmentsOf(db, [m.id]),
    linksOf(db),
    timesDone(db, [id]),
    readRuleBook(db),
  ]);
  const answers = whichParts(
    e,
    volumesOf(m),
    TASK_KINDS.filter((t) => taskApplies(t, m.stroke) && fitments.some((f) => f.task === t)),
    fitments,
    links,
    { choices, times: times.get(id) ?? null, traits: workFacts(builtAs(m, e), choices).traits },
  );
  const named = (a: (typeof answers)[number]) => [
    ...(a.partId === null ? [] : [a.partId]),
    ...a.instead,
    ...a.doubts.flatMap((d) => (d.about === 'two fit' ? d.partIds : [])),
  ];
  const ids = [...new Set(answers.flatMap(named))];
  const parts = await partsNamed(db, ids);
  const onHand = await onHandByPart(db, baseId, ids);
  const places = baseId === null ? new Map<number, string>() : await placesAt(db, baseId, ids);
  const byId = new Map(parts.map((p) => [p.id, p]));
  const numberOf = (p: number) => byId.get(p)?.number ?? '';
  return answers.map((a) => ({
    task: a.task,
    kind: a.kind,
    part: a.partId === null ? null : byId.get(a.partId)!,
    quantity: a.quantity,
    onHand: a.partId === null ? 0 : (onHand.get(a.partId) ?? 0),
    instead: a.instead.map((p) => ({
      ...byId.get(p)!,
      onHand: onHand.get(p) ?? 0,
      place: places.get(p) ?? null,
      why: insteadText(p, a.partId!, links),
    })),
    doubts: a.doubts.map((d) => doubtText(d, numberOf)),
  }));
}

/** Tasks as the address names them. @throws 422 for a word that is none */
function tasksOf(text: string): TaskKind[] {
  const words = text.split(',').map((t) => t.trim());
  const known = TASK_KINDS.filter((t) => words.includes(t));
  if (known.length === 0 || known.length < new Set(words).size)
    throw faulty('tasks', 'Choose the tasks of the service.');
  return known;
}

export const whichHandlers: Handlers<'whichParts' | 'checkKit'> = {
  whichParts: ({ db, params }) => readWhich(db, params.id),

  async checkKit({ db, params, query }) {
    const tasks = tasksOf(query.tasks);
    const [contents, [m], fitments, links, { choices }] = await Promise.all([
      db.select().from(kitContent).where(eq(kitContent.kitId, params.id)),
      db.select().from(engineModel).where(eq(engineModel.id, query.modelId)),
      fitmentsOf(db, [query.modelId]),
      linksOf(db),
      readRuleBook(db),
    ]);
    if (!m) throw notFound('model');
    if (contents.length === 0) throw faulty('id', 'Nobody said what is in this kit. Say it under Edit.');
    const sold = { serial: query.serial, transom: null };
    const { needs, unknown } = partsForEngine(sold, volumesOf(m), tasks, fitments, {
      choices,
      times: null,
      traits: workFacts(builtAs(m, sold), choices).traits,
    });
    // A kit is no part of itself.
    const wanted = [...sumByPart(needs)]
      .filter(([partId]) => partId !== params.id)
      .map(([partId, quantity]) => ({ partId, quantity }));
    const check = kitCheck(wanted, contents, links);
    const parts = await partsNamed(
      db,
      [...wanted, ...contents].map((w) => w.partId),
    );
    const named = (list: readonly { partId: number; quantity: number }[]) =>
      list.map(({ partId, quantity }) => ({ ...parts.find((p) => p.id === partId)!, quantity }));
    const numberOf = (id: number) => parts.find((p) => p.id === id)!.number;
    return {
      missing: named(check.missing),
      over: named(check.over),
      links: check.links.map((l) => ({
        wanted: numberOf(l.wanted),
        brings: numberOf(l.brings),
        why: insteadText(l.brings, l.wanted, links),
      })),
      unknown,
    };
  },
};
