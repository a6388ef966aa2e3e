import type { PlanProblem } from '@diurna/core/planner';
import { seeded, type Random } from './random.ts';

/** Kinds of work: share of engines that have it due, minutes, unattended minutes, access, part (quantity). */
const KINDS: {
  kind: string;
  share: number;
  hands: [number, number];
  wait: number;
  access: string[];
  part: string | null;
  perModel: boolean;
  lift: boolean;
}[] = [
  {
    kind: 'engine-oil',
    share: 0.72,
    hands: [22, 30],
    wait: 25,
    access: ['cowl'],
    part: 'oil',
    perModel: false,
    lift: false,
  },
  {
    kind: 'oil-filter',
    share: 0.62,
    hands: [8, 12],
    wait: 0,
    access: ['cowl'],
    part: 'oil-filter',
    perModel: true,
    lift: false,
  },
  {
    kind: 'gear-lube',
    share: 0.72,
    hands: [18, 24],
    wait: 20,
    access: ['tilt'],
    part: 'gear-lube',
    perModel: false,
    lift: false,
  },
  { kind: 'plugs', share: 0.66, hands: [18, 30], wait: 0, access: ['cowl'], part: 'plug', perModel: true, lift: false },
  {
    kind: 'impeller',
    share: 0.7,
    hands: [45, 58],
    wait: 0,
    access: ['tilt', 'lower unit'],
    part: 'pump-kit',
    perModel: true,
    lift: true,
  },
  {
    kind: 'fuel-filter',
    share: 0.66,
    hands: [10, 20],
    wait: 0,
    access: ['cowl'],
    part: 'fuel-filter',
    perModel: true,
    lift: false,
  },
  {
    kind: 'anodes',
    share: 0.64,
    hands: [12, 16],
    wait: 0,
    access: ['tilt'],
    part: 'anode',
    perModel: true,
    lift: false,
  },
  {
    kind: 'grease',
    share: 0.66,
    hands: [10, 16],
    wait: 0,
    access: ['propeller'],
    part: null,
    perModel: false,
    lift: false,
  },
];
const ENGINES_PER_BOAT = 1.27;
const BOATS_PER_BASE = 24;
const TECHNICIANS_PER_BASE = 3;
const ENGINES_PER_MODEL = 9;

/**
 * Invented plan problems of any size, with the grain of a hire fleet: gaps early and late, turnover days, short parts,
 * people who move.
 */
export function planProblem(seed: number, boatCount: number, days: number): PlanProblem {
  const random = seeded(seed * 7919 + boatCount * 31 + days);
  const round = (x: number) => Math.round(x * 100) / 100;
  const baseCount = Math.max(1, Math.round(boatCount / BOATS_PER_BASE));
  const models = Math.max(3, Math.round((boatCount * ENGINES_PER_BOAT) / ENGINES_PER_MODEL));
  const weekend = random.whole(0, 6);
  const bases = Array.from({ length: baseCount }, (_, b) => ({
    id: `base-${b}`,
    liftSlots: Array.from({ length: days }, () => random.whole(1, 2)),
  }));
  const technicians = bases.flatMap((base, b) =>
    Array.from({ length: TECHNICIANS_PER_BASE }, (_, k) => {
      const moves = k === 2 && baseCount > 1 && random.chance(0.35);
      const other = bases[(b + 1) % baseCount]!.id;
      const able = k < 2 || random.chance(0.2);
      return {
        id: `technician-${b}-${k}`,
        base: moves ? Array.from({ length: days }, (__, d) => (d % 14 < 9 ? base.id : other)) : base.id,
        skills: able ? ['lower unit'] : [],
        shift: Array.from({ length: days }, (__, d) =>
          (d + weekend) % 7 >= 5 || random.chance(0.06) ? null : { from: 450, to: 960 },
        ),
        overtime: Array.from({ length: days }, () => (random.chance(0.6) ? 60 : 0)),
        ratePerHour: able ? 48 : 36,
        overtimeFactor: 1.5,
        pace: random.chance(0.55) ? 1 : round(random.between(1, 1.4)),
      };
    }),
  );
  const boats = Array.from({ length: boatCount }, (_, i) => ({
    id: `boat-${i}`,
    base: bases[i % baseCount]!.id,
    free: random.chance(0.35) ? turnovers(random, days, weekend) : dayHires(random, days),
  }));
  const demand = new Map<string, number>();
  const engines: PlanProblem['engines'] = [];
  const tasks: PlanProblem['tasks'] = [];
  for (const boat of boats) {
    const count = random.chance(ENGINES_PER_BOAT - 1) ? 2 : 1;
    const model = random.whole(0, models - 1);
    for (let e = 0; e < count; e++) {
      const engine = {
        id: `${boat.id}/${e}`,
        boat: boat.id,
        access: { cowl: random.whole(5, 14), tilt: 5, propeller: 10, 'lower unit': random.pick([35, 45, 55]) },
      };
      engines.push(engine);
      for (const k of KINDS) {
        if (!random.chance(k.share)) continue;
        const part = k.part === null ? null : k.perModel ? `${k.part} ${model}` : k.part;
        const quantity = k.kind === 'plugs' ? 4 : k.kind === 'engine-oil' ? random.whole(3, 6) : 1;
        if (part) demand.set(part, (demand.get(part) ?? 0) + quantity);
        const due = random.whole(-6, Math.round(days * 1.25));
        const early = random.between(0.2, 0.9);
        const late = random.between(4, 24);
        const dayCost = Array.from({ length: days }, (_, d): number | null =>
          round(d <= due ? 1 + early * (due - d) : 1 + late * (d - due)),
        );
        // Now and then the limit is hard: null from some day on.
        if (random.chance(0.03)) for (let d = Math.max(0, due + 4); d < days; d++) dayCost[d] = null;
        tasks.push({
          id: `${engine.id} ${k.kind}`,
          engine: engine.id,
          kind: k.kind,
          handsOn: random.whole(...k.hands),
          wait: k.wait,
          access: k.access,
          skills: k.lift ? ['lower unit'] : [],
          needsLift: k.lift,
          dayCost,
          skipCost: round(due < days ? late * (days - due) * 1.3 + 30 : random.between(20, 45)),
          parts: part ? { [part]: quantity } : {},
        });
      }
    }
  }
  const parts = [...demand].map(([id, wanted]) => {
    const supply = new Array<number>(days).fill(0);
    const total = Math.round(wanted * random.between(0.75, 1.3));
    supply[0] = Math.round(total * random.between(0.3, 0.7));
    supply[random.whole(2, Math.max(2, days - 4))]! += total - supply[0];
    return { id, supply };
  });
  return {
    format: 'diurna-plan-problem',
    version: 1,
    name: `seed ${seed}, ${boatCount} boats, ${days} days`,
    days,
    visit: { setupMinutes: 15 },
    bases,
    technicians,
    boats,
    engines,
    tasks,
    parts,
    pinned: [],
  };
}

/** A boat hired by the week: at base on some turnover days, and now and then for a week. */
function turnovers(random: Random, days: number, weekend: number): PlanProblem['boats'][number]['free'] {
  return Array.from({ length: days }, (_, d) => {
    const turn = (d + weekend) % 7 === 4;
    if (turn && random.chance(0.9))
      return [{ from: random.pick([540, 600, 720]), to: random.pick([840, 960, 1140]), idleCost: 0 }];
    return random.chance(0.14) ? [{ from: 420, to: 1140, idleCost: random.whole(20, 160) }] : [];
  });
}

/** A boat hired by the day: free early and late, or all day at the price of a hire. */
function dayHires(random: Random, days: number): PlanProblem['boats'][number]['free'] {
  return Array.from({ length: days }, () => {
    const kind = random.next();
    if (kind < 0.45)
      return [
        { from: 420, to: 540, idleCost: 0 },
        { from: 990, to: 1140, idleCost: 0 },
      ];
    if (kind < 0.6) return [{ from: 420, to: 750, idleCost: 0 }];
    return kind < 0.94 ? [{ from: 420, to: 1140, idleCost: random.whole(20, 95) }] : [];
  });
}
