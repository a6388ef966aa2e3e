/**
 * What can be open on an engine, each in the words of the yard. Whole until a step opens it, open until a step closes
 * it. An order of work is safe when no step meets an engine it must not meet. Common practice, no source; the engine
 * maker's manual outranks it.
 */
export const FACTS = {
  'sump oil': { open: 'the sump is empty', shared: false },
  'drain screw': { open: 'the drain screw is out', shared: false },
  'fill cap': { open: 'the fill cap is off', shared: false },
  dipstick: { open: 'the dipstick is out', shared: false },
  'oil filter': { open: 'the oil filter is off', shared: false },
  'gear oil': { open: 'the gear case is empty or open', shared: false },
  'gear seals': { open: 'the gear-case seals are out', shared: false },
  gears: { open: 'the gear case is in pieces', shared: false },
  'lower unit': { open: 'the lower unit is off', shared: false },
  'water pump': { open: 'the water pump is open', shared: false },
  thermostat: { open: 'the thermostat housing is open', shared: false },
  cylinders: { open: 'plugs are out', shared: false },
  'fuel filter': { open: 'the fuel filter is off', shared: true },
  'fuel separator': { open: 'the fuel separator is off', shared: true },
  'fuel system': { open: 'the fuel system is open', shared: true },
  'fuel bowls': { open: 'the bowls are open', shared: true },
  'fuel to run on': { open: 'the bowls are empty', shared: false },
  bores: { open: 'the bores are fogged', shared: false },
  'cooling passages': { open: 'antifreeze stands in the cooling passages', shared: false },
  battery: { open: 'the battery is out', shared: true },
  // Opened by what was read, not by a step.
  'water in case': { open: 'water has come into the gear case', shared: false },
  'wear in case': { open: 'the gears are wearing', shared: false },
  'piece missing': { open: 'a piece of the old impeller is missing', shared: false },
  'fuel leak': { open: 'fuel leaks under the cowl', shared: true },
  'oil pressure': { open: 'the oil-pressure light was lit', shared: false },
  propeller: { open: 'the propeller is off', shared: false },
  'oil level': { open: 'the level after the run is not read yet', shared: false },
  cowl: { open: 'the cowl is off', shared: false },
  'side cover': { open: 'the side cover is off', shared: false },
} as const satisfies Record<string, { open: string; shared: boolean }>;

export type Fact = keyof typeof FACTS;
export const FACT_KEYS = Object.keys(FACTS) as Fact[];

/** A step wants a fact whole, or open: compression is taken with the plugs out. */
export type Need = Fact | `${Fact} open`;
export const NEEDS: readonly Need[] = FACT_KEYS.flatMap((f): Need[] => [f, `${f} open`]);
/** The fact a need is about, and whether it is wanted open. */
export const factOf = (need: Need): { fact: Fact; open: boolean } =>
  need.endsWith(' open') && !(need in FACTS)
    ? { fact: need.slice(0, -' open'.length) as Fact, open: true }
    : { fact: need as Fact, open: false };

/**
 * How a step turns the engine over. `early`: run before anything is opened (the warm-up, the flush); `late`: run once
 * everything is closed; `crank`: turned by the starter with the plugs out.
 */
export const TURNS = ['early', 'late', 'crank'] as const;
export type Turns = (typeof TURNS)[number];

/** Fuel is shared by all engines of a boat: vapour of one meets the spark of the other. */
const FUEL: Fact[] = ['fuel filter', 'fuel separator', 'fuel system', 'fuel bowls'];
/** What has to be whole while an engine runs. */
export const TO_RUN: readonly Fact[] = [
  'sump oil',
  'drain screw',
  'fill cap',
  'dipstick',
  'oil filter',
  'gear oil',
  'gear seals',
  'gears',
  'lower unit',
  'water pump',
  'thermostat',
  'cylinders',
  ...FUEL,
  'fuel to run on',
  'bores',
  'battery',
  'wear in case',
  'piece missing',
  'fuel leak',
  'oil pressure',
];
/** What has to be whole, and what open, while an engine is cranked for its compression. */
export const TO_CRANK: readonly Need[] = [
  'cylinders open',
  'sump oil',
  'drain screw',
  'oil filter',
  'fill cap',
  'dipstick',
  ...FUEL,
  'battery',
];

/** What a step does to its engine's state, as its template says. */
export interface StateOfStep {
  opens: readonly Fact[];
  closes: readonly Fact[];
  /** Besides what running or cranking needs. */
  needs: readonly Need[];
  turns: Turns | null;
}

/** Everything a step needs of its engine, and of the others where they share it. */
export function needsOf({ needs, turns, opens }: StateOfStep): Need[] {
  const turning: readonly Need[] = turns === null ? [] : turns === 'crank' ? TO_CRANK : TO_RUN;
  // What it opens itself is whole when it begins: bowls that are run dry.
  return [...new Set([...needs, ...turning])].filter((n) => !opens.includes(n as Fact));
}

/** What is better not left open for long while other things are done: dirt falls in, screws are mislaid. */
export const SOON_CLOSED: ReadonlySet<Fact> = new Set<Fact>([
  'sump oil',
  'drain screw',
  'oil filter',
  'gear seals',
  'gears',
  'water pump',
  'thermostat',
  'cylinders',
  'oil level',
  ...FUEL,
]);
