import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { pricePlan, problemFaults, type PlannedVisit } from '@diurna/core/planner';
import type { BoardReply } from '@diurna/contract/planner';
import { closeBook, openBook } from './book.ts';
import { PATIENCE_MS } from './patience.ts';

/** Plans of large fleets are worked out on the server: its threads exist in the built server only. */
const book = await openBook();
const { address } = book;
let cookie = '';
let token = '';
let board: BoardReply;

const ask = (path: string, init: RequestInit = {}) =>
  fetch(`${address}/api${path}`, {
    ...init,
    headers: { cookie, 'x-diurna-token': token, 'content-type': 'application/json' },
  });
beforeAll(async () => {
  const first = await fetch(`${address}/api/session`);
  const { demoAccounts } = (await first.json()) as {
    demoAccounts: { username: string; password: string; role: string }[];
  };
  const { username, password } = demoAccounts.find((a) => a.role === 'coordinator')!;
  const reply = await fetch(`${address}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ username, password }),
  });
  cookie = reply.headers
    .getSetCookie()
    .map((c) => c.split(';')[0])
    .join('; ');
  token = ((await reply.json()) as { csrfToken: string }).csrfToken;
  board = (await (await ask('/plan?days=28')).json()) as BoardReply;
});
const running = new Set<AbortController>();
afterAll(() => {
  for (const r of running) r.abort();
});

interface Line {
  say: string;
  visits?: PlannedVisit[];
  cost?: number;
  bound?: number | null;
  seconds?: number;
  faults?: string[];
}
const body = (more: object = {}) =>
  JSON.stringify({
    firstDay: board.firstDay,
    days: board.days,
    baseId: null,
    seconds: 3,
    fresh: true,
    standing: [],
    pins: [],
    ...more,
  });
const compute = (more: object = {}, signal?: AbortSignal) =>
  ask('/plan/compute', { method: 'POST', body: body(more), ...(signal && { signal }) });
const linesOf = async (reply: Response) =>
  (await reply.text())
    .trim()
    .split('\n')
    .map((l) => JSON.parse(l) as Line);

afterAll(async () => {
  await closeBook(book);
});

describe('a plan worked out on the server', () => {
  test('tells of progress, plans and bound; the last plan costs what the core says, not less than the bound', async () => {
    expect(problemFaults(board.problem)).toEqual([]);
    // Its threads give way to all who answer people: what a bound takes depends on who works beside it.
    let lines: Line[] = [];
    for (const seconds of [4, 16, 60]) {
      const reply = await compute({ seconds });
      expect(reply.headers.get('content-type')).toContain('application/x-ndjson');
      lines = await linesOf(reply);
      if (lines.at(-1)!.bound !== null) break;
    }
    expect(lines.filter((l) => l.say === 'progress').length).toBeGreaterThan(3);
    const plans = lines.filter((l) => l.say === 'plan');
    const costs = plans.map((l) => l.cost!);
    // The last is priced afresh: the same cost may differ in its last digits.
    for (const [i, cost] of costs.entries()) if (i > 0) expect(cost).toBeLessThanOrEqual(costs[i - 1]! + 1e-6);
    const last = plans.at(-1)!;
    expect(last.cost!).toBeCloseTo(pricePlan(board.problem, { visits: last.visits! }).cost.total, 6);
    expect(last.bound!).toBeLessThanOrEqual(last.cost! + 1e-6);
    expect(last.bound!).toBeGreaterThan(0);
  });

  test('what is pinned stands in every plan it tells of', async () => {
    const first = (await linesOf(await compute({ seconds: 1 }))).filter((l) => l.say === 'plan').at(-1)!;
    const pin = (({ boat, day, technician, tasks }: PlannedVisit) => ({ boat, day, technician, tasks }))(
      first.visits![0]!,
    );
    const lines = await linesOf(await compute({ seconds: 1, pins: [pin] }));
    for (const { visits } of lines.filter((l) => l.say === 'plan')) {
      const there = visits!.find((v) => v.boat === pin.boat && v.day === pin.day && v.technician === pin.technician);
      expect(there?.tasks).toEqual(expect.arrayContaining(pin.tasks));
    }
  });

  test('a pin that cannot be kept is told, and there is no plan', async () => {
    const task = board.problem.tasks[0]!;
    const boat = board.problem.engines.find((e) => e.id === task.engine)!.boat;
    const lines = await linesOf(
      await compute({
        pins: [
          {
            boat,
            day: 0,
            technician: board.problem.technicians[0]!.id,
            tasks: board.problem.tasks.slice(0, 30).map((t) => t.id),
          },
        ],
      }),
    );
    expect(lines.map((l) => l.say)).toEqual(['pins']);
    expect(lines[0]!.faults!.length).toBeGreaterThan(0);
  });

  test('a third at once is refused in a sentence; whoever hangs up makes room', async () => {
    const two = [new AbortController(), new AbortController()];
    two.forEach((c) => running.add(c));
    const replies = await Promise.all(two.map((c) => compute({ seconds: 60 }, c.signal)));
    expect(replies.map((r) => r.status)).toEqual([200, 200]);
    const third = await compute();
    expect(third.status).toBe(503);
    expect(((await third.json()) as { detail: string }).detail).toMatch(/Two plans are being worked out just now/);
    for (const c of two) c.abort();
    let status = 503;
    for (const began = performance.now(); status === 503 && performance.now() - began < PATIENCE_MS;) {
      const again = await compute({ seconds: 1 });
      status = again.status;
      await again.text();
      if (status === 503) await new Promise((r) => setTimeout(r, 250));
    }
    expect(status).toBe(200);
  });

  test('who does not steer, and days that are none, are refused before a thread begins', async () => {
    expect((await ask('/plan/compute', { method: 'POST', body: body({ days: 0 }) })).status).toBe(422);
    expect(
      (
        await fetch(`${address}/api/plan/compute`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: body(),
        })
      ).status,
    ).toBe(401);
  });
});
