import type { TemplateReply } from '@diurna/contract/visit';
import { TASK_KINDS, type TaskKind } from '@diurna/core/service';
import { knownSteps, SHIPPED, templateFaults, type TemplateLine, type Templates } from '@diurna/core/visit';
import { and, count, desc, eq, inArray, sql } from 'drizzle-orm';
import { bookKey, tables, type Db, type Tx } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { HttpProblem } from '../http/problem.ts';

const { stepTemplate, person, job, jobTask } = tables;

/** Writes down the steps that came with this build, where they differ from those it has; the yard's own stay in force. */
export async function keepShipped(db: Db): Promise<void> {
  const rows = await db.select().from(stepTemplate).where(eq(stepTemplate.origin, 'shipped'));
  for (const task of TASK_KINDS) {
    const own = rows.filter((r) => r.task === task).sort((a, b) => b.version - a.version)[0];
    if (own && sameLines(own.lines, SHIPPED[task])) continue;
    // Two processes may start at once: the second finds the version taken.
    await db.execute(sql`
      insert into step_template (task, version, origin, lines)
      select ${task}::task_kind, coalesce(max(version), 0) + 1, 'shipped', ${JSON.stringify(SHIPPED[task])}::jsonb from step_template where task = ${task}::task_kind
      on conflict do nothing`);
  }
}

/** Object keys come back from the database in another order. */
const sorted = (value: unknown): unknown =>
  Array.isArray(value) ? value.map(sorted)
  : value !== null && typeof value === 'object' ? Object.fromEntries(Object.entries(value).sort(([a], [b]) => (a < b ? -1 : 1)).map(([k, v]) => [k, sorted(v)]))
  : value;
const sameLines = (a: readonly TemplateLine[], b: readonly TemplateLine[]) => JSON.stringify(sorted(a)) === JSON.stringify(sorted(b));

/** The version of each task new cards are issued with: the yard's own, else the one that came with the book. */
export async function versionsInForce(db: Db | Tx): Promise<Map<TaskKind, number>> {
  const { rows } = await db.execute<{ task: TaskKind; version: number }>(sql`
    select distinct on (task) task, version from step_template order by task, origin = 'own' desc, version desc`);
  return new Map(rows.map((r) => [r.task, r.version]));
}

/** The lines of these versions, by `task version`. A cache: versions never change. */
const known = new Map<string, Map<string, TemplateLine[]>>();
export async function templateLines(db: Db | Tx, wanted: readonly { task: TaskKind; version: number }[]): Promise<Map<string, TemplateLine[]>> {
  const cache = known.get(bookKey(db)) ?? new Map<string, TemplateLine[]>();
  known.set(bookKey(db), cache);
  const missing = wanted.filter((w) => !cache.has(`${w.task} ${w.version}`));
  if (missing.length > 0) {
    const rows = await db.select().from(stepTemplate).where(inArray(stepTemplate.task, [...new Set(missing.map((m) => m.task))]));
    for (const r of rows) cache.set(`${r.task} ${r.version}`, r.lines);
  }
  return cache;
}

export function templatesFor(lines: ReadonlyMap<string, TemplateLine[]>, versions: readonly { task: TaskKind; version: number }[]): Templates {
  const templates: Templates = {};
  for (const { task, version } of versions) {
    const found = lines.get(`${task} ${version}`);
    if (found) templates[task] = found;
  }
  return templates;
}

type Names = 'listTemplates' | 'templateVersions' | 'editTemplate';

export const templateHandlers: Handlers<Names> = {
  async listTemplates({ db }) {
    const inForce = await versionsInForce(db);
    const [rows, open] = await Promise.all([
      db.select({ t: stepTemplate, by: person.name }).from(stepTemplate).leftJoin(person, eq(person.id, stepTemplate.personId)),
      db.select({ task: jobTask.task, version: jobTask.templateVersion, n: count() }).from(jobTask).innerJoin(job, eq(job.id, jobTask.jobId)).where(eq(job.status, 'open')).groupBy(jobTask.task, jobTask.templateVersion),
    ]);
    return TASK_KINDS.flatMap((task): TemplateReply[] => {
      const version = inForce.get(task);
      const found = rows.find(({ t }) => t.task === task && t.version === version);
      if (!found) return [];
      const { t, by } = found;
      return [{ task, version: t.version, origin: t.origin, lines: t.lines, shipped: [...SHIPPED[task]] as TemplateReply['shipped'], by, at: t.at.toISOString(), reason: t.reason, openCards: open.filter((o) => o.task === task && o.version !== version).reduce((sum, o) => sum + o.n, 0) }];
    });
  },

  async templateVersions({ db, params }) {
    const rows = await db.select({ t: stepTemplate, by: person.name }).from(stepTemplate).leftJoin(person, eq(person.id, stepTemplate.personId)).where(eq(stepTemplate.task, params.task)).orderBy(desc(stepTemplate.version)).limit(200);
    return rows.map(({ t, by }) => ({ version: t.version, origin: t.origin, by, at: t.at.toISOString(), reason: t.reason, lines: t.lines }));
  },

  editTemplate: ({ params, body, write, who }) =>
    write(async (tx, audit) => {
      await tx.execute(sql`select pg_advisory_xact_lock(hashtext('step_template'), hashtext(${params.task}))`);
      const inForce = (await versionsInForce(tx)).get(params.task) ?? 0;
      if (inForce !== body.version) throw new HttpProblem(409, 'Someone else changed these steps while you had them open. Load them again, then make your change.');
      const lines = body.lines as TemplateLine[];
      const faults = templateFaults(lines, SHIPPED[params.task], knownSteps());
      if (faults.length > 0) throw new HttpProblem(422, faults.slice(0, 3).map((f) => f.text).join(' '), faults.map((f) => ({ path: `lines.${f.line}`, text: f.text })));
      const [before] = await tx.select().from(stepTemplate).where(and(eq(stepTemplate.task, params.task), eq(stepTemplate.version, inForce)));
      const [{ next }] = (await tx.execute<{ next: number }>(sql`select coalesce(max(version), 0) + 1 as next from step_template where task = ${params.task}::task_kind`)).rows as [{ next: number }];
      await tx.insert(stepTemplate).values({ task: params.task, version: next, origin: 'own', lines, personId: who.id, reason: body.reason });
      await audit({ act: 'changed', subject: 'template', title: params.task, before: { version: inForce, lines: before?.lines }, after: { version: next, lines, reason: body.reason } });
      return { version: next };
    }),
};
