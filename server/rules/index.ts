import { type EngineFacts, dueOfEngine } from '@diurna/core/ahead';
import { dayInZone } from '@diurna/core/calendar';
import type { z } from 'zod';
import type { overrideEdit, Override, RuleChange, RulePreview, SchoolAnswer } from '@diurna/contract/rules';
import { engineName } from '@diurna/core/fleet';
import {
  answerTo,
  dueDays,
  nearestLimit,
  ruleInForce,
  SCHOOL_KEYS,
  schoolOf,
  TASK_KINDS,
  taskApplies,
  tasksOfSchool,
  type RuleOverride,
} from '@diurna/core/service';
import { and, desc, eq, isNull, sql } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { faulty, HttpProblem, notFound } from '../http/problem.ts';
import { lockVersion, nextVersion } from '../http/version.ts';
import { finePrint, programmeBasis } from '../fleet/index.ts';
import { readRuleBook, type FleetCache, type RuleBook } from '../service/index.ts';
import type { Think } from '../think.ts';
import { previewRules, type Would } from './preview.ts';

const { schoolChoice, ruleOverride, person, base, boat, engine } = tables;
type OverrideEdit = z.output<typeof overrideEdit>;
type Names =
  | 'listSchools'
  | 'answerSchool'
  | 'listOverrides'
  | 'addOverride'
  | 'endOverride'
  | 'previewRules'
  | 'compareSchool';

const placeOf = ({ scope, scopeId }: OverrideEdit) => ({
  baseId: scope === 'base' ? scopeId : null,
  boatId: scope === 'boat' ? scopeId : null,
  engineId: scope === 'engine' ? scopeId : null,
});

/** The name of the base, boat or engine, or a fault when there is none. */
async function nameOfPlace(tx: Tx, edit: OverrideEdit): Promise<string> {
  if (edit.scope === 'base') {
    const [found] = await tx.select({ name: base.name }).from(base).where(eq(base.id, edit.scopeId));
    if (found) return found.name;
  } else if (edit.scope === 'boat') {
    const [found] = await tx
      .select({ name: boat.name })
      .from(boat)
      .where(and(eq(boat.id, edit.scopeId), eq(boat.retired, false)));
    if (found) return found.name;
  } else {
    const [found] = await tx
      .select({ boat: boat.name, position: engine.position, serial: engine.serial })
      .from(engine)
      .leftJoin(boat, eq(boat.id, engine.boatId))
      .where(and(eq(engine.id, edit.scopeId), eq(engine.retired, false)));
    if (found) return found.boat === null ? found.serial : engineName(found.boat, found.position);
  }
  throw faulty('scopeId', `This ${edit.scope} is not in the fleet any more. Choose another.`);
}

function wouldBe(book: RuleBook, change: RuleChange): Would {
  if ('school' in change)
    return {
      choices: { ...book.choices, [change.school]: change.answer },
      were: book.choices,
      overridesOf: (f) => f.overrides,
    };
  if ('endOverride' in change)
    return {
      choices: book.choices,
      were: book.choices,
      overridesOf: (f) => f.overrides.filter((o) => o.id !== change.endOverride),
    };
  if ('programme' in change) {
    const { modelId, rules } = change.programme;
    return {
      choices: book.choices,
      were: book.choices,
      overridesOf: (f) => f.overrides,
      programmeOf: (f) =>
        f.modelId !== modelId
          ? f.programme
          : rules
              .filter((r) => taskApplies(r.task, f.stroke))
              .map((r) => ({
                ...programmeBasis(
                  f.programme.find((p) => p.task === r.task),
                  r,
                ),
                ...finePrint(
                  r,
                  f.programme.find((p) => p.task === r.task),
                ),
              })),
    };
  }
  const { override } = change;
  const place = placeOf(override);
  const holds = (f: EngineFacts) => f.id === place.engineId || f.boatId === place.boatId || f.baseId === place.baseId;
  const added: RuleOverride = {
    id: 0,
    scope: override.scope,
    task: override.task,
    everyHours: override.everyHours,
    everyMonths: override.everyMonths,
    reason: override.reason,
    author: null,
  };
  return {
    choices: book.choices,
    were: book.choices,
    overridesOf: (f) =>
      holds(f)
        ? [...f.overrides.filter((o) => o.scope !== override.scope || o.task !== override.task), added]
        : f.overrides,
  };
}

function knownAnswer(school: Parameters<typeof schoolOf>[0], answer: string): string {
  const found = schoolOf(school).options.find((o) => o.key === answer);
  if (!found) throw faulty('answer', 'This answer is not among those of the question. Reload the page.');
  return found.word;
}

/** Works a change of rules out on the whole fleet. */
export async function workOutRules(db: Db, fleet: FleetCache, now: Date, change: RuleChange): Promise<RulePreview> {
  await fleet.refresh(now);
  return previewRules(db, fleet, now, wouldBe(await readRuleBook(db), change));
}

export function rulesHandlers(fleet: FleetCache, think: Think): Handlers<Names> {
  const answers = async (db: Db | Tx) => {
    const rows = await db
      .select({ school: schoolChoice.school, answer: schoolChoice.answer, at: schoolChoice.at, by: person.name })
      .from(schoolChoice)
      .leftJoin(person, eq(person.id, schoolChoice.personId));
    return SCHOOL_KEYS.map((school): SchoolAnswer => {
      const row = rows.find((r) => r.school === school);
      return {
        school,
        answer: answerTo(school, row ? { [school]: row.answer } : {}).key,
        by: row?.by ?? null,
        at: row?.at.toISOString() ?? null,
      };
    });
  };
  return {
    listSchools: ({ db }) => answers(db),

    answerSchool: ({ params: { school }, body, write, who, now }) =>
      write(async (tx, audit) => {
        // One answer at a time, so that the second of two people sees the first one's.
        await tx.execute(sql`select pg_advisory_xact_lock(4153)`);
        const word = knownAnswer(school, body.answer);
        const before = (await answers(tx)).find((a) => a.school === school)!;
        if (before.answer !== body.was) {
          throw new HttpProblem(
            409,
            `${before.by ?? 'Someone'} answered this question meanwhile: “${knownAnswer(school, before.answer).toLowerCase()}”. Look at it again, then choose.`,
          );
        }
        const row = { answer: body.answer, personId: who.id, at: now };
        await tx
          .insert(schoolChoice)
          .values({ school, ...row })
          .onConflictDoUpdate({ target: schoolChoice.school, set: row });
        await audit({
          act: 'changed',
          subject: 'rules',
          title: schoolOf(school).question,
          before: { answer: knownAnswer(school, before.answer) },
          after: { answer: word, reason: body.reason },
        });
        return { ok: true as const };
      }),

    async listOverrides({ db }) {
      const rows = await db
        .select({
          o: ruleOverride,
          by: person.name,
          baseName: base.name,
          boatName: boat.name,
          position: engine.position,
          serial: engine.serial,
        })
        .from(ruleOverride)
        .leftJoin(person, eq(person.id, ruleOverride.personId))
        .leftJoin(base, eq(base.id, ruleOverride.baseId))
        .leftJoin(engine, eq(engine.id, ruleOverride.engineId))
        .leftJoin(boat, sql`${boat.id} = coalesce(${ruleOverride.boatId}, ${engine.boatId})`)
        .where(isNull(ruleOverride.endedAt))
        .orderBy(desc(ruleOverride.at))
        .limit(2000);
      return rows.map(({ o, by, baseName, boatName, position, serial }): Override => ({
        id: o.id,
        version: o.version,
        scope: o.engineId !== null ? 'engine' : o.boatId !== null ? 'boat' : 'base',
        scopeId: (o.engineId ?? o.boatId ?? o.baseId)!,
        scopeName:
          o.engineId === null
            ? (boatName ?? baseName ?? '')
            : boatName === null
              ? (serial ?? '')
              : engineName(boatName, position!),
        task: o.task,
        everyHours: o.everyHours,
        everyMonths: o.everyMonths,
        reason: o.reason,
        by,
        at: o.at.toISOString(),
      }));
    },

    addOverride: ({ body, write, who, now }) =>
      write(async (tx, audit) => {
        const name = await nameOfPlace(tx, body);
        const place = placeOf(body);
        const same = and(
          sql`base_id is not distinct from ${place.baseId}::int`,
          sql`boat_id is not distinct from ${place.boatId}::int`,
          sql`engine_id is not distinct from ${place.engineId}::int`,
          eq(ruleOverride.task, body.task),
          isNull(ruleOverride.endedAt),
        );
        // A new one takes the place of the old, which stays in the book as ended.
        const ended = await tx
          .update(ruleOverride)
          .set({ endedAt: now, ...nextVersion(ruleOverride) })
          .where(same)
          .returning();
        const [row] = await tx
          .insert(ruleOverride)
          .values({
            ...place,
            task: body.task,
            everyHours: body.everyHours,
            everyMonths: body.everyMonths,
            reason: body.reason,
            personId: who.id,
            at: now,
          })
          .returning();
        await audit({
          act: 'added',
          subject: 'rules',
          subjectId: row!.id,
          title: `${name}: ${body.task}`,
          before: ended[0]
            ? { everyHours: ended[0].everyHours, everyMonths: ended[0].everyMonths, reason: ended[0].reason }
            : null,
          after: { everyHours: body.everyHours, everyMonths: body.everyMonths, reason: body.reason },
        });
        return { id: row!.id, version: row!.version };
      }),

    endOverride: ({ params, body, write, now }) =>
      write(async (tx, audit) => {
        const before = await lockVersion(tx, ruleOverride, params.id, body.version, 'rule');
        if (before.endedAt !== null) throw new HttpProblem(409, 'This rule is ended already.');
        const [row] = await tx
          .update(ruleOverride)
          .set({ endedAt: now, ...nextVersion(ruleOverride) })
          .where(eq(ruleOverride.id, params.id))
          .returning();
        await audit({
          act: 'cancelled',
          subject: 'rules',
          subjectId: row!.id,
          title: before.task,
          before: { everyHours: before.everyHours, everyMonths: before.everyMonths, reason: before.reason },
        });
        return { id: row!.id, version: row!.version };
      }),

    async previewRules({ body, now }) {
      if ('school' in body) knownAnswer(body.school, body.answer);
      return think('rules', { now: now.getTime(), change: body });
    },

    async compareSchool({ db, query, now }) {
      await fleet.refresh(now);
      const facts = fleet.engines.get(query.engineId);
      if (!facts) throw notFound('engine in use');
      const { choices } = await readRuleBook(db);
      const tasks = tasksOfSchool(query.school, TASK_KINDS);
      return schoolOf(query.school).options.map((option) => {
        const rules = facts.programme
          .filter((p) => tasks.includes(p.task))
          .map((p) => ruleInForce(p, { ...choices, [query.school]: option.key }, facts.overrides, facts));
        return {
          answer: option.key,
          tasks: dueOfEngine(facts, fleet.boats.get(facts.boatId)!, dayInZone(now, facts.timeZone), rules)
            // Not what is asked for besides.
            .filter(({ due }) => tasks.includes(due.task))
            .map(({ due }) => ({
              task: due.task,
              state: due.state,
              text: nearestLimit(due),
              limitHours: due.limitHours,
              limitDay: due.limitDay,
              on: dueDays(due),
            })),
        };
      });
    },
  };
}
