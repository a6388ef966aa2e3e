import type { MovedCard, NewCard, several } from '@diurna/contract/hand-out';
import { dayInZone, dayWord } from '@diurna/core/calendar';
import type { CardStand } from '@diurna/core/changes';
import type { Reason } from '@diurna/core/feasible';
import { plural } from '@diurna/core/units';
import { visitMinutes } from '@diurna/core/visit';
import { eq } from 'drizzle-orm';
import type { z } from 'zod';
import {
  cardStands,
  recordChange,
  standOf,
  writeCards,
  type StandingCard,
  type WrittenChange,
} from '../changes/index.ts';
import { tables, transaction, type Db, type Tx } from '../db/index.ts';
import type { AuditLine, Handlers, Who } from '../http/api.ts';
import { DAY_OVER, faulty, HttpProblem, notFound, stale } from '../http/problem.ts';
import { issuedWith, versionsInForce, visitTasks } from '../visit/index.ts';
import { whatIsAgainst } from './feasible.ts';
import { checkTechnician, checkWork } from './hand-out.ts';

const { base, boat, job } = tables;
type Several = z.output<typeof several>;

/** One of them as it was written, and what is against it beside those before it. */
interface Written {
  change: WrittenChange;
  boatName: string;
  minutes: number;
  against: Reason[];
}

/**
 * Writes several cards one after the other, and looks at each once it stands. Cards that move to later days go from the
 * last day on and those that move to earlier ones from the first, so that none is in the way of the next.
 */
async function writeSeveral(tx: Tx, now: Date, { cards, moves }: Several): Promise<Written[]> {
  // What plans write, what is put back and this never meet.
  await tx.execute(`select pg_advisory_xact_lock(hashtext('accepted_plan'))`);
  const stands = await cardStands(
    tx,
    moves.map((m) => m.jobId),
    { lock: true },
  );
  const moved = new Map<MovedCard, Written>();
  for (const move of inTurn(moves, stands))
    moved.set(move, await looked(tx, now, await moveOne(tx, now, move, stands.get(move.jobId), moves.indexOf(move))));
  const fresh: Written[] = [];
  for (const [i, card] of cards.entries()) fresh.push(await looked(tx, now, await addOne(tx, now, card, i)));
  return [...fresh, ...moves.map((m) => moved.get(m)!)];
}

/** A card as it stands now, with what is against it. */
async function looked(tx: Tx, now: Date, one: Pick<Written, 'change' | 'boatName'>): Promise<Written> {
  const { jobId, boatId, after } = one.change;
  const tasks = after.tasks.filter((t) => t.state !== 'done');
  const tasksOf = await visitTasks(tx, now, [...new Set(tasks.map((t) => t.engineId))]);
  const { technicianId, day, startMinute } = after;
  const against = await whatIsAgainst(tx, now, { boatId, technicianId, day, startMinute, tasks, jobId });
  return { ...one, minutes: visitMinutes(tasksOf(tasks)).elapsed, against };
}

/** In which order they are written. */
function inTurn(moves: readonly MovedCard[], stands: ReadonlyMap<number, StandingCard>): MovedCard[] {
  const from = (m: MovedCard) => stands.get(m.jobId)?.day ?? m.day;
  const later = moves.some((m) => from(m) < m.day);
  return [...moves].sort((a, b) => (from(a) < from(b) === later ? 1 : -1) * Number(from(a) !== from(b)));
}

/** The boat of a card, and the day it is there. */
async function placeOf(tx: Tx, boatId: number) {
  const [place] = await tx
    .select({ name: boat.name, zone: base.timeZone })
    .from(boat)
    .innerJoin(base, eq(base.id, boat.baseId))
    .where(eq(boat.id, boatId));
  return place!;
}

/** @throws 404, 409 or 422 in words that name the card */
async function moveOne(tx: Tx, now: Date, card: MovedCard, stood: StandingCard | undefined, i: number) {
  if (!stood) throw notFound('job');
  if (stood.version !== card.version) throw stale('job');
  const place = await placeOf(tx, stood.boatId);
  if (!stood.open) throw new HttpProblem(409, `The card of ${place.name} is not open any more. Load the list again.`);
  if (stood.tasks.some((t) => t.state === 'done'))
    throw new HttpProblem(409, `${place.name} is being worked on: its card stays where it is. Load the list again.`);
  await checkTechnician(tx, card.technicianId);
  if (card.day < stood.day && card.day < dayInZone(now, place.zone)) throw faulty(`moves.${i}.day`, DAY_OVER);
  const before = standOf(stood);
  const after: CardStand = {
    ...before,
    technicianId: card.technicianId,
    day: card.day,
    // Another person has other hours.
    startMinute: card.technicianId === stood.technicianId ? stood.startMinute : null,
    insisted: null,
  };
  const change = { jobId: stood.id, boatId: stood.boatId, before, after };
  await writeCards(tx, [change], null);
  return { change, boatName: place.name };
}

async function addOne(tx: Tx, now: Date, card: NewCard, i: number) {
  const { place } = await checkWork(tx, card.boatId, card.tasks);
  await checkTechnician(tx, card.technicianId);
  if (card.day < dayInZone(now, place.zone)) throw faulty(`cards.${i}.day`, DAY_OVER);
  const versions = await versionsInForce(tx);
  const after: CardStand = {
    technicianId: card.technicianId,
    day: card.day,
    startMinute: null,
    pinned: false,
    open: true,
    remark: null,
    insisted: null,
    tasks: card.tasks.map((t) => ({ ...t, state: 'open', templateVersion: versions.get(t.task) ?? 1 })),
  };
  const [change] = await writeCards(
    tx,
    [{ jobId: null, boatId: card.boatId, before: null, after }],
    await issuedWith(tx, versions),
  );
  return { change: change!, boatName: place.name };
}

/** Looked at: what was written is taken back by the database. */
class OnlyLooked extends Error {
  readonly written: Written[];

  constructor(written: Written[]) {
    super('only looked at');
    this.written = written;
  }
}

async function lookAt(db: Db, now: Date, asked: Several): Promise<Written[]> {
  try {
    return await transaction(db, async (tx): Promise<never> => {
      throw new OnlyLooked(await writeSeveral(tx, now, asked));
    });
  } catch (error) {
    if (error instanceof OnlyLooked) return error.written;
    throw error;
  }
}

/** @throws 422 `questioned` with every reason, by boat */
function refuseAgainst(written: readonly Written[], fresh: number): void {
  const texts = written.flatMap((w) => w.against.map((r) => `${w.boatName}: ${r.text}`));
  if (texts.length === 0) return;
  throw new HttpProblem(
    422,
    `Some of this cannot be done as it is asked for; nothing was written. ${texts.slice(0, 3).join(' ')}${texts.length > 3 ? ` And ${texts.length - 3} more.` : ''} Leave those out, change them, or say why they are handed out all the same.`,
    written.flatMap((w, i) =>
      w.against.map((r) => ({
        path: i < fresh ? `cards.${i}` : `moves.${i - fresh}`,
        text: [r.text, r.frees].filter(Boolean).join(' '),
      })),
    ),
    'questioned',
  );
}

/** What was decided, in words. */
function textOf(changes: readonly WrittenChange[]): string {
  const fresh = changes.filter((c) => c.before === null);
  const days = [...new Set(changes.map((c) => c.after.day))].sort();
  const when = days.length === 1 ? dayWord(days[0]!) : `${dayWord(days[0]!)} to ${dayWord(days.at(-1)!)}`;
  return fresh.length === changes.length
    ? `${plural(fresh.length, 'boat')} handed out, ${when}`
    : `${plural(changes.length, 'card')} moved to ${when}`;
}

async function decide(
  tx: Tx,
  audit: (...lines: AuditLine[]) => Promise<void>,
  asked: Several,
  who: Who,
  now: Date,
): Promise<{ changeId: number | null; cards: number }> {
  const { insist } = asked;
  const written = await writeSeveral(tx, now, asked);
  if (insist === undefined) refuseAgainst(written, asked.cards.length);
  const changes: WrittenChange[] = [];
  for (const { change, against } of written) {
    const insisted = against.length > 0 ? { why: insist!, against: against.map((r) => r.text) } : null;
    if (insisted) await tx.update(job).set({ insisted }).where(eq(job.id, change.jobId));
    changes.push({ ...change, after: { ...change.after, insisted } });
  }
  await audit(
    ...changes.map((c, i): AuditLine => ({
      act: c.before === null ? 'added' : 'changed',
      subject: 'job',
      subjectId: c.jobId,
      title: written[i]!.boatName,
      before: c.before,
      after: c.after,
    })),
  );
  const changeId = await recordChange(tx, { kind: 'card', text: textOf(changes), cards: changes }, who, now);
  return { changeId, cards: changes.length };
}

/** Work of several boats handed out, or several cards moved, in one decision. */
export const severalHandlers: Handlers<'lookAtSeveral' | 'decideSeveral'> = {
  lookAtSeveral: async ({ db, body, now }) =>
    (await lookAt(db, now, body)).map(({ minutes, against }) => ({ minutes, against })),

  decideSeveral: ({ body, write, who, now }) => write((tx, audit) => decide(tx, audit, body, who, now)),
};
