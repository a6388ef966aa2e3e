import { planByHand } from '@diurna/core/planner';
import type { BoardReply } from '@diurna/contract/planner';
import { addDays } from '@diurna/core/calendar';
import type pg from 'pg';
import { median, percentile, row } from './report.ts';
import { together, type Visitor } from './visitor.ts';

/** A yard of the size most are: boats, their engines, a year of readings; a third of the boats out each day. */
export const YARD = { engines: 280, boats: 200, readings: 120_000, entries: 16_000 };
const TECHNICIANS = 12;
const CARDS = 300;
const TIMES = 5;
/** Cards of a week in which nothing can be done. */
const SHIFTED = 60;

/** People who work, spread over the bases as the boats are. */
export async function hireTechnicians(client: pg.Client): Promise<void> {
  await client.query(
    `insert into person (name, username, role, base_id, active, password_hash, skills)
     select 'Hand ' || n, 'hand' || n, 'technician', 1 + (n - 1) % 8, true, 'none', '{"lower units"}'
     from generate_series(1, $1) n`,
    [TECHNICIANS],
  );
}

/** The day and what is to be decided at 20 people, and a plan of three hundred cards accepted and taken back. */
export async function benchYard(users: Visitor[], today: string): Promise<void> {
  const user = users[0]!;
  const health = percentile(await together(users, 20, (u) => u.send('GET', '/health')), 0.95);
  const days = [today, addDays(today, 1), addDays(today, 5)];
  for (const [i, day] of days.entries()) {
    const p95 = percentile(await together(users, 10, (u) => u.send('GET', `/day?day=${day}`)), 0.95);
    row(
      `Day with To decide, 200 boats, 20 at once, p95, ${i === 0 ? 'today' : `in ${i === 1 ? 'a day' : 'five days'}`}`,
      `${p95.toFixed(0)} ms`,
      'under 200 ms',
      p95 < 200,
      `${(p95 / health).toFixed(1)} x the health route at the same load (${health.toFixed(0)} ms)`,
    );
  }
  // While nothing is written the answer is kept: what the first who asks after a write waits for.
  const anew: number[] = [];
  for (let i = 0; i < 12; i++) {
    await user.json('POST', '/snags', { boatId: 1 + i, engineId: null, text: `Snag ${i}`, symptom: null, photo: null });
    const began = performance.now();
    await user.json('GET', `/day?day=${days[i % days.length]}`);
    anew.push(performance.now() - began);
  }
  const first = percentile(anew, 0.95);
  row(
    'the same worked out anew, right after a write, p95',
    `${first.toFixed(0)} ms`,
    'under 200 ms',
    first < 200,
    `median ${median(anew).toFixed(0)} ms, one user`,
  );
  const accepts: number[] = [];
  const undos: number[] = [];
  let cards = 0;
  for (let i = 0; i < TIMES; i++) {
    const board = await user.json<BoardReply>('GET', '/plan?days=56');
    const visits = planByHand(board.problem).slice(0, CARDS);
    const began = performance.now();
    const { changeId, added } = await user.json<{ changeId: number; added: number }>('POST', '/plan/accept', {
      firstDay: board.firstDay,
      days: board.days,
      basedOn: board.accepted?.id ?? null,
      jobs: board.standing.map((j) => ({ id: j.jobId, version: j.version })),
      visits: visits.map((v) => ({ ...v, pinned: false })),
    });
    if (i === TIMES - 1) await benchShift(user, addDays(today, 1), median(accepts));
    const accepted = performance.now();
    await user.json('POST', `/changes/${changeId}/undo`, {});
    undos.push(performance.now() - accepted);
    accepts.push(accepted - began);
    cards = added;
  }
  const undo = Math.max(...undos);
  row(
    `a plan of ${cards} cards taken back, slowest of ${TIMES}`,
    `${undo.toFixed(0)} ms`,
    'under 1000 ms',
    undo < 1000 && cards >= CARDS,
    `${(undo / median(accepts)).toFixed(2)} x accepting it (${median(accepts).toFixed(0)} ms)`,
  );
}

/** What is against a week's cards if all of them go a week on: each is looked at beside all that stand. */
async function benchShift(user: Visitor, from: string, accept: number): Promise<void> {
  const { rows } = await user.json<{ rows: { id: number; version: number; technicianId: number; day: string }[] }>(
    'GET',
    `/jobs?status=open&size=${SHIFTED}&from=${from}&to=${addDays(from, 13)}`,
  );
  const moves = rows.map((j) => ({
    jobId: j.id,
    version: j.version,
    technicianId: j.technicianId,
    day: addDays(j.day, 7),
  }));
  const looks: number[] = [];
  for (let i = 0; i < TIMES; i++) {
    const began = performance.now();
    await user.json('POST', '/jobs/several/look', { moves });
    looks.push(performance.now() - began);
  }
  row(
    `what is against ${moves.length} cards moved a week on, ${CARDS} standing, median`,
    `${median(looks).toFixed(0)} ms`,
    'under 2000 ms (ours)',
    median(looks) < 2000 && moves.length === SHIFTED,
    `${(median(looks) / accept).toFixed(2)} x accepting a plan of ${CARDS} cards`,
  );
}
