import { builtAs, TRANSOMS, type BuiltEngine, type Variant } from '@diurna/core/fleet';
import { handsOnMinutes, TASKS, type SchoolChoices, type TaskKind } from '@diurna/core/service';
import {
  minutesBasis,
  handsOf,
  waitsOf,
  visitSteps,
  workFacts,
  workingOrder,
  type AccessTemplate,
  type Step,
  type TemplateKey,
  type VisitTask,
  type WorkedBy,
  type WorkFacts,
  type WorkingOrder,
} from '@diurna/core/visit';
import { VOLUME_UNITS } from '@diurna/core/units';
import { taskKind } from '@diurna/contract/fleet';
import { sql } from 'drizzle-orm';
import { z } from 'zod';
import { json, remembered, rowsOf, type Db, type Tx } from '../db/index.ts';
import { printedVolume } from '../fleet/index.ts';
import { timesDone } from '../service/index.ts';
import { learnedMinutes } from './minutes.ts';
import { templateLines, templatesFor } from './templates.ts';

const volumeUnit = z.enum(VOLUME_UNITS).nullable();
const row = z.object({
  job_id: z.number(),
  engine_id: z.number(),
  task: taskKind,
  done: z.boolean(),
  access_versions: json<Partial<Record<AccessTemplate, number>>>(),
  template_version: z.number(),
  technician_id: z.number(),
  pace: z.string(),
  model_id: z.number(),
  power_hp: z.string(),
  stroke: z.union([z.literal(2), z.literal(4)]),
  cylinders: z.number(),
  sump_value: z.string().nullable(),
  sump_unit: volumeUnit,
  gear_value: z.string().nullable(),
  gear_unit: volumeUnit,
  traits: json<WorkFacts['traits'] | null>(),
  variants: json<Variant[]>(),
  serial: z.string(),
  transom: z.enum(TRANSOMS).nullable(),
  known: z.boolean(),
  school_answers: json<SchoolChoices>(),
  worked_by: json<WorkedBy | null>(),
});
type Row = z.infer<typeof row>;

/** The model of a card's engine, as that engine is built. */
function modelOf(r: Row): BuiltEngine {
  const { powerHp, stroke, cylinders, traits } = builtAs({ ...r, powerHp: Number(r.power_hp) }, r);
  return { powerHp, stroke, cylinders, traits: traits ?? null };
}

/** What is done on a card: its tasks with what the steps hang on, and the templates it was issued with. */
export interface CardWork {
  tasks: VisitTask[];
  /** "engine task" of those ticked in the book. */
  done: ReadonlySet<string>;
  steps: readonly Step[];
  pace: number;
  order: () => WorkingOrder;
  basis: { engineId: number; task: TaskKind; minutes: number; text: string; first: boolean }[];
  /** What a finished card keeps of it. */
  workedBy: WorkedBy;
}

/** The version of the task's steps a card was issued with, and those of access. */
const versionsOf = (r: Row): { key: TemplateKey; version: number }[] => [
  ...Object.entries(r.access_versions).map(([key, version]) => ({ key: key as AccessTemplate, version })),
  { key: r.task, version: r.template_version },
];

interface Written {
  steps: () => readonly Step[];
  order: () => WorkingOrder;
}
const MOST_WRITTEN = 1_000;
/** A cache: steps and their order follow from what they hang on alone, and a card is looked at many times. */
function writtenDown(db: Db | Tx, key: string, write: () => readonly Step[], pace: number): Written {
  const written = remembered(db, 'cards written down', () => new Map<string, Written>());
  const known = written.get(key);
  if (known) {
    // The one used last goes last.
    written.delete(key);
    written.set(key, known);
    return known;
  }
  let steps: readonly Step[] | null = null;
  let order: WorkingOrder | null = null;
  const fresh: Written = {
    steps: () => (steps ??= write()),
    order: () => (order ??= workingOrder(fresh.steps(), pace)),
  };
  written.set(key, fresh);
  if (written.size > MOST_WRITTEN) written.delete(written.keys().next().value!);
  return fresh;
}

/** The steps of these cards, each as it was issued; of a finished one, as it was worked. */
export async function workOfJobs(db: Db | Tx, now: Date, jobIds: readonly number[]): Promise<Map<number, CardWork>> {
  if (jobIds.length === 0) return new Map();
  // One after the other: a transaction has one connection.
  const rows = await rowsOf(
    db,
    row,
    sql`
      select t.job_id, t.engine_id, t.task, t.state = 'done' as done, j.access_versions, j.school_answers, j.worked_by,
        t.template_version, j.technician_id, p.pace, m.id as model_id, m.power_hp, m.stroke, m.cylinders, m.sump_value,
        m.sump_unit, m.gear_value, m.gear_unit, m.traits, m.variants, e.serial, e.transom,
             e.bought_new or exists (select 1 from service_entry s where s.engine_id = e.id and s.job_id is distinct
               from t.job_id) as known
      from job_task t join job j on j.id = t.job_id join person p on p.id = j.technician_id
        join engine e on e.id = t.engine_id join engine_model m on m.id = e.model_id
      where t.job_id = any(${sql.param([...jobIds])}::int[])
      order by t.job_id, case e.position when 'port' then 0 when 'centre' then 1 when 'starboard' then 2 when 'single' then 0 else 3 end, e.id, t.task`,
  );
  const times = await timesDone(
    db,
    rows.map((r) => r.engine_id),
  );
  const learned = await learnedMinutes(db, now);
  const lines = await templateLines(db, rows.flatMap(versionsOf));
  const byJob = new Map<number, Row[]>();
  for (const r of rows) byJob.set(r.job_id, [...(byJob.get(r.job_id) ?? []), r]);
  return new Map(
    [...byJob].map(([jobId, own]) => {
      const basis: CardWork['basis'] = [];
      const engines: WorkedBy['engines'] = {};
      const factsOf = new Map<number, NonNullable<VisitTask['engine']>>();
      const tasks = own.map((r): VisitTask => {
        let engine = factsOf.get(r.engine_id);
        if (!engine) {
          const is = r.worked_by?.engines[r.engine_id] ?? {
            model: modelOf(r),
            unknownHistory: !r.known,
            times: times.get(r.engine_id) ?? null,
            sump: printedVolume(r.sump_value === null ? null : Number(r.sump_value), r.sump_unit),
            gearCase: printedVolume(r.gear_value === null ? null : Number(r.gear_value), r.gear_unit),
          };
          engines[r.engine_id] = is;
          engine = {
            facts: workFacts(is.model, r.school_answers, is.unknownHistory, is.times ?? null),
            sump: is.sump,
            gearCase: is.gearCase,
          };
          factsOf.set(r.engine_id, engine);
        }
        const estimate = handsOnMinutes(r.task, r.cylinders);
        // The first time counts only where times are measured at all: without any, nobody knows who did what before.
        const found = learned.minutesFor(
          r.task,
          r.model_id,
          null,
          estimate,
          learned.paceOf(r.technician_id).times > 0 && !learned.didBefore(r.technician_id, r.task, r.model_id),
        );
        basis.push({
          engineId: r.engine_id,
          task: r.task,
          minutes: found.minutes,
          first: found.first > 1,
          text: minutesBasis(learned.minutesFor(r.task, r.model_id, r.technician_id, estimate, found.first > 1)),
        });
        return {
          engineId: r.engine_id,
          task: r.task,
          cylinders: r.cylinders,
          engine,
          hands: r.worked_by?.hands[`${r.engine_id} ${r.task}`] ?? found.minutes,
          wait: r.worked_by
            ? (r.worked_by.waits?.[`${r.engine_id} ${r.task}`] ?? TASKS[r.task].wait)
            : learned.drainFor(r.task, r.model_id, TASKS[r.task].wait).minutes,
        };
      });
      const versions = own.flatMap((r, i) =>
        i === 0 ? versionsOf(r) : [{ key: r.task, version: r.template_version }],
      );
      const pace = own[0]!.worked_by?.pace ?? Number(own[0]!.pace);
      const written = writtenDown(
        db,
        `${pace} ${JSON.stringify([tasks, versions])}`,
        () => visitSteps(tasks, templatesFor(lines, versions)),
        pace,
      );
      return [
        jobId,
        {
          tasks,
          done: new Set(own.filter((r) => r.done).map((r) => `${r.engine_id} ${r.task}`)),
          steps: written.steps(),
          pace,
          basis,
          workedBy: { pace, engines, hands: handsOf(tasks), waits: waitsOf(tasks) },
          order: written.order,
        },
      ];
    }),
  );
}
