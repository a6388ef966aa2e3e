import { serialInRange, serialRangeText, type SerialRange } from './serial.ts';
import type { BuiltEngine, KnownTraits } from './traits.ts';

/** What height of transom an engine is made for. */
export const TRANSOMS = ['short', 'long', 'extra long', 'ultra long'] as const;
export type Transom = (typeof TRANSOMS)[number];

/** Heights they stand for, in inches. Common practice, no source. */
const TRANSOM_INCHES: Record<Transom, number> = { short: 15, long: 20, 'extra long': 25, 'ultra long': 30 };

/** "long, 20 in (508 mm)". */
export const transomText = (transom: Transom): string =>
  `${transom}, ${TRANSOM_INCHES[transom]} in (${Math.round(TRANSOM_INCHES[transom] * 25.4)} mm)`;

/** An engine as it is told from others of its model; null = nobody looked at its transom. */
export interface SoldAs {
  serial: string;
  transom: Transom | null;
}

/** Some engines of a model: those of a range of serials, of a transom, or both; null = any. */
export interface SomeEngines extends SerialRange {
  transom?: Transom | null | undefined;
}

/** Whether an engine is one of them; of a transom nobody looked at it is not known to be. */
export const isAmong = (engine: SoldAs, some: SomeEngines): boolean =>
  serialInRange(engine.serial, some) && (some.transom == null || some.transom === engine.transom);

/** "from C60-40117", "long transom", "C60-1 to C60-5, long transom", or "all serials". */
export function someEnginesText(some: SomeEngines): string {
  if (some.transom == null) return serialRangeText(some);
  const word = `${some.transom} transom`;
  return some.from === null && some.to === null ? word : `${serialRangeText(some)}, ${word}`;
}

/** How some engines of a model are built otherwise than the rest. */
export interface Variant extends SomeEngines {
  transom: Transom | null;
  traits: KnownTraits;
}

/** A model as one of its engines is built: what its serial and transom change stands before the model's own traits. */
export function builtAs<M extends BuiltEngine>(
  model: M & { variants?: readonly Variant[] | null | undefined },
  engine: SoldAs,
): M {
  const own = (model.variants ?? []).filter((v) => isAmong(engine, v));
  if (own.length === 0) return model;
  return { ...model, traits: own.reduce<KnownTraits>((all, v) => ({ ...all, ...v.traits }), model.traits ?? {}) };
}
