import { goodsOfBuy, ItemLine, type Chance } from './line.ts';
import type { OrderProblem } from './problem.ts';

/** So much is taken off for what adding up loses. */
const SAFE = 1e-9;
/** Steps without a better bound before they become shorter. */
const PATIENCE = 6;

interface Slot {
  carriage: number;
  /** Goods value from which it is waived; Infinity = never. */
  freeFrom: number;
  /** What of the carriage is counted: where it may be waived, the goods look cheaper by this at `freeFrom`. */
  counted: number;
  /** Parts that may be on it. */
  parts: number;
}

/**
 * A lower bound of what any plan costs: each order's carriage is shared out among the parts that could be on it, then
 * every part buys by itself (Lagrangian relaxation of "no part without its order"; Fisher 1981, from memory). The
 * shares follow who was on it and who was not. Where a carriage K is waived from a goods value F on, some r of it is
 * counted, and goods are taken as cheaper by r / F: r - r x goods / F is never above what is paid, for any r up to K.
 * How
 * much is counted follows whether the orders would be free.
 */
export class OrderBound {
  readonly #lines: ItemLine[];
  readonly #slots: Slot[] = [];
  readonly #chances: { chance: Chance; slot: number }[][];
  #step = 1;
  #worse = 0;
  /** The best bound so far. */
  value = -Infinity;

  constructor(problem: OrderProblem) {
    this.#lines = ItemLine.all(problem, { bound: true });
    for (const line of this.#lines) line.keep();
    const slots = new Map<number, number>();
    this.#chances = this.#lines.map((line) =>
      line.offers
        .flatMap((offer) => {
          const supplier = problem.suppliers[offer.supplier]!;
          return supplier.orderOn.flatMap((on, day) => {
            const arrival = day + supplier.leadDays;
            if (!on || arrival >= problem.days) return [];
            const key = offer.supplier * problem.days + day;
            if (!slots.has(key)) {
              slots.set(key, this.#slots.length);
              const freeFrom = supplier.freeFrom ?? Infinity;
              // What costs nothing is never waived; more than the goods from which it is waived is not counted.
              const carriage = Math.min(supplier.carriage, freeFrom);
              const waived = freeFrom < Infinity && carriage > 0;
              this.#slots.push({
                carriage,
                freeFrom: waived ? freeFrom : Infinity,
                counted: waived ? 0 : carriage,
                parts: 0,
              });
            }
            const slot = slots.get(key)!;
            this.#slots[slot]!.parts++;
            return [{ chance: { offer, day, arrival, factor: 1, fixed: 0 }, slot }];
          });
        })
        .sort((a, b) => a.chance.arrival - b.chance.arrival),
    );
    for (const own of this.#chances)
      for (const { chance, slot } of own) chance.fixed = this.#slots[slot]!.counted / this.#slots[slot]!.parts;
  }

  /** One round of sharing. @param goal cost of the best plan known @returns the best bound so far */
  round(goal: number): number {
    const shares = new Float64Array(this.#slots.length);
    const goods = new Float64Array(this.#slots.length);
    for (const own of this.#chances) for (const { chance, slot } of own) shares[slot]! += chance.fixed;
    let bound = 0;
    const on: Uint8Array[] = [];
    this.#lines.forEach((line, i) => {
      const own = this.#chances[i]!;
      const { cost, buys } = line.best(own.map((c) => c.chance));
      bound += cost;
      const taken = new Map(buys.map((b) => [`${b.offer.index} ${b.day}`, b]));
      on.push(
        Uint8Array.from(own, ({ chance, slot }) => {
          const buy = taken.get(`${chance.offer.index} ${chance.day}`);
          if (buy) goods[slot]! += goodsOfBuy(buy);
          return buy ? 1 : 0;
        }),
      );
    });
    this.#slots.forEach((slot, s) => {
      bound += Math.min(0, slot.counted - shares[s]!);
    });
    bound -= SAFE * Math.abs(bound);
    if (bound > this.value + 1e-9 * Math.abs(this.value)) this.#worse = 0;
    else if (++this.#worse >= PATIENCE) {
      this.#step *= 0.6;
      this.#worse = 0;
    }
    this.value = Math.max(this.value, bound);
    this.#share({ shares, goods, on }, goal - bound);
    return this.value;
  }

  /** Whoever was on an order pays more of it, who was not less: a step along the gradient. */
  #share({ shares, goods, on }: { shares: Float64Array; goods: Float64Array; on: Uint8Array[] }, gap: number): void {
    let norm = 0;
    // Whether an order is placed where its shares are as much as it costs is open: with goods on it, it is.
    const placed = Uint8Array.from(this.#slots, (slot, s) =>
      shares[s]! > slot.counted + 1e-9 || (shares[s]! > slot.counted - 1e-9 && goods[s]! > 0) ? 1 : 0,
    );
    const counted = Float64Array.from(this.#slots, (slot, s) => {
      if (slot.freeFrom === Infinity) return 0;
      const g = placed[s]! - goods[s]! / slot.freeFrom;
      const stays = (g < 0 && slot.counted <= 0) || (g > 0 && slot.counted >= slot.carriage);
      norm += stays ? 0 : g * g;
      return stays ? 0 : g;
    });
    const slope = this.#chances.map((own, i) =>
      Float64Array.from(own, ({ chance, slot }, k) => {
        const g = on[i]![k]! - placed[slot]!;
        // A share of nothing cannot become less.
        const moved = g < 0 && chance.fixed <= 0 ? 0 : g;
        norm += moved * moved;
        return moved;
      }),
    );
    if (norm === 0) return;
    const step = (this.#step * Math.max(gap, 1e-6)) / norm;
    this.#slots.forEach((slot, s) => {
      slot.counted = Math.min(slot.carriage, Math.max(0, slot.counted + step * counted[s]!));
    });
    this.#chances.forEach((own, i) => {
      own.forEach(({ chance, slot }, k) => {
        chance.fixed = Math.max(0, chance.fixed + step * slope[i]![k]!);
        const { counted: part, freeFrom } = this.#slots[slot]!;
        chance.factor = freeFrom === Infinity ? 1 : 1 - part / freeFrom;
      });
    });
  }
}
