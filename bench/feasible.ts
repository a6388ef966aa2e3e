import { addDays } from '@diurna/core/calendar';
import { reasonsAgainst, type FeasibleDay, type WorkAsked } from '@diurna/core/feasible';
import { seeded } from '@diurna/core/random';
import { median, percentile, row } from './report.ts';

const DAYS = 28;
const PEOPLE = 12;

/** Work that is looked at on a day, with 27 more to find what would free it: hires, other cards and leave by chance. */
function askedOn(day: string, seed: number): WorkAsked {
  const random = seeded(seed);
  const days = Array.from({ length: DAYS }, (_, d): FeasibleDay => {
    const out = random.whole(420, 900);
    return {
      day: addDays(day, d),
      hand:
        random.next() < 0.3
          ? null
          : {
              baseId: random.next() < 0.8 ? 1 : 2,
              baseName: 'South Spit',
              from: 450,
              to: 960,
              hard: 1020,
              rest: { from: 690, to: 840, minutes: 30 },
            },
      others: Array.from({ length: random.whole(0, 4) }, (__, i) => ({ name: `Hand ${i}`, skills: ['lower units'] })),
      gaps:
        random.next() < 0.2
          ? []
          : [
              { from: 420, to: out },
              { from: Math.min(1139, out + 240), to: 1140 },
            ],
      liftLeft: random.whole(0, 2),
      taken: random.next() < 0.2 ? 'Reva' : null,
      busy: Array.from({ length: random.whole(0, 3) }, (__, i) => ({
        id: String(i),
        minutes: random.whole(30, 150),
        start: null,
        windows: [{ from: 420, to: 1140 }],
      })),
    };
  });
  return {
    boatName: 'Tern',
    baseId: 1,
    baseName: 'North Quay',
    person: { name: 'Ines', skills: random.next() < 0.5 ? [] : ['lower units'] },
    tasks: [{ engineName: 'Tern port', task: 'impeller' }],
    minutes: random.whole(60, 300),
    secondMinutes: 29,
    start: null,
    parts: [{ name: 'Kit', quantity: '1', free: '0', short: random.next() < 0.5, arrives: null }],
    waits: [],
    days,
  };
}

/** One work against four weeks of twelve people: every reason, and what would free it. */
export function benchFeasible(): void {
  const took: number[] = [];
  let reasons = 0;
  let asked = 0;
  for (let round = 0; round < 240; round++) {
    const all = Array.from({ length: PEOPLE }, (_, p) => askedOn('2026-04-15', round * PEOPLE + p + 1));
    const began = performance.now();
    for (const own of all)
      for (let d = 0; d < DAYS; d++) {
        reasons += reasonsAgainst({ ...own, days: own.days.slice(d) }, (day) => day).length;
        asked++;
      }
    // The first rounds compile.
    if (round >= 40) took.push(performance.now() - began);
  }
  const p95 = percentile(took, 0.95);
  row(
    `one work against ${DAYS} days x ${PEOPLE} people, all reasons, p95`,
    `${p95.toFixed(1)} ms`,
    'under 5 ms',
    p95 < 5,
    `median ${median(took).toFixed(1)} ms; ${(reasons / asked).toFixed(1)} reasons a place, each with the next day that frees it`,
  );
}
