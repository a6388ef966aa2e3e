import { addDays, dayNumber, type Day } from '../calendar/index.ts';

/** How a battery is built: its acid can be looked at, or it is sealed. */
export const BATTERY_KINDS = ['flooded', 'sealed'] as const;
export type BatteryKind = (typeof BATTERY_KINDS)[number];

/**
 * Volts of a rested 12 V lead battery at 80 °F (26.7 °C) against its charge in per cent. Source: the open-circuit
 * voltage tables of Battery Council International, as battery makers print them (from memory).
 */
const REST_VOLTS: Record<BatteryKind, readonly (readonly [volts: number, percent: number])[]> = {
  flooded: [
    [11.89, 0],
    [12.06, 25],
    [12.24, 50],
    [12.45, 75],
    [12.65, 100],
  ],
  sealed: [
    [11.8, 0],
    [12.0, 25],
    [12.3, 50],
    [12.6, 75],
    [12.8, 100],
  ],
};

/** Volts of a full battery at other temperatures (°F) against those at 80 °F. Same tables, from memory. */
const BY_FAHRENHEIT: readonly (readonly [fahrenheit: number, volts: number])[] = [
  [0, -0.134],
  [10, -0.108],
  [20, -0.084],
  [30, -0.062],
  [40, -0.044],
  [50, -0.028],
  [60, -0.016],
  [70, -0.007],
  [80, 0],
  [90, 0.005],
  [100, 0.008],
  [110, 0.011],
  [120, 0.013],
];

function between(table: readonly (readonly [number, number])[], x: number): number {
  const next = table.findIndex(([at]) => at >= x);
  if (next === 0) return table[0]![1];
  if (next < 0) return table.at(-1)![1];
  const [[x0, y0], [x1, y1]] = [table[next - 1]!, table[next]!];
  return y0 + ((y1 - y0) * (x - x0)) / (x1 - x0);
}

/** Per cent of charge, 0 to 100, of a rested 12 V lead battery. */
export function stateOfCharge(volts: number, kind: BatteryKind, celsius: number | null): number {
  const cold = celsius === null ? 0 : between(BY_FAHRENHEIT, (celsius * 9) / 5 + 32);
  return Math.round(between(REST_VOLTS[kind], volts - cold));
}

/** Hours without charge or load before volts mean anything. Common practice, no source. */
export const REST_HOURS = 4;
/**
 * Below so many per cent a battery is charged: from there on it sulphates, and a weak one freezes. Common practice, no
 * source.
 */
export const CHARGE_BELOW = 75;
/** A battery on the shelf is looked at every so many days, at the latest. Common practice, no source. */
export const ROUND_DAYS = { shelf: 28, charger: 28 } as const;

/** A look at a battery in store. */
export interface BatteryLook {
  day: Day;
  /** Rested volts; null = only its charger's lamp was looked at. */
  volts: number | null;
  celsius: number | null;
  /** Hours since charge or load; null = nobody knows. */
  restedHours: number | null;
  kind: BatteryKind;
  /** It was put on charge then. */
  charged: boolean;
}

export type BatteryVerdict = 'fine' | 'charge' | 'replace' | 'measure again' | 'not looked at';
export interface BatteryState {
  verdict: BatteryVerdict;
  percent: number | null;
  /** When it is next looked at. */
  nextLook: Day;
  overdueDays: number;
}

/** What the looks at one battery say. @param looks the newest first @param since when it was put in store */
export function batteryState(looks: readonly BatteryLook[], since: Day, today: Day): BatteryState {
  const last = looks[0];
  const nextLook = addDays(last?.day ?? since, ROUND_DAYS.shelf);
  const overdueDays = Math.max(0, dayNumber(today) - dayNumber(nextLook));
  if (!last) return { verdict: 'not looked at', percent: null, nextLook, overdueDays };
  if (last.volts === null) return { verdict: 'fine', percent: null, nextLook, overdueDays };
  const percentOf = (look: BatteryLook) =>
    look.volts === null ? null : stateOfCharge(look.volts, look.kind, look.celsius);
  const percent = percentOf(last);
  if (last.restedHours !== null && last.restedHours < REST_HOURS)
    return {
      verdict: 'measure again',
      percent,
      nextLook: last.day > today ? last.day : addDays(last.day, 1),
      overdueDays,
    };
  if (percent! >= CHARGE_BELOW) return { verdict: 'fine', percent, nextLook, overdueDays };
  // Low again although it was charged the last time: it does not hold any more.
  const before = looks.slice(1).find((l) => l.volts !== null);
  const again = before?.charged === true && percentOf(before)! < CHARGE_BELOW;
  return { verdict: again ? 'replace' : last.charged ? 'fine' : 'charge', percent, nextLook, overdueDays };
}
