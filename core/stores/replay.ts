import { dayNumber, type Day } from '../calendar/index.ts';

/** One line of a shelf's ledger. */
export interface ShelfMovement {
  /** Each or mL, in or out by sign. */
  quantity: number;
  day: Day;
  lot?: string | null;
  /** Last day on which it may be used. */
  expires?: Day | null;
  /** What all of it cost, minor units; null = nobody said. */
  costMinor?: number | null;
  /** Taken for work: what turns are counted by. */
  used?: boolean;
}

/** What is left of one receipt. */
export interface LotLeft {
  lot: string | null;
  expires: Day | null;
  since: Day;
  left: number;
}

/** What a shelf came to by its ledger. Money in minor units, not rounded. */
export interface ShelfState {
  onHand: number;
  /** Earliest to expire first; together what is on hand, none of it when the shelf is below zero. */
  lots: LotLeft[];
  /** Of one (or one mL), by the moving average; null while nothing with a price has come. */
  average: number | null;
  /** Of what is on hand, by the moving average. */
  worth: number;
  /** The same, first in first out. */
  worthFifo: number;
  /** Of all that went out, by the moving average and first in first out. */
  cost: number;
  costFifo: number;
}

const EPS = 1e-9;

/**
 * Goes through a shelf's ledger from its start. What expires first is taken first, what never expires last, the older
 * of two first; what is owed below zero is made good by what comes next. Cost by moving average: a receipt mixes with
 * what is there, what goes out takes the average with it; beside it first in, first out. Receipts nobody priced come in
 * at the average, the first of them at the fallback. Common practice, no source.
 *
 * @param movements in the order of the ledger
 * @param fallback price of one (or one mL) where nothing has a price yet; null = worth nothing
 */
export function replayShelf(movements: readonly ShelfMovement[], fallback: number | null): ShelfState {
  let onHand = 0;
  let average: number | null = null;
  let worth = 0;
  let cost = 0;
  let costFifo = 0;
  const lots: LotLeft[] = [];
  const layers: { left: number; each: number }[] = [];
  for (const m of movements) {
    if (m.quantity > 0) {
      const each: number = m.costMinor == null ? (average ?? fallback ?? 0) : m.costMinor / m.quantity;
      const owed = Math.min(m.quantity, Math.max(0, -onHand));
      const kept = m.quantity - owed;
      // What was owed went out long ago: it costs what this one does.
      cost += owed * each;
      costFifo += owed * each;
      worth = (onHand > EPS ? worth : 0) + kept * each;
      onHand += m.quantity;
      average = onHand > EPS ? worth / onHand : each;
      if (kept > EPS) {
        layers.push({ left: kept, each });
        lots.push({ lot: m.lot ?? null, expires: m.expires ?? null, since: m.day, left: kept });
      }
      continue;
    }
    const out = Math.min(-m.quantity, Math.max(0, onHand));
    cost += out * (average ?? 0);
    worth -= out * (average ?? 0);
    onHand += m.quantity;
    costFifo += takeLayers(layers, out);
    takeLots(lots, out);
  }
  return {
    onHand,
    lots: lots.sort(byExpiry),
    average,
    worth: onHand > EPS ? worth : 0,
    worthFifo: layers.reduce((sum, l) => sum + l.left * l.each, 0),
    cost,
    costFifo,
  };
}

const byExpiry = (a: LotLeft, b: LotLeft) =>
  (a.expires ?? '9999').localeCompare(b.expires ?? '9999') || a.since.localeCompare(b.since);

function takeLayers(layers: { left: number; each: number }[], quantity: number): number {
  let cost = 0;
  while (quantity > EPS && layers.length > 0) {
    const first = layers[0]!;
    const taken = Math.min(first.left, quantity);
    cost += taken * first.each;
    first.left -= taken;
    quantity -= taken;
    if (first.left <= EPS) layers.shift();
  }
  return cost;
}

function takeLots(lots: LotLeft[], quantity: number): void {
  while (quantity > EPS && lots.length > 0) {
    let at = 0;
    for (let i = 1; i < lots.length; i++) if (byExpiry(lots[i]!, lots[at]!) < 0) at = i;
    const taken = Math.min(lots[at]!.left, quantity);
    lots[at]!.left -= taken;
    quantity -= taken;
    if (lots[at]!.left <= EPS) lots.splice(at, 1);
  }
}

/** How much of what lies there may not be used any more on a day. */
export const expiredOn = (lots: readonly LotLeft[], day: Day): number =>
  lots.reduce((sum, l) => sum + (l.expires !== null && l.expires < day ? l.left : 0), 0);

const YEAR_DAYS = 365;
/** A ledger of fewer days says nothing of a year. */
const LEAST_DAYS = 90;

/** How a part's money lies: what is tied up, how often it turned over in a year, and whether it is dead. */
export interface PartWorth {
  worthMinor: number;
  worthFifoMinor: number;
  /** Cost of what was used in a year over what is tied up; null when nothing is, or the ledger is too young to say. */
  turns: number | null;
  lastUsed: Day | null;
  /** Some lies there, and none was used within a year. */
  dead: boolean;
}

/**
 * The money in a part, over one ledger a base.
 *
 * @param year the days that count: the year up to today
 */
export function partWorth(
  shelves: readonly (readonly ShelfMovement[])[],
  fallback: number | null,
  { from, to }: { from: Day; to: Day },
): PartWorth {
  let worth = 0;
  let fifo = 0;
  let usedMinor = 0;
  let onHand = 0;
  let last: Day | null = null;
  let first: Day | null = null;
  for (const movements of shelves) {
    const state = replayShelf(movements, fallback);
    worth += state.worth;
    fifo += state.worthFifo;
    onHand += Math.max(0, state.onHand);
    for (const m of movements) {
      if (first === null || m.day < first) first = m.day;
      if (!m.used) continue;
      if (m.day >= from) usedMinor += -m.quantity * (state.average ?? fallback ?? 0);
      if (m.quantity < 0 && (last === null || m.day > last)) last = m.day;
    }
  }
  const known = first === null ? 0 : dayNumber(to) - dayNumber(first);
  return {
    worthMinor: Math.round(worth),
    worthFifoMinor: Math.round(fifo),
    turns: worth > EPS && known >= LEAST_DAYS ? (usedMinor / worth) * (YEAR_DAYS / Math.min(YEAR_DAYS, known)) : null,
    lastUsed: last,
    // What came within the year had no year to be used in.
    dead: onHand > EPS && (last === null || last < from) && first !== null && first < from,
  };
}
