import { addDays, dayInZone, type Day } from '@diurna/core/calendar';
import { engineName, type Position } from '@diurna/core/fleet';
import type { Proposal } from '@diurna/core/findings';
import { ruleInForce, TASKS, type TaskKind } from '@diurna/core/service';
import { and, eq, inArray, isNull } from 'drizzle-orm';
import { tellRoles } from '../messages/index.ts';
import { tables, type Tx } from '../db/index.ts';
import type { AuditLine } from '../http/api.ts';
import { nextVersion } from '../http/version.ts';
import { readAsked, readRuleBook } from '../service/index.ts';

const { followUp, hold, ruleOverride, programmeRule, engine, boat, base, partWanted } = tables;
type FindingRecord = typeof tables.finding.$inferSelect;

export interface EnginePlaceRow {
  engineId: number;
  modelId: number;
  boatId: number;
  boatName: string;
  position: Position;
  baseId: number;
  zone: string;
  hemisphere: 'north' | 'south';
  sand: boolean;
  salt: boolean;
}

/** Where an engine hangs, with its model; null = on no boat in use. */
export async function placeOfEngine(tx: Tx, engineId: number): Promise<EnginePlaceRow | null> {
  const [row] = await tx
    .select({
      engineId: engine.id,
      modelId: engine.modelId,
      boatId: boat.id,
      boatName: boat.name,
      position: engine.position,
      baseId: base.id,
      zone: base.timeZone,
      hemisphere: base.hemisphere,
      sand: boat.sand,
      salt: boat.salt,
    })
    .from(engine)
    .innerJoin(boat, eq(boat.id, engine.boatId))
    .innerJoin(base, eq(base.id, boat.baseId))
    .where(eq(engine.id, engineId));
  return row ?? null;
}

/**
 * What a person took of a finding's proposals is done: work asked for, the engine held, an interval shortened, parts
 * asked for.
 *
 * @param seenAt when it was read: only work begun after that counts as its repair
 */
export async function applyProposals(
  tx: Tx,
  found: FindingRecord,
  seenAt: Date,
  who: { id: number; name: string },
  now: Date,
): Promise<string[]> {
  const place = await placeOfEngine(tx, found.engineId);
  if (!place) return [];
  const today = dayInZone(now, place.zone);
  // Asked for once it was read: the work in which it was read is not the work asked for.
  const askedAt = new Date(seenAt.getTime() + 1);
  const name = engineName(place.boatName, place.position);
  const did: string[] = [];
  let before: number | null = null;
  for (const p of found.proposals) {
    if (p.kind === 'follow-up') {
      const [row]: { id: number }[] = await tx
        .insert(followUp)
        .values({
          engineId: found.engineId,
          task: p.task,
          dueOn: dueDay(p, today),
          afterId: p.when === 'after the one before' ? before : null,
          findingId: found.id,
          jobId: found.jobId,
          why: found.seen,
          at: askedAt,
        })
        .returning({ id: followUp.id });
      before = row!.id;
      did.push(`${TASKS[p.task].word.toLowerCase()} asked for`);
    } else if (p.kind === 'hold') {
      await putOnHold(tx, {
        engineId: found.engineId,
        findingId: found.id,
        why: found.seen,
        checks: p.checks,
        putBy: who.id,
        at: seenAt,
      });
      await tellRoles(
        tx,
        ['coordinator', 'administrator'],
        { kind: 'desk', text: `${name} is held. ${found.seen}`, jobId: found.jobId },
        who.id,
        now,
      );
      did.push('held');
    } else if (p.kind === 'shorten') {
      // Where no limit can be cut, the day is set all the same: sooner is always a day.
      if (!(await shorten(tx, place, p.task, p.percent, found.seen, who.id, now)))
        await tx
          .insert(followUp)
          .values({
            engineId: found.engineId,
            task: p.task,
            dueOn: addDays(today, SOONER_DAYS),
            findingId: found.id,
            jobId: found.jobId,
            why: found.seen,
            at: seenAt,
          });
      did.push(`${TASKS[p.task].word.toLowerCase()} comes round sooner on ${place.boatName}`);
    } else {
      await tx
        .insert(partWanted)
        .values({
          engineId: found.engineId,
          task: p.task,
          findingId: found.id,
          jobId: found.jobId,
          why: p.what === undefined ? found.seen : `${found.seen} Wanted: ${p.what}.`,
          askedBy: who.id,
          at: now,
        });
      await tellRoles(
        tx,
        ['stores', 'coordinator'],
        {
          kind: 'desk',
          text: `Parts wanted for ${name}: ${p.what ?? TASKS[p.task].word.toLowerCase()}. ${found.seen}`,
          jobId: found.jobId,
        },
        who.id,
        now,
      );
      did.push('parts asked for');
    }
  }
  return did;
}

/** Work without a limit that is to come round sooner comes in half a year. */
const SOONER_DAYS = 182;

function dueDay(p: Extract<Proposal, { kind: 'follow-up' }>, today: Day): Day | null {
  if (p.task === 'first-outing') return null;
  return typeof p.when === 'number' ? addDays(today, p.when) : today;
}

async function putOnHold(
  tx: Tx,
  values: { engineId: number; findingId: number | null; why: string; checks: TaskKind[]; putBy: number; at: Date },
) {
  const [row] = await tx.insert(hold).values(values).returning();
  return row!;
}

/**
 * A person holds an engine by their own eyes: coordinators are told.
 *
 * @returns null where there is no such engine
 */
export async function holdByHand(
  tx: Tx,
  audit: (line: AuditLine) => Promise<void>,
  {
    engineId,
    findingId = null,
    why,
    checks,
    jobId,
    at,
  }: { engineId: number; findingId?: number | null; why: string; checks: TaskKind[]; jobId: number | null; at: Date },
  who: { id: number },
  now: Date,
) {
  const place = await placeOfEngine(tx, engineId);
  if (!place) return null;
  const name = engineName(place.boatName, place.position);
  const row = await putOnHold(tx, { engineId, findingId, why, checks, putBy: who.id, at });
  await askForChecks(tx, { engineId, findingId, jobId, why, checks, at, today: dayInZone(now, place.zone) });
  await tellRoles(
    tx,
    ['coordinator', 'administrator'],
    { kind: 'desk', text: `${name} is held. ${why}`, jobId },
    who.id,
    now,
  );
  await audit({ act: 'added', subject: 'hold', subjectId: row.id, title: name, after: { why, checks } });
  return row;
}

/**
 * What a hold wants is work like any other, due now, each after the one before it; what is asked for already is not
 * asked twice.
 */
async function askForChecks(
  tx: Tx,
  of: {
    engineId: number;
    findingId: number | null;
    jobId: number | null;
    why: string;
    checks: readonly TaskKind[];
    at: Date;
    today: Day;
  },
): Promise<void> {
  const asked = (await readAsked(tx, [of.engineId])).get(of.engineId) ?? [];
  let before: number | null = null;
  for (const task of of.checks) {
    const known = asked.find((a) => a.followUp.task === task);
    if (known) {
      before = known.followUp.id;
      continue;
    }
    const [row]: { id: number }[] = await tx
      .insert(followUp)
      .values({
        engineId: of.engineId,
        task,
        dueOn: of.today,
        afterId: before,
        findingId: of.findingId,
        jobId: of.jobId,
        why: of.why,
        at: new Date(of.at.getTime() + 1),
      })
      .returning({ id: followUp.id });
    before = row!.id;
  }
}

/** Why a hold is off that went with a decision taken back; nobody let the engine go by it. */
export const TAKEN_BACK = 'Taken back on the card.';

/** What followed from a decision is called off: work, hold, shorter interval and parts asked for. */
export async function takeBack(tx: Tx, found: FindingRecord, who: { id: number }, now: Date): Promise<void> {
  await tx
    .update(followUp)
    .set({ calledOffAt: now, calledOffBy: who.id, calledOffBecause: TAKEN_BACK })
    .where(and(eq(followUp.findingId, found.id), isNull(followUp.calledOffAt)));
  await tx
    .update(hold)
    .set({ releasedAt: now, releasedBy: who.id, releasedBecause: TAKEN_BACK, ...nextVersion(hold) })
    .where(and(eq(hold.findingId, found.id), isNull(hold.releasedAt)));
  await tx
    .update(partWanted)
    .set({ closedAt: now, closedBy: who.id, closedBecause: TAKEN_BACK })
    .where(and(eq(partWanted.findingId, found.id), isNull(partWanted.closedAt)));
  const place = await placeOfEngine(tx, found.engineId);
  const cut = found.proposals.flatMap((p) => (p.kind === 'shorten' ? [p.task] : []));
  if (!place || cut.length === 0 || found.decidedAt === null) return;
  const ended = await tx
    .update(ruleOverride)
    .set({ endedAt: now })
    .where(
      and(
        eq(ruleOverride.boatId, place.boatId),
        inArray(ruleOverride.task, cut),
        eq(ruleOverride.at, found.decidedAt),
        isNull(ruleOverride.endedAt),
      ),
    )
    .returning({ task: ruleOverride.task });
  // The rule of the boat's own that it stood in for holds again.
  for (const { task } of ended)
    await tx
      .update(ruleOverride)
      .set({ endedAt: null })
      .where(
        and(
          eq(ruleOverride.boatId, place.boatId),
          eq(ruleOverride.task, task),
          eq(ruleOverride.endedAt, found.decidedAt),
        ),
      );
}

/** The task's interval on the boat is cut; a rule of its own that is shorter already stays. */
async function shorten(
  tx: Tx,
  place: EnginePlaceRow,
  task: TaskKind,
  percent: number,
  why: string,
  personId: number,
  now: Date,
): Promise<boolean> {
  const book = await readRuleBook(tx);
  const [programme] = await tx
    .select()
    .from(programmeRule)
    .where(and(eq(programmeRule.modelId, place.modelId), eq(programmeRule.task, task)));
  if (!programme) return false;
  const overrides = book.overrides.filter(
    (o) => o.engineId === place.engineId || o.boatId === place.boatId || o.baseId === place.baseId,
  );
  const rule = ruleInForce(
    { ...programme, everyHours: programme.everyHours },
    book.choices,
    overrides.filter((o) => o.boatId === null && o.engineId === null),
    place,
  );
  const cut = (n: number | null, least: number) =>
    n === null ? null : Math.max(least, Math.round((n * percent) / 100));
  const everyHours = cut(rule.everyHours, 1);
  const everyMonths = cut(rule.everyMonths, 1);
  if (everyHours === null && everyMonths === null) return false;
  const own = overrides.find((o) => o.boatId === place.boatId && o.task === task);
  if (
    own &&
    (own.everyHours ?? Infinity) <= (everyHours ?? Infinity) &&
    (own.everyMonths ?? Infinity) <= (everyMonths ?? Infinity)
  )
    return false;
  await tx
    .update(ruleOverride)
    .set({ endedAt: now })
    .where(and(eq(ruleOverride.boatId, place.boatId), eq(ruleOverride.task, task), isNull(ruleOverride.endedAt)));
  await tx
    .insert(ruleOverride)
    .values({ boatId: place.boatId, task, everyHours, everyMonths, reason: why, personId, at: now });
  return true;
}
