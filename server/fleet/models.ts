import type { modelEdit, Model } from '@diurna/contract/fleet';
import type { KnownTraits, ModelTraits } from '@diurna/core/fleet';
import {
  makersLimitsPassed,
  taskApplies,
  TASKS,
  usualLimits,
  type ProgrammeRule,
  type RuleBasis,
} from '@diurna/core/service';
import { asc, eq, sql } from 'drizzle-orm';
import { z } from 'zod';
import { tables, type Db, type Tx, rowsOf } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { faulty, HttpProblem } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';

const { engineModel, programmeRule } = tables;
type ModelEdit = z.output<typeof modelEdit>;
type Volume = { value: number; unit: NonNullable<(typeof engineModel.$inferSelect)['sumpUnit']> };

/** A volume as the label prints it; null where the model has none. */
export function printedVolume(value: number | null, unit: Volume['unit'] | null): Volume | null {
  return value !== null && unit !== null ? { value, unit } : null;
}

/** What somebody entered; the rest is as usual. */
const entered = (traits: KnownTraits): Partial<ModelTraits> =>
  Object.fromEntries(
    Object.entries(traits).filter(([, value]) => value !== undefined && value !== null),
  ) as Partial<ModelTraits>;

const columnsOf = (m: ModelEdit) => ({
  maker: m.maker,
  name: m.name,
  powerHp: m.powerHp,
  stroke: m.stroke,
  cylinders: m.cylinders,
  sumpValue: m.sump?.value ?? null,
  sumpUnit: m.sump?.unit ?? null,
  gearValue: m.gearCase?.value ?? null,
  gearUnit: m.gearCase?.unit ?? null,
  ...(m.traits !== undefined && { traits: entered(m.traits) }),
  ...(m.variants !== undefined && { variants: m.variants.map((v) => ({ ...v, traits: entered(v.traits) })) }),
});

/** Models with their rules and how many engines there are of each. */
export async function listModels(db: Db | Tx): Promise<Model[]> {
  const [models, rules, engines] = await Promise.all([
    db.select().from(engineModel).orderBy(asc(engineModel.maker), asc(engineModel.name)).limit(2000),
    db.select().from(programmeRule).orderBy(asc(programmeRule.task)),
    rowsOf(
      db,
      z.object({ model_id: z.number(), n: z.number() }),
      sql`select model_id, count(*)::int as n from engine where not retired group by model_id`,
    ),
  ]);
  const counts = new Map(engines.map((r) => [r.model_id, r.n]));
  return models.map((m) => ({
    id: m.id,
    version: m.version,
    maker: m.maker,
    name: m.name,
    powerHp: m.powerHp,
    stroke: m.stroke,
    cylinders: m.cylinders,
    sump: printedVolume(m.sumpValue, m.sumpUnit),
    gearCase: printedVolume(m.gearValue, m.gearUnit),
    traits: m.traits,
    variants: m.variants,
    rules: rules.filter((r) => r.modelId === m.id).map(({ modelId: _, ...rule }) => rule),
    engines: counts.get(m.id) ?? 0,
  }));
}

type Figures = Pick<ProgrammeRule, 'task' | 'everyHours' | 'everyMonths'>;
const sameFigures = (a: Figures | undefined, b: Figures | undefined) =>
  a !== undefined && b !== undefined && a.everyHours === b.everyHours && a.everyMonths === b.everyMonths;

/** Whose figures a rule has from now on: those that change are the yard’s own, unless somebody says whose they are. */
export function programmeBasis(
  before: (Figures & { basis: RuleBasis }) | undefined,
  rule: Figures & { basis?: RuleBasis | undefined },
): ProgrammeRule {
  const { task, everyHours, everyMonths } = rule;
  const usual = () => (sameFigures(rule, { task, ...usualLimits(task) }) ? 'usual' : 'own');
  const basis =
    before === undefined
      ? (rule.basis ?? usual())
      : sameFigures(rule, before)
        ? (rule.basis ?? before.basis)
        : rule.basis === undefined || (rule.basis === 'usual' && before.basis === 'usual')
          ? 'own'
          : rule.basis;
  return { task, everyHours, everyMonths, basis };
}

type FinePrint = Pick<ProgrammeRule, 'seasonEnd' | 'earlyPercent' | 'latePercent' | 'sandPercent' | 'saltPercent'>;

/** What of a rule stays as it was where the edit does not speak of it. */
export function finePrint(rule: { [K in keyof FinePrint]?: FinePrint[K] | undefined }, before: FinePrint | undefined) {
  const kept = (key: Exclude<keyof FinePrint, 'seasonEnd'>) =>
    rule[key] === undefined ? (before?.[key] ?? null) : (rule[key] ?? null);
  return {
    seasonEnd: rule.seasonEnd ?? before?.seasonEnd ?? false,
    earlyPercent: kept('earlyPercent'),
    latePercent: kept('latePercent'),
    sandPercent: kept('sandPercent'),
    saltPercent: kept('saltPercent'),
  };
}

async function writeRules(tx: Tx, modelId: number, model: ModelEdit): Promise<void> {
  const wrong = model.rules.findIndex((r) => !taskApplies(r.task, model.stroke));
  if (wrong >= 0) {
    const word = TASKS[model.rules[wrong]!.task].word.toLowerCase();
    throw new HttpProblem(422, `A two-stroke has no ${word} to change.`, [
      { path: `rules.${wrong}.task`, text: `not on a two-stroke` },
    ]);
  }
  const before = await tx.select().from(programmeRule).where(eq(programmeRule.modelId, modelId));
  await tx.delete(programmeRule).where(eq(programmeRule.modelId, modelId));
  if (model.rules.length === 0) return;
  await tx.insert(programmeRule).values(
    model.rules.map((r) => {
      const old = before.find((b) => b.task === r.task);
      return { ...programmeBasis(old, r), ...finePrint(r, old), modelId };
    }),
  );
}

/** Writes a model down with its programme. */
export async function insertModel(tx: Tx, model: ModelEdit) {
  const [row] = await tx.insert(engineModel).values(columnsOf(model)).returning();
  await writeRules(tx, row!.id, model);
  return row!;
}

export const modelHandlers: Handlers<'listModels' | 'addModel' | 'editModel'> = {
  listModels: ({ db }) => listModels(db),

  addModel: ({ body, write }) =>
    write(async (tx, audit) => {
      const row = await insertModel(tx, body);
      await audit({
        act: 'added',
        subject: 'model',
        subjectId: row.id,
        title: `${row.maker} ${row.name}`,
        after: body,
      });
      return { id: row.id, version: row.version };
    }),

  editModel: ({ params, body, write }) =>
    write(async (tx, audit) => {
      const { version, reason, ...model } = body;
      const before = await lockVersion(tx, engineModel, params.id, version, 'model');
      const rules = await tx.select().from(programmeRule).where(eq(programmeRule.modelId, params.id));
      const passed = makersLimitsPassed(rules, model.rules);
      if (passed.length > 0 && reason === undefined) {
        throw faulty(
          'reason',
          `This passes the maker’s limit for ${passed.map((t) => TASKS[t].word.toLowerCase()).join(', ')}. Say why; the reason stays in the audit.`,
        );
      }
      const [row] = await tx
        .update(engineModel)
        .set({ ...columnsOf(model), ...nextVersion(engineModel) })
        .where(eq(engineModel.id, params.id))
        .returning();
      await writeRules(tx, params.id, model);
      await audit({
        act: 'changed',
        subject: 'model',
        subjectId: row!.id,
        title: `${row!.maker} ${row!.name}`,
        before: { ...before, rules },
        after: { ...model, ...(passed.length > 0 && { makersLimitsPassed: passed, reason }) },
      });
      return { id: row!.id, version: row!.version };
    }),
};
