import type { TemplateReply } from '@diurna/contract/visit';
import {
  ACCESS_TEMPLATES,
  knownSteps,
  shippedOf,
  stateFaults,
  TEMPLATE_KEYS,
  templateFaults,
  type AccessTemplate,
  type TemplateKey,
  type TemplateLine,
  type Templates,
} from '@diurna/core/visit';
import type { SchoolChoices } from '@diurna/core/service';
import { and, count, desc, eq, inArray, sql } from 'drizzle-orm';
import { z } from 'zod';
import { remembered, tables, type Db, type Tx, rowsOf } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { HttpProblem } from '../http/problem.ts';
import { readRuleBook } from '../service/index.ts';

const { stepTemplate, person, job, jobTask } = tables;

/**
 * Writes down the steps that came with this build, where they differ from those it has; the yard's own stay in force.
 */
export async function keepShipped(db: Db, now: Date): Promise<void> {
  const rows = await db.select().from(stepTemplate).where(eq(stepTemplate.origin, 'shipped'));
  for (const key of TEMPLATE_KEYS) {
    const own = rows.filter((r) => r.key === key).sort((a, b) => b.version - a.version)[0];
    if (own && sameLines(own.lines, shippedOf(key))) continue;
    // Two processes may start at once: the second finds the version taken.
    await db.execute(sql`
      insert into step_template (at, key, version, origin, lines)
      select ${now.toISOString()}::timestamptz, ${key}::text, coalesce(max(version), 0) + 1, 'shipped',
        ${JSON.stringify(shippedOf(key))}::jsonb
        from step_template where key = ${key}::text
      on conflict do nothing`);
  }
}

/** Object keys come back from the database in another order. */
const sorted = (value: unknown): unknown =>
  Array.isArray(value)
    ? value.map(sorted)
    : value !== null && typeof value === 'object'
      ? Object.fromEntries(
          Object.entries(value)
            .sort(([a], [b]) => (a < b ? -1 : 1))
            .map(([k, v]) => [k, sorted(v)]),
        )
      : value;
const sameLines = (a: readonly TemplateLine[], b: readonly TemplateLine[]) =>
  JSON.stringify(sorted(a)) === JSON.stringify(sorted(b));

/** The version of each template new cards are issued with: the yard's own, else the one that came with the book. */
export async function versionsInForce(db: Db | Tx): Promise<Map<TemplateKey, number>> {
  const rows = await rowsOf(
    db,
    z.object({ key: z.enum(TEMPLATE_KEYS), version: z.number() }),
    sql`
    select distinct on (key) key, version from step_template order by key, origin = 'own' desc, version desc`,
  );
  return new Map(rows.map((r) => [r.key, r.version]));
}

/** What a card is issued with, besides its tasks' versions: steps of access, and the yard's answers steps hang on. */
export async function issuedWith(
  tx: Tx,
  inForce: ReadonlyMap<TemplateKey, number>,
): Promise<{ accessVersions: Partial<Record<AccessTemplate, number>>; schoolAnswers: SchoolChoices }> {
  return {
    accessVersions: Object.fromEntries(
      ACCESS_TEMPLATES.flatMap((key) => (inForce.has(key) ? [[key, inForce.get(key)!]] : [])),
    ),
    schoolAnswers: (await readRuleBook(tx)).choices,
  };
}

interface Version {
  key: TemplateKey;
  version: number;
}

/** The lines of these versions, by `key version`. A cache: versions never change. */
export async function templateLines(db: Db | Tx, wanted: readonly Version[]): Promise<Map<string, TemplateLine[]>> {
  const cache = remembered(db, 'template lines', () => new Map<string, TemplateLine[]>());
  const missing = wanted.filter((w) => !cache.has(`${w.key} ${w.version}`));
  if (missing.length > 0) {
    const rows = await db
      .select()
      .from(stepTemplate)
      .where(inArray(stepTemplate.key, [...new Set(missing.map((m) => m.key))]));
    for (const r of rows) cache.set(`${r.key} ${r.version}`, r.lines);
  }
  return cache;
}

export function templatesFor(lines: ReadonlyMap<string, TemplateLine[]>, versions: readonly Version[]): Templates {
  const templates: Templates = {};
  for (const { key, version } of versions) {
    const found = lines.get(`${key} ${version}`);
    if (found) templates[key] = found;
  }
  return templates;
}

/** The steps new cards are issued with. */
export async function templatesInForce(tx: Db | Tx): Promise<Templates> {
  const versions = [...(await versionsInForce(tx))].map(([key, version]) => ({ key, version }));
  return templatesFor(await templateLines(tx, versions), versions);
}

type Names = 'listTemplates' | 'templateVersions' | 'editTemplate';

export const templateHandlers: Handlers<Names> = {
  async listTemplates({ db }) {
    const inForce = await versionsInForce(db);
    const [rows, ofTasks, ofAccess] = await Promise.all([
      db
        .select({ t: stepTemplate, by: person.name })
        .from(stepTemplate)
        .leftJoin(person, eq(person.id, stepTemplate.personId)),
      db
        .select({ key: jobTask.task, version: jobTask.templateVersion, n: count() })
        .from(jobTask)
        .innerJoin(job, eq(job.id, jobTask.jobId))
        .where(eq(job.status, 'open'))
        .groupBy(jobTask.task, jobTask.templateVersion),
      rowsOf(
        db,
        z.object({ key: z.enum(ACCESS_TEMPLATES), version: z.number(), n: z.number() }),
        sql`select v.key, v.value::int as version, count(*)::int as n from job j, jsonb_each_text(j.access_versions) v
          where j.status = 'open' group by 1, 2`,
      ),
    ]);
    const open: (Version & { n: number })[] = [...ofTasks, ...ofAccess];
    return TEMPLATE_KEYS.flatMap((key): TemplateReply[] => {
      const version = inForce.get(key);
      const found = rows.find(({ t }) => t.key === key && t.version === version);
      if (!found) return [];
      const { t, by } = found;
      return [
        {
          key,
          version: t.version,
          origin: t.origin,
          lines: t.lines,
          shipped: [...shippedOf(key)] as TemplateReply['shipped'],
          by,
          at: t.at.toISOString(),
          reason: t.reason,
          openCards: open.filter((o) => o.key === key && o.version !== version).reduce((sum, o) => sum + o.n, 0),
        },
      ];
    });
  },

  async templateVersions({ db, params }) {
    const rows = await db
      .select({ t: stepTemplate, by: person.name })
      .from(stepTemplate)
      .leftJoin(person, eq(person.id, stepTemplate.personId))
      .where(eq(stepTemplate.key, params.key))
      .orderBy(desc(stepTemplate.version))
      .limit(200);
    return rows.map(({ t, by }) => ({
      version: t.version,
      origin: t.origin,
      by,
      at: t.at.toISOString(),
      reason: t.reason,
      lines: t.lines,
    }));
  },

  editTemplate: ({ params, body, write, who, now }) =>
    write(async (tx, audit) => {
      await tx.execute(sql`select pg_advisory_xact_lock(hashtext('step_template'), hashtext(${params.key}))`);
      const inForce = (await versionsInForce(tx)).get(params.key) ?? 0;
      if (inForce !== body.version)
        throw new HttpProblem(
          409,
          'Someone else changed these steps while you had them open. Load them again, then make your change.',
        );
      const lines = body.lines as TemplateLine[];
      const written = templateFaults(lines, shippedOf(params.key), knownSteps(), params.key);
      // What it would do to an engine is asked once it can be read.
      const faults = written.length > 0 ? written : stateFaults(params.key, lines, await templatesInForce(tx));
      if (faults.length > 0)
        throw new HttpProblem(
          422,
          faults
            .slice(0, 3)
            .map((f) => f.text)
            .join(' '),
          faults.map((f) => ({ path: `lines.${f.line}`, text: f.text })),
        );
      const [before] = await tx
        .select()
        .from(stepTemplate)
        .where(and(eq(stepTemplate.key, params.key), eq(stepTemplate.version, inForce)));
      const [{ next }] = (await rowsOf(
        tx,
        z.object({ next: z.number() }),
        sql`select coalesce(max(version), 0) + 1 as next from step_template where key = ${params.key}::text`,
      )) as [{ next: number }];
      await tx
        .insert(stepTemplate)
        .values({
          at: now,
          key: params.key,
          version: next,
          origin: 'own',
          lines,
          personId: who.id,
          reason: body.reason,
        });
      await audit({
        act: 'changed',
        subject: 'template',
        title: params.key,
        before: { version: inForce, lines: before?.lines },
        after: { version: next, lines, reason: body.reason },
      });
      return { version: next };
    }),
};
