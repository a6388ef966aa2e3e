import type { moveBody } from '@diurna/contract/stores';
import { addMonths, dayInZone, type Day } from '@diurna/core/calendar';
import { and, eq, inArray } from 'drizzle-orm';
import type { z } from 'zod';
import { tables, type Tx } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { DAY_OVER, faulty, HttpProblem, notFound } from '../http/problem.ts';
import { countOpen, decant, openNew } from './containers.ts';
import { keptByCards, keptText } from './kept-back.ts';
import { costOf } from './ledger.ts';
import { lockShelves, onHandByPart, refuseHalves, takeParts } from './store.ts';

const { part, base, person, stockMovement, partArrival } = tables;

type Body = z.output<typeof moveBody>;
type Act<A extends Body['act']> = Extract<Body, { act: A }>;
type PartRow = typeof part.$inferSelect;
type BaseRow = typeof base.$inferSelect;

/** Where an act happens: the part, the base, what lies there, who does it and when. */
interface At {
  p: PartRow;
  at: BaseRow;
  before: number;
  personId: number;
  now: Date;
}

/** The last day a receipt may be used: as is printed, else by the part's shelf life. */
export const expiryOf = (p: PartRow, printed: Day | null, now: Date, zone: string): Day | null =>
  printed ?? (p.shelfLifeMonths === null ? null : addMonths(dayInZone(now, zone), p.shelfLifeMonths));

const lineOf = ({ p, at, personId, now }: At) => ({ partId: p.id, baseId: at.id, personId, at: now });

async function receive(tx: Tx, body: Act<'receive'>, here: At): Promise<void> {
  const { p, at, now } = here;
  await tx
    .insert(stockMovement)
    .values({
      ...lineOf(here),
      note: body.note,
      quantity: body.quantity,
      reason: 'received',
      lot: body.lot || null,
      expires: expiryOf(p, body.expires, now, at.timeZone),
      costMinor: body.costMinor,
    });
}

async function countShelf(tx: Tx, body: Act<'count'>, here: At): Promise<void> {
  await tx
    .insert(stockMovement)
    .values({ ...lineOf(here), note: body.note, quantity: body.counted - here.before, reason: 'counted' });
  await countOpen(tx, { partId: here.p.id, baseId: here.at.id, counted: body.counted, found: body.open }, here);
}

/** What is kept back for cards does not leave, unless a person says so. @throws 409 that names the cards */
async function refuseKept(tx: Tx, { p, at, before }: At, quantity: number, although: boolean): Promise<void> {
  if (although) return;
  const kept = (await keptByCards(tx, at.id)).filter((k) => k.partId === p.id);
  const sum = kept.reduce((n, k) => n + k.quantity, 0);
  if (before - quantity >= sum - 1e-6 || sum === 0) return;
  throw new HttpProblem(
    409,
    `Of ${p.number} ${Math.round(Math.max(0, before - sum) * 100) / 100}${p.unit === 'mL' ? ' mL' : ''} are free here: the rest is kept back for ${keptText(kept)}. Take less, or say that these cards go short.`,
    [{ path: 'quantity', text: 'kept back for cards' }],
    'kept',
  );
}

/** What leaves for another base is on its way there until somebody puts it on the shelf. */
async function send(tx: Tx, body: Act<'move'>, here: At): Promise<void> {
  const { p, at, before, personId, now } = here;
  const [to] = await tx.select().from(base).where(eq(base.id, body.toBaseId));
  if (!to || to.id === at.id) throw faulty('toBaseId', 'Choose two different bases.');
  if (before < body.quantity)
    throw new HttpProblem(
      409,
      `The shelf has ${before}, ${body.quantity} cannot leave it. Count it first if that is wrong.`,
      [{ path: 'quantity', text: `only ${before} on the shelf` }],
      'short',
    );
  await refuseKept(tx, here, body.quantity, body.although);
  const today = dayInZone(now, to.timeZone);
  const day = body.day ?? today;
  if (day < today) throw faulty('day', DAY_OVER);
  const costMinor = await costOf(tx, p, at.id, body.quantity);
  await takeParts(tx, [{ partId: p.id, quantity: body.quantity }], {
    baseId: at.id,
    jobId: null,
    personId,
    reason: 'moved',
    note: body.note ?? `to ${to.name}`,
    belowZero: false,
    now,
  });
  await tx
    .insert(partArrival)
    .values({
      partId: p.id,
      baseId: to.id,
      fromBaseId: at.id,
      day,
      quantity: body.quantity,
      note: body.note || null,
      priceMinor: costMinor,
    });
}

/** Somebody of the yard. @throws 422 at the field */
async function personOf(tx: Tx, id: number): Promise<string> {
  const [row] = await tx.select().from(person).where(eq(person.id, id));
  if (!row?.active) throw faulty('personId', 'This person is not at work here. Choose another.');
  return row.name;
}

/** What somebody takes for no card: counted as used, and known by whom. */
async function handOut(tx: Tx, body: Act<'hand out'>, here: At): Promise<void> {
  const { p, at, before, personId, now } = here;
  await personOf(tx, body.personId);
  // Less than there is at all is told by the shelf itself.
  if (before >= body.quantity) await refuseKept(tx, here, body.quantity, body.although);
  await takeParts(tx, [{ partId: p.id, quantity: body.quantity }], {
    ...{ baseId: at.id, jobId: null, personId, takenBy: body.personId },
    ...{ reason: 'used', note: body.note, belowZero: false, now },
  });
}

/** What is brought back of it: no more than that person has of this base. */
async function bringBack(tx: Tx, body: Act<'bring back'>, here: At): Promise<void> {
  const { p, at } = here;
  const name = await personOf(tx, body.personId);
  const taken = await tx
    .select({ quantity: stockMovement.quantity })
    .from(stockMovement)
    .where(
      and(eq(stockMovement.partId, p.id), eq(stockMovement.baseId, at.id), eq(stockMovement.takenBy, body.personId)),
    );
  const has = Math.round(-taken.reduce((sum, t) => sum + t.quantity, 0) * 100) / 100;
  if (body.quantity > has + 1e-6)
    throw new HttpProblem(
      409,
      `${name} has ${has}${p.unit === 'mL' ? ' mL' : ''} of ${p.number} from here. What else comes is received.`,
      [{ path: 'quantity', text: `only ${has} were taken` }],
    );
  await tx
    .insert(stockMovement)
    .values({
      ...lineOf(here),
      ...{ note: body.note, quantity: body.quantity, reason: 'returned', takenBy: body.personId },
    });
}

async function act(tx: Tx, body: Body, here: At): Promise<void> {
  const { p, at, personId, now } = here;
  switch (body.act) {
    case 'receive':
      return receive(tx, body, here);
    case 'count':
      return countShelf(tx, body, here);
    case 'move':
      return send(tx, body, here);
    case 'open':
      return openNew(tx, p, at.id, body.container, here.before, here);
    case 'decant':
      return decant(tx, body, here);
    case 'hand out':
      return handOut(tx, body, here);
    case 'bring back':
      return bringBack(tx, body, here);
    case 'write off':
      await takeParts(tx, [{ partId: p.id, quantity: body.quantity }], {
        baseId: at.id,
        jobId: null,
        personId,
        reason: 'written off',
        note: body.note,
        belowZero: false,
        now,
      });
  }
}

/** What is done at a shelf by hand. */
export const moveHandlers: Handlers<'moveStock'> = {
  moveStock: ({ body, write, who, now }) =>
    write(async (tx, audit) => {
      const [p] = await tx.select().from(part).where(eq(part.id, body.partId));
      const [at] = await tx
        .select()
        .from(base)
        .where(inArray(base.id, [body.baseId]));
      if (!p) throw notFound('part');
      if (!at) throw faulty('baseId', 'Choose a base.');
      if (body.act === 'count') refuseHalves(p, body.counted, 'counted');
      else if ('quantity' in body) refuseHalves(p, body.quantity, 'quantity');
      await lockShelves(tx, body.baseId, [p.id]);
      const before = (await onHandByPart(tx, body.baseId, [p.id])).get(p.id) ?? 0;
      await act(tx, body, { p, at, before, personId: who.id, now });
      const after = (await onHandByPart(tx, body.baseId, [p.id])).get(p.id) ?? 0;
      await audit({
        act: 'changed',
        subject: 'stock',
        subjectId: p.id,
        title: p.number,
        before: { onHand: before },
        after: { ...body, onHand: after },
      });
      return { onHand: after };
    }),
};
