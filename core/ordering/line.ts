import { stockWithout } from './price.ts';
import type { OrderOffer, OrderProblem } from './problem.ts';

/** An offer as the computation wants it. */
export interface LineOffer {
  /** Its place in the problem. */
  index: number;
  /** Of its supplier in the problem. */
  supplier: number;
  pack: number;
  /** Steps of the line's unit in a pack. */
  steps: number;
  tiers: { packs: number; price: number }[];
  /** No break makes a pack dearer. */
  falls: boolean;
}

/** A day on which an offer could be taken, and at which price. */
export interface Chance {
  offer: LineOffer;
  day: number;
  arrival: number;
  /** Of its price: below 1 where an order should be made larger. */
  factor: number;
  /** Paid for a line of the order, whatever its packs. */
  fixed: number;
}

/** Packs taken of an offer on a day. */
export interface Buy {
  offer: LineOffer;
  day: number;
  packs: number;
}

/** More levels than this are put on a coarser unit. */
const MOST_LEVELS = 900;
/** Packs beyond the last break that are still thought of. */
const SPARE_PACKS = 2;

const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));
/** Packs are kept to a thousandth. */
const FINE = 1000;

/** Room the computation uses again and again: the lines of a problem share it. */
export class Room {
  now = new Float64Array(0);
  next = new Float64Array(0);
  from = new Int32Array(0);
  best = new Float64Array(0);
  bestAt = new Int32Array(0);
  #table = new Float64Array(0);

  /** Of whoever asks last. */
  tableOf(size: number): Float64Array {
    if (this.#table.length < size) this.#table = new Float64Array(size);
    return this.#table;
  }

  fit(levels: number, chances: number, steps: number): void {
    if (this.now.length < levels) {
      this.now = new Float64Array(levels);
      this.next = new Float64Array(levels);
    }
    if (this.from.length < levels * chances) this.from = new Int32Array(levels * chances * 2);
    if (this.best.length < steps) {
      this.best = new Float64Array(steps);
      this.bestAt = new Int32Array(steps);
    }
  }
}

/**
 * One part's purchases by themselves: given the days on which which offer may be taken, the packs that cost least with
 * holding, shortage and what is left counted. A dynamic program over the days of arrival and the units bought so far,
 * exact for all-units price breaks and owed stock. Where packs of two offers have no common measure that is coarse
 * enough, units are rounded: to the nearest for a plan, which is priced exactly afterwards; for a bound up, with what
 * holding and shortage cost at least whichever stock it was, so that it stays below any plan.
 */
export class ItemLine {
  readonly offers: LineOffer[];
  readonly days: number;
  readonly #holding: number;
  readonly #short: number;
  readonly #end: number;
  readonly #stock: Float64Array;
  /** What one level stands for. */
  #unit = 1;
  /** Levels are 0 .. `#most`. */
  #most = 0;
  /** Share of what was bought that rounding up may have added. */
  #added = 0;
  /** Days up to each on which something is taken out. */
  readonly #wanted: Int32Array;
  readonly #room: Room;
  #keep = false;
  #table: Float64Array | null = null;

  /** @param how `bound`: never above what a plan costs */
  private constructor(
    problem: OrderProblem,
    item: number,
    offers: LineOffer[],
    room: Room,
    how: { bound?: boolean } = {},
  ) {
    const it = problem.items[item]!;
    this.days = problem.days;
    this.#holding = it.holdingPerDay;
    this.#short = it.shortPerDay;
    this.#end = it.endValue;
    this.#stock = stockWithout(it, problem.days);
    this.#wanted = new Int32Array(problem.days + 1);
    for (let d = 0; d < problem.days; d++) this.#wanted[d + 1] = this.#wanted[d]! + (it.need[d]! > 0 ? 1 : 0);
    this.#room = room;
    this.offers = offers;
    this.#measure(how.bound ?? false);
  }

  /** The lines of all parts, in their order. @param how `bound`: never above what a plan costs */
  static all(problem: OrderProblem, how: { bound?: boolean } = {}): ItemLine[] {
    const room = new Room();
    const supplierAt = new Map(problem.suppliers.map((s, i) => [s.id, i]));
    const offers = new Map<string, LineOffer[]>(problem.items.map((i) => [i.id, []]));
    problem.offers.forEach((o, index) => {
      offers.get(o.item)!.push(lineOffer(o, index, supplierAt.get(o.supplier)!));
    });
    return problem.items.map((item, i) => new ItemLine(problem, i, offers.get(item.id)!, room, how));
  }

  /** Its table of costs is kept from now on: for who asks often and has the room. */
  keep(): void {
    this.#keep = true;
  }

  /** Chooses what a level stands for. */
  #measure(bound: boolean): void {
    if (this.offers.length === 0) return;
    let lowest = 0;
    for (const s of this.#stock) lowest = Math.min(lowest, s);
    const spare = Math.max(...this.offers.map((o) => o.pack * (o.tiers.at(-1)!.packs + SPARE_PACKS)));
    const range = -lowest + spare;
    const common = this.offers.map((o) => Math.round(o.pack * FINE)).reduce((a, b) => gcd(a, b)) / FINE;
    if (range / common <= MOST_LEVELS || this.offers.length === 1) {
      this.#unit = common;
      for (const o of this.offers) o.steps = Math.round(o.pack / common);
    } else this.#round(range, bound);
    this.#most = Math.ceil(range / this.#unit);
  }

  /** The unit on which packs lose least by rounding. */
  #round(range: number, bound: boolean): void {
    const least = Math.min(...this.offers.map((o) => o.pack));
    let lost = Infinity;
    const from = Math.max(1, Math.floor((least / range) * (MOST_LEVELS / 4)));
    for (let n = from; n <= from * 4 + 4; n++) {
      const unit = least / n;
      const steps = this.offers.map((o) => {
        const exact = o.pack / unit;
        return Math.max(1, bound ? Math.ceil(exact - 1e-9) : Math.round(exact));
      });
      const off = Math.max(...this.offers.map((o, i) => Math.abs((steps[i]! * unit) / o.pack - 1)));
      if (off >= lost - 1e-12) continue;
      lost = off;
      this.#unit = unit;
      this.offers.forEach((o, i) => (o.steps = steps[i]!));
    }
    this.#added = bound ? lost / (1 + lost) : 0;
  }

  /** Whether an arrival serves a day before the one after it, or owed since the one before it. */
  wants(before: number, after: number): boolean {
    const wanted = this.#wanted;
    return wanted[Math.min(after, this.days)]! > wanted[Math.min(before + 1, this.days)]!;
  }

  /** What a part costs without any order. */
  get alone(): number {
    return this.price([]);
  }

  /** Goods, holding, shortage less what is left, exactly, of purchases. */
  price(buys: readonly Buy[], arrival?: (buy: Buy) => number): number {
    let cost = 0;
    const arrives = new Float64Array(this.days);
    for (const buy of buys) {
      cost += goodsOfBuy(buy);
      arrives[arrival!(buy)]! += buy.packs * buy.offer.pack;
    }
    let more = 0;
    for (let d = 0; d < this.days; d++) {
      more += arrives[d]!;
      const left = this.#stock[d]! + more;
      cost += left > 0 ? left * this.#holding : -left * this.#short;
      if (d === this.days - 1) cost -= left * this.#end;
    }
    return cost;
  }

  /** Holding and shortage of the days before d with so many levels bought from the start, row after row of days. */
  #costs(): Float64Array {
    if (this.#table) return this.#table;
    const width = this.#most + 1;
    const table = this.#keep ? new Float64Array(this.size) : this.#room.tableOf(this.size);
    table.fill(0, 0, width);
    for (let d = 0; d < this.days; d++) {
      const stock = this.#stock[d]!;
      const row = d * width;
      for (let l = 0; l < width; l++) {
        const bought = l * this.#unit;
        const left = stock + bought;
        const held = left - bought * this.#added;
        table[row + width + l] =
          table[row + l]! + (held > 0 ? held * this.#holding : 0) + (left < 0 ? -left * this.#short : 0);
      }
    }
    if (this.#keep) this.#table = table;
    return table;
  }

  /**
   * The purchases that cost least.
   *
   * @param chances in the order of their arrival
   * @returns what they cost by the chances' prices; exact where packs have a common measure, else about or below
   */
  best(chances: readonly Chance[]): { cost: number; buys: Buy[] } {
    const width = this.#most + 1;
    const room = this.#room;
    room.fit(width, chances.length, Math.max(1, ...this.offers.map((o) => o.steps)));
    const table = this.#costs();
    room.now.fill(Infinity, 0, width);
    room.now[0] = 0;
    let day = 0;
    const pass = (to: number) => {
      const { now } = room;
      const a = day * width;
      const b = to * width;
      for (let l = 0; l < width; l++) if (now[l]! < Infinity) now[l]! += table[b + l]! - table[a + l]!;
      day = to;
    };
    chances.forEach((chance, j) => {
      if (chance.arrival > day) pass(chance.arrival);
      this.#take(chance, j * width);
    });
    pass(this.days);
    const last = this.days > 0 ? this.#stock[this.days - 1]! : 0;
    let cost = Infinity;
    let at = 0;
    for (let l = 0; l < width; l++) {
      const c = room.now[l]! - (last + l * this.#unit) * this.#end;
      if (c < cost) {
        cost = c;
        at = l;
      }
    }
    const buys: Buy[] = [];
    for (let j = chances.length - 1; j >= 0; j--) {
      const before = room.from[j * width + at]!;
      if (before < 0) continue;
      const { offer, day: on } = chances[j]!;
      buys.push({ offer, day: on, packs: Math.round((at - before) / offer.steps) });
      at = before;
    }
    return { cost, buys };
  }

  /** Each level after a chance: without it, or from a lower one by so many packs. */
  #take({ offer, factor, fixed }: Chance, row: number): void {
    const { now, next, from, best, bestAt } = this.#room;
    const width = this.#most + 1;
    const { steps, tiers } = offer;
    for (let l = 0; l < width; l++) {
      next[l] = now[l]!;
      from[row + l] = -1;
    }
    tiers.forEach((tier, t) => {
      const price = tier.price * factor;
      if (!offer.falls) {
        // A dearer break: only as many packs as stay within it.
        const above = tiers[t + 1]?.packs ?? Infinity;
        for (let l = tier.packs * steps; l < width; l++)
          for (let packs = tier.packs; packs < above && packs * steps <= l; packs++) {
            const c = now[l - packs * steps]! + packs * price + fixed;
            if (c < next[l]!) {
              next[l] = c;
              from[row + l] = l - packs * steps;
            }
          }
        return;
      }
      const each = price / steps;
      best.fill(Infinity, 0, steps);
      let rest = 0;
      for (let l = tier.packs * steps; l < width; l++) {
        const l0 = l - tier.packs * steps;
        const c0 = now[l0]! - l0 * each;
        if (c0 < best[rest]!) {
          best[rest] = c0;
          bestAt[rest] = l0;
        }
        const c = best[rest]! + l * each + fixed;
        if (c < next[l]! - 1e-12) {
          next[l] = c;
          from[row + l] = bestAt[rest]!;
        }
        if (++rest === steps) rest = 0;
      }
    });
    this.#room.now = next;
    this.#room.next = now;
  }

  /** Numbers its table takes. */
  get size(): number {
    return (this.days + 1) * (this.#most + 1);
  }
}

function lineOffer(offer: OrderOffer, index: number, supplier: number): LineOffer {
  const tiers = offer.breaks;
  return {
    index,
    supplier,
    pack: offer.pack,
    steps: 1,
    tiers,
    falls: tiers.every((t, i) => i === 0 || t.price <= tiers[i - 1]!.price),
  };
}

/** Money of a purchase by the break it reaches. */
export function goodsOfBuy({ offer, packs }: Buy): number {
  let price = offer.tiers[0]!.price;
  for (const t of offer.tiers) if (packs >= t.packs) price = t.price;
  return price * packs;
}
