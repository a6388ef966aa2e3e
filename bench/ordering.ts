import { orderByHand, OrderSearch, type OrderPlan, type OrderProblem } from '@diurna/core/ordering';
import { chooseContainers } from '@diurna/core/fluids';
import { orderProblem } from '@diurna/demo/order-problems';
import { seeded } from '@diurna/demo/random';
import { existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { judge } from '../core/ordering/test/judge.ts';
import { runProblem } from './command.ts';
import { median, row } from './report.ts';

const SHARED = join(import.meta.dirname, '../../shared/instances');
const percent = (x: number) => `${(x * 100).toFixed(3)} %`;
const over = (cost: number, best: number) => (cost - best) / best;

/** Problems with the best plan and bound an exact solver found (`instances/README.md`), and what is asked of ours. */
const KNOWN = [
  { name: 'order-lot-12', best: 864, bound: 864, seconds: 2, share: 0, against: 'best' },
  { name: 'order-small-8x30', best: 5020.009, bound: 5019.961, seconds: 5, share: 0.005, against: 'best' },
  { name: 'order-mid-20x42', best: 19_931.277, bound: 19_931.084, seconds: 5, share: 0.005, against: 'best' },
  { name: 'order-mid-40x60', best: 30_881.007, bound: 30_338.62, seconds: 10, share: 0.01, against: 'best' },
  { name: 'order-yard-200x90', best: null, bound: 274_773.657, seconds: 30, share: 0.04, against: 'bound' },
] as const;

function judged(problem: OrderProblem, plan: OrderPlan): number {
  const { total, faults } = judge(problem, plan.orders);
  if (faults.length > 0 || Math.abs(total - plan.cost.total) > 1e-4 * Math.max(1, Math.abs(total)))
    throw new Error(`the judge disagrees: ${total} for ${plan.cost.total}; ${faults.join('; ')}`);
  return total;
}

/**
 * Orders: first plan, cost in time beside the exact solver's, the largest problem, and never above by hand; containers.
 */
export async function benchOrdering(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'diurna-orders-'));
  try {
    for (const known of KNOWN) {
      const file = join(SHARED, `${known.name}.json`);
      if (existsSync(file)) await benchKnown(file, known);
    }
    await benchSeeded(folder);
    await benchLargest(folder);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
  benchContainers();
}

async function benchKnown(file: string, { name, best, bound, seconds, share }: (typeof KNOWN)[number]): Promise<void> {
  const problem = JSON.parse(readFileSync(file, 'utf8')) as OrderProblem;
  const firsts = [1, 2, 3].map(() => {
    const began = performance.now();
    const search = new OrderSearch(problem);
    search.start();
    return { ms: performance.now() - began, cost: search.cost };
  });
  const ran = await runProblem<OrderPlan>('order', file, ['--seconds', String(seconds)]);
  const cost = judged(problem, ran.plan);
  const byHand = judge(problem, orderByHand(problem)).total;
  const first = median(firsts.map((f) => f.ms));
  row(
    `${name}: first plan`,
    `${first.toFixed(0)} ms`,
    'under 300 ms',
    first < 300,
    `${(firsts[0]!.cost / cost).toFixed(4)} x the last; with the start of the command ${ran.steps[0]!.seconds.toFixed(2)} s`,
  );
  const reference = best ?? bound;
  row(
    `${name}: after ${seconds} s`,
    percent(over(cost, reference)),
    `within ${percent(share)}`,
    over(cost, reference) <= share + 1e-7,
    `${best === null ? 'proven bound' : 'best known'} ${reference}, reached ${cost.toFixed(3)}; own bound ${ran.plan.bound?.toFixed(3) ?? 'none'}, the exact solver’s ${bound}; by hand ${byHand.toFixed(0)}`,
  );
  row(
    `${name}: own bound`,
    ran.plan.bound === null ? 'none' : percent((cost - ran.plan.bound) / cost),
    'never above',
    ran.plan.bound === null || ran.plan.bound <= Math.min(cost, best ?? Infinity) + 1e-6,
    `what is not proven of the plan; the exact solver leaves ${percent((cost - bound) / cost)}`,
  );
}

async function benchSeeded(folder: string): Promise<void> {
  let worst = -Infinity;
  const file = join(folder, 'seeded.json');
  for (let seed = 1; seed <= 6; seed++) {
    const problem = orderProblem(seed, 6 + 4 * seed, 28 + seed, 2 + (seed % 3));
    writeFileSync(file, JSON.stringify(problem));
    const { plan } = await runProblem<OrderPlan>('order', file, ['--seconds', '2', '--seed', String(seed)]);
    worst = Math.max(worst, judged(problem, plan) / judge(problem, orderByHand(problem)).total);
  }
  row(
    'six seeded problems in 2 s: worst beside by hand',
    worst.toFixed(4),
    'at most 1',
    worst <= 1,
    'ordering by hand',
  );
}

async function benchLargest(folder: string): Promise<void> {
  const problem = orderProblem(1, 8000, 365, 40);
  const file = join(folder, 'largest.json');
  writeFileSync(file, JSON.stringify(problem));
  const ran = await runProblem<OrderPlan>('order', file, ['--seconds', '55']);
  const cost = judged(problem, ran.plan);
  const byHand = judge(problem, orderByHand(problem)).total;
  row(
    '8,000 parts, 365 days, 40 suppliers: whole command',
    `${ran.seconds.toFixed(1)} s`,
    'under 60 s',
    ran.seconds < 60,
    `cost ${(cost / byHand).toFixed(4)} x by hand; first plan of its own after ${ran.steps[1]!.seconds.toFixed(1)} s`,
  );
  row('its memory', `${ran.megabytes} MB`, 'under 1500 MB', ran.megabytes < 1500, 'peak of the process');
}

/** Choosing containers, beside trying every choice. */
function benchContainers(): void {
  const random = seeded(3);
  const sizes = [208_000, 20_000, 4000, 1000, 946, 473].map((ml, i) => ({
    id: String(i),
    ml,
    priceMinor: Math.round(ml * (0.9 + 0.04 * i)),
    most: null,
  }));
  const took = Array.from({ length: 60 }, () => {
    const began = performance.now();
    chooseContainers({ needMl: random.whole(500, 5_600_000), open: [], sizes });
    return performance.now() - began;
  });
  row(
    'containers of six sizes for up to 5,600 L: slowest',
    `${Math.max(...took).toFixed(1)} ms`,
    'under 100 ms',
    Math.max(...took) < 100,
    `median ${median(took).toFixed(1)} ms`,
  );
}
