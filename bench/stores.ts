import { coverTogether, projectNeed, type WantedTask } from '@diurna/core/stores';
import { processClock } from '../server/clock.ts';
import { seeded } from '@diurna/demo/random';
import jsQR from 'jsqr';
import type pg from 'pg';
import { percentile, median, row } from './report.ts';
import { together, type Visitor } from './visitor.ts';

const PARTS = 8000;
const BASES = 3;
const MOVEMENTS = 400_000;
const YEAR_DAYS = 365;
const TAKERS = 100;

/** Parts, what they fit, and years of a ledger on three shelves. */
export async function fillStores(client: pg.Client): Promise<void> {
  await client.query(
    `insert into part (number, name, kind, unit, price_minor) select 'P-' || n, 'Part ' || n,
      (array['oil filter','plug','gasket','washer','other']::part_kind[])[1 + n % 5], 'each', 100 + n % 9000
      from generate_series(1, $1) n`,
    [PARTS],
  );
  // Every model takes some fifty of them; the rest lie there.
  await client.query(
    `insert into fitment (part_id, model_id, task, quantity)
     select distinct on (p.id, m.id) p.id, m.id,
       (array['oil-filter','spark-plugs','gear-lube','engine-oil','thermostat','fuel-filter']::task_kind[])[1 + p.id % 6], 1 + p.id % 3
     from engine_model m join part p on p.id % 12 = m.id % 12 and p.id <= 600`,
  );
  await client.query(
    `insert into stock_movement (part_id, base_id, quantity, reason, at, cost_minor)
     select 1 + n % $1, 1 + n % $2, case when n % 5 = 0 then 12 else -2 end,
       (case when n % 5 = 0 then 'received' else 'written off' end)::movement_reason,
       $4::timestamptz - ((($3 - n) / 400) || ' hours')::interval, case when n % 5 = 0 then 1200 + n % 700 end
     from generate_series(1, $3) n`,
    [PARTS, BASES, MOVEMENTS, processClock()().toISOString()],
  );
}

/** What a year takes of each of so many parts. */
function tasksOfParts(parts: number): WantedTask[][] {
  const random = seeded(7);
  return Array.from({ length: parts }, () =>
    Array.from({ length: 2 + random.whole(0, 8) }, (): WantedTask => {
      const mean = random.whole(5, YEAR_DAYS);
      const spread = 5 + random.whole(0, 30);
      return {
        quantity: random.whole(1, 4),
        sure: random.chance(0.1) ? random.whole(0, 20) : null,
        chanceBy: (d) => Math.max(0, Math.min(1, (d - mean + spread) / (2 * spread))),
      };
    }),
  );
}

/** The computation by itself: a year ahead of all parts, and of one; cover of many kinds that share parts. */
export function benchShelves(): void {
  const all = tasksOfParts(PARTS);
  const times = all.map((tasks) => {
    const began = performance.now();
    projectNeed(tasks, YEAR_DAYS, 0.95);
    return performance.now() - began;
  });
  const whole = times.reduce((a, b) => a + b, 0);
  row(
    'a year ahead of 8,000 parts, day by day',
    `${(whole / 1000).toFixed(2)} s`,
    'under 3 s',
    whole < 3000,
    `a part: median ${median(times).toFixed(2)} ms`,
  );
  row(
    'of one part, the slowest of them',
    `${Math.max(...times).toFixed(1)} ms`,
    'under 100 ms',
    Math.max(...times) < 100,
    `${(Math.max(...times) / median(times)).toFixed(0)} x the median`,
  );
  const random = seeded(9);
  const kinds = Array.from({ length: 120 }, (_, k) => ({
    wanted: random.whole(1, 9),
    needs: new Map([
      [k, 1],
      [1000 + (k % 8), random.whole(1, 4)],
      [2000 + (k % 3), random.whole(200, 3000)],
    ]),
  }));
  const shelf = new Map<number, number>();
  for (const k of kinds)
    for (const [id, n] of k.needs) shelf.set(id, (shelf.get(id) ?? 0) + Math.ceil(n * k.wanted * 0.7));
  const began = performance.now();
  const cover = coverTogether(kinds, shelf);
  const took = performance.now() - began;
  row(
    'cover of 120 kinds of service that share parts',
    `${took.toFixed(0)} ms`,
    'under 300 ms',
    took < 300,
    `${cover.total} services${cover.exact ? ', exact' : ', not proven the most'}`,
  );
  benchScan();
}

/** How long a picture of a label takes to be read, as the phone does it. */
function benchScan(): void {
  const side = 640;
  const light = new Uint8ClampedArray(side * 480 * 4).fill(200);
  const times = Array.from({ length: 20 }, () => {
    const began = performance.now();
    jsQR(light, side, 480);
    return performance.now() - began;
  });
  row(
    'one picture of the camera looked at, without a code',
    `${median(times).toFixed(0)} ms`,
    'under 1000 ms',
    median(times) < 1000,
    'the wait between two is 150 ms; here, not on a phone',
  );
}

/** Lists at twenty people, cover and money of the whole, and a hundred who take from one shelf. */
export async function benchStores(users: Visitor[]): Promise<void> {
  const user = users[0]!;
  const health = percentile(await together(users, 20, (u) => u.send('GET', '/health')), 0.95);
  const lists: [string, string][] = [
    ['parts, first page', '/stores/parts?size=60'],
    ['parts, page 50', '/stores/parts?size=60&page=50'],
    ['ledger of a part', '/stores/parts/42/ledger?size=40'],
    ['arrivals', '/stores/arrivals'],
    ['suppliers', '/ordering/suppliers'],
    ['models', '/stores/models?baseId=2'],
  ];
  const things: typeof lists = [
    ['one part with all of it', '/stores/parts/42'],
    ['which parts an engine takes', '/stores/engines/7/parts'],
  ];
  for (const [what, path] of [...lists, ...things]) {
    const p95 = percentile(await together(users, 10, (u) => u.send('GET', path)), 0.95);
    // Nothing is asked of what is no list: twice as much is ours.
    const asked = things.some(([w]) => w === what) ? 300 : 150;
    row(
      `${what}, 20 at once, p95`,
      `${p95.toFixed(0)} ms`,
      `under ${asked} ms`,
      p95 < asked,
      `${(p95 / health).toFixed(1)} x the health route at the same load (${health.toFixed(0)} ms)`,
    );
  }
  const timed = async (path: string, times: number) => {
    const took: number[] = [];
    for (let i = 0; i < times; i++) {
      const began = performance.now();
      await user.json('GET', path);
      took.push(performance.now() - began);
    }
    return took;
  };
  // Each time after something was written: what is kept does not help.
  const cover: number[] = [];
  for (let i = 0; i < 6; i++) {
    await user.json('PUT', `/stores/parts/${7000 + i}/place`, { baseId: 2, place: `A${i}` });
    cover.push(...(await timed('/ordering/cover?baseId=2', 1)));
  }
  row(
    'cover of a base, right after a write',
    `${median(cover).toFixed(0)} ms`,
    'under 300 ms',
    median(cover) < 300,
    `first ${cover[0]!.toFixed(0)} ms`,
  );
  const worth = await timed('/stores/worth', 1);
  row(
    'money of 400,000 movements, in the thread beside',
    `${(median(worth) / 1000).toFixed(2)} s`,
    'under 3 s',
    median(worth) < 3000,
    'kept while nothing changes',
  );
  await benchTakers(users);
}

/** A hundred who take one each of sixty: sixty get it, the others are told, and the ledger is exact. */
async function benchTakers(users: Visitor[]): Promise<void> {
  const user = users[0]!;
  const { id } = await user.json<{ id: number }>('POST', '/stores/parts', {
    ...{ number: 'LAST', name: 'Last ones', kind: 'other', unit: 'each', priceMinor: null, fitments: [] },
  });
  const shelf = { partId: id, baseId: 2, note: 'taken at once' };
  await user.json('POST', '/stores/movements', { act: 'receive', ...shelf, quantity: 60 });
  const began = performance.now();
  const all = await Promise.all(
    Array.from({ length: TAKERS }, (_, i) =>
      users[i % users.length]!.send('POST', '/stores/movements', { act: 'write off', ...shelf, quantity: 1 }),
    ),
  );
  const got = all.filter((a) => a.ok).length;
  const part = await user.json<{ onHand: { quantity: number }[] }>('GET', `/stores/parts/${id}`);
  const left = part.onHand.reduce((sum, h) => sum + h.quantity, 0);
  row(
    'a hundred who take one each of sixty at once',
    `${got} got it`,
    'exactly 60',
    got === 60 && left === 0,
    `${left} left; ${((performance.now() - began) / TAKERS).toFixed(1)} ms each`,
  );
}
