import type { ReplyOf } from '@diurna/contract';
import type { seasonRoutes } from '@diurna/contract/season';
import { addDays, type Day } from '@diurna/core/calendar';
import { fitWeibull, type Life } from '@diurna/core/life';
import { planBackwards, type BackwardProblem, type SeasonWork } from '@diurna/core/season';
import { seeded } from '@diurna/demo/random';
import { row } from './report.ts';
import type { Visitor } from './visitor.ts';

const BOATS = 1400;
const DAYS = 90;
/** The day frost comes, and by which boats are wanted away. */
const [FROST, BY] = [55, 54];

/** A campaign of 1,400 boats that come home within five weeks: two visits each; invented. */
function campaign(people: number, seed: number): BackwardProblem {
  const random = seeded(seed);
  const rest = (day: number) => day % 7 > 4;
  const work = Array.from({ length: BOATS }, (_, i): SeasonWork[] => {
    const back = random.whole(10, 45);
    const common = { lift: false, lateADay: 0, frostADay: 0, waitADay: 0 };
    return [
      {
        ...{ ...common, id: `${i} before`, minutes: 40 + random.whole(0, 60) },
        ...{ from: Math.max(0, back - 14), until: back - 1, by: back - 1, undone: 60 },
      },
      {
        ...{ ...common, id: `${i} after`, minutes: 90 + random.whole(0, 180), lift: random.chance(0.3) },
        ...{ from: back, until: DAYS - 1, by: BY, lateADay: 6, frostADay: random.chance(0.8) ? 12 : 2 },
        ...{ waitADay: random.chance(0.05) ? 4 : 0, undone: 1500 },
      },
    ];
  }).flat();
  return {
    work,
    days: Array.from({ length: DAYS }, (_, d) => ({
      minutes: rest(d) ? 0 : people * 420 * 0.92,
      longest: rest(d) ? 0 : 420,
      lifts: rest(d) ? 0 : Math.ceil(people / 2) + 2,
    })),
    frost: FROST,
    overtime: { share: 0.25, aMinute: 0.9 },
  };
}

/** A campaign of 1,400 boats planned backwards, and a study of 20,000 lives. */
export function benchSeason(): void {
  for (const people of [14, 18]) {
    const problem = campaign(people, people);
    const began = performance.now();
    const plan = planBackwards(problem, 1600);
    const seconds = (performance.now() - began) / 1000;
    row(
      `season: ${BOATS} boats backwards, ${people} people`,
      `${seconds.toFixed(1)} s`,
      'under 60 s',
      seconds < 60,
      'one run',
    );
    row(
      `season: its cost above the bound, ${people} people`,
      `${(plan.gap * 100).toFixed(1)} %`,
      'within 4 %',
      plan.gap <= 0.04,
      `bound ${Math.round(plan.bound)}`,
    );
  }
  const random = seeded(11);
  const lives = Array.from({ length: 20_000 }, (): Life => {
    const time = 250 * (-Math.log(1 - random.whole(0, 999_999) / 1_000_000)) ** (1 / 2.4) + 0.001;
    const until = 60 + random.whole(0, 400);
    return time < until ? { time, failed: true } : { time: until, failed: false };
  });
  const began = performance.now();
  const fit = fitWeibull(lives);
  const seconds = (performance.now() - began) / 1000;
  row(
    'season: life study of 20,000 lives',
    `${seconds.toFixed(2)} s`,
    'under 1 s',
    seconds < 1,
    `shape ${fit!.shape.toFixed(2)} of 2.40`,
  );
}

/** The lists of every engine of the large book, worked out anew after a write, base by base. */
export async function benchSeasonLists([user]: readonly Visitor[], today: Day): Promise<void> {
  const bases = await user!.json<{ id: number }[]>('GET', '/fleet/bases');
  for (const { id } of bases)
    await user!.send('PUT', `/season/bases/${id}`, {
      ...{ closes: addDays(today, 20).slice(5), opens: addDays(today, 165).slice(5), lows: null, version: 0 },
    });
  // The fleet is read once more after that, as after a start, where it is worked out: not what is asked here.
  await user!.send('GET', `/season/batteries?baseId=${bases[0]!.id}`);
  const began = performance.now();
  let [engines, bytes] = [0, 0];
  for (const { id } of bases) {
    const reply = await user!.json<ReplyOf<(typeof seasonRoutes)['readSeason']>>('GET', `/season?baseId=${id}`);
    engines += new Set(reply.boats.flatMap((b) => b.visits.flatMap((v) => v.tasks.map((t) => t.engineId)))).size;
    bytes += JSON.stringify(reply).length;
  }
  const seconds = (performance.now() - began) / 1000;
  row(
    `season: the lists of ${engines} engines at ${bases.length} bases, one after the other`,
    `${seconds.toFixed(2)} s`,
    'under 2 s',
    seconds < 2,
    `${(bytes / 1e6).toFixed(1)} MB before packing`,
  );
}
