import { randomUUID } from 'node:crypto';
import { processClock } from '../../server/clock.ts';
import { row } from '../report.ts';
import { randomFrom, type Random } from '../../server/test/fuzz.ts';
import { Visitor } from '../visitor.ts';
import type { Target } from './target.ts';

const CARD_WRITERS = 9;
const STOCK_WRITERS = 8;
const SESSION_WRITERS = 3;
const MOST_WAIT_MS = 5_000;

/** What writers were told is done: the model the book is held against. */
interface Model {
  /** Texts of remarks on cards, and notes of deliveries: each acknowledged once. */
  remarks: Set<string>;
  deliveries: Set<string>;
  /** Sent, and never answered: they may be there once, or not. */
  open: Set<string>;
  /** Sessions whose end was acknowledged. */
  ended: string[];
  sent: number;
}

/** Sends one thing until it is answered, as a phone does: the same again, whatever became of the first. */
async function until(going: () => boolean, send: () => Promise<number>): Promise<number | null> {
  for (;;) {
    const status = await Promise.race([
      send().catch(() => 0),
      new Promise<number>((r) => setTimeout(() => r(0), MOST_WAIT_MS)),
    ]);
    if (status !== 0 && status !== 503 && status !== 502) return status;
    if (!going()) return null;
    await new Promise((r) => setTimeout(r, 60));
  }
}

function writeCard(visitor: Visitor, jobs: number[], model: Model, going: () => boolean, random: Random) {
  return async () => {
    while (going()) {
      const id = randomUUID();
      const jobId = jobs[Math.floor(random() * jobs.length)]!;
      const entry = { id, at: processClock()().getTime(), seen: 1e9, act: { kind: 'remark', text: `chaos ${id}` } };
      model.open.add(id);
      model.sent++;
      const status = await until(going, async () => {
        const reply = await visitor.send('POST', `/jobs/${jobId}/entries`, { entries: [entry] });
        if (reply.status !== 200) return reply.status;
        const { kept } = JSON.parse(reply.text()) as { kept: { id: string }[] };
        return kept.some((k) => k.id === id) ? 200 : 409;
      });
      if (status === 200) {
        model.open.delete(id);
        model.remarks.add(id);
      } else if (status !== null) throw new Error(`a remark was answered ${status}`);
    }
  };
}

function writeStock(visitor: Visitor, partId: number, baseId: number, model: Model, going: () => boolean) {
  return async () => {
    while (going()) {
      const id = randomUUID();
      model.open.add(id);
      model.sent++;
      const status = await until(going, async () => {
        const reply = await visitor.send(
          'POST',
          '/stores/movements',
          { act: 'receive', partId, baseId, quantity: 1, note: `chaos ${id}` },
          { 'idempotency-key': id },
        );
        // Done, and its answer was lost with the process: that is an acknowledgement too.
        return reply.status === 409 && reply.text().includes('done already') ? 200 : reply.status;
      });
      if (status === 200) {
        model.open.delete(id);
        model.deliveries.add(id);
      } else if (status !== null) throw new Error(`a delivery was answered ${status}`);
    }
  };
}

function comeAndGo(target: Target, model: Model, going: () => boolean) {
  return async () => {
    while (going()) {
      const came = new Visitor(target.address);
      if ((await until(going, () => target.enter('dock', came).then(() => 200))) === null) return;
      const status = await until(going, async () => (await came.send('DELETE', '/session')).status);
      if (status !== null && status < 500) model.ended.push(came.cookie.value);
      await new Promise((r) => setTimeout(r, 150));
    }
  };
}

/** Holds the book against what was acknowledged. @returns what is wrong, in words */
async function judge(target: Target, model: Model): Promise<string[]> {
  const wrong: string[] = [];
  // Writers go on meanwhile: what is told after the book is read is not missing in it.
  const told = { remarks: new Set(model.remarks), deliveries: new Set(model.deliveries) };
  const database = await target.database();
  try {
    const ids = (text: string) =>
      database
        .query<{ id: string; n: number }>(text)
        .then(({ rows }) => new Map(rows.map((r) => [r.id.replace('chaos ', ''), r.n])));
    const remarks = await ids(
      `select act ->> 'text' as id, count(*)::int as n from job_entry where act ->> 'text' like 'chaos %' group by 1`,
    );
    const deliveries = await ids(
      `select note as id, count(*)::int as n from stock_movement where note like 'chaos %' group by 1`,
    );
    const hold = (what: string, before: Set<string>, now: Set<string>, there: Map<string, number>) => {
      for (const id of before) if (!there.has(id)) wrong.push(`${what} ${id} was acknowledged and is lost`);
      for (const [id, n] of there) {
        if (n > 1) wrong.push(`${what} ${id} is there ${n} times`);
        if (!now.has(id) && !model.open.has(id)) wrong.push(`${what} ${id} nobody sent`);
      }
    };
    hold('remark', told.remarks, model.remarks, remarks);
    hold('delivery', told.deliveries, model.deliveries, deliveries);
    // Nothing half: what is done under a key is written down under it, and in the audit.
    const half = await database.query<{ n: number }>(
      `select count(*)::int as n from stock_movement m where note like 'chaos %'
         and not exists (select from request_done d where d.key = replace(m.note, 'chaos ', ''))`,
    );
    if (half.rows[0]!.n > 0) wrong.push(`${half.rows[0]!.n} deliveries without the note of their request`);
  } finally {
    await database.end();
  }
  for (const cookie of model.ended.slice(-20)) {
    const reply = await fetch(`${target.address}/api/session`, {
      headers: { cookie: `diurna=${encodeURIComponent(cookie)}`, connection: 'close' },
    });
    const { person } = (await reply.json()) as { person: unknown };
    if (person !== null) wrong.push('a session whose end was acknowledged goes on');
  }
  return wrong;
}

/**
 * Kills app, worker or database without warning, at random moments, under 20 writers; then looks whether what was
 * acknowledged is there, once, and nothing is half.
 * @returns whether it held
 */
export async function attackChaos(target: Target, rounds: number, seed: number): Promise<boolean> {
  const random = randomFrom(seed);
  const model: Model = { remarks: new Set(), deliveries: new Set(), open: new Set(), ended: [], sent: 0 };
  const boss = await target.enter('coordinator');
  const { rows } = await boss.json<{ rows: { id: number; status: string }[] }>('GET', '/jobs?status=open&size=200');
  const jobs = rows.filter((j) => j.status === 'open');
  const { rows: parts } = await boss.json<{ rows: { id: number }[] }>('GET', '/stores/parts?size=5');
  let on = true;
  const going = () => on;
  const failures: string[] = [];
  const writers: (() => Promise<void>)[] = [];
  for (let i = 0; i < CARD_WRITERS; i++)
    writers.push(
      writeCard(
        await target.enter('coordinator'),
        jobs.map((j) => j.id),
        model,
        going,
        randomFrom(seed + i),
      ),
    );
  for (let i = 0; i < STOCK_WRITERS; i++)
    writers.push(writeStock(await target.enter('stores'), parts[i % parts.length]!.id, 1, model, going));
  for (let i = 0; i < SESSION_WRITERS; i++) writers.push(comeAndGo(target, model, going));
  const running = writers.map((write) =>
    write().catch((error: unknown) => {
      failures.push(String(error));
    }),
  );
  const back: number[] = [];
  const killed = { app: 0, database: 0 };
  const began = performance.now();
  for (let round = 0; round < rounds; round++) {
    await new Promise((r) => setTimeout(r, 100 + random() * 900));
    if (random() < 0.3) {
      killed.database++;
      process.kill(target.databaseId(), 'SIGKILL');
    } else {
      const apps = target.appIds();
      killed.app++;
      process.kill(apps[Math.floor(random() * apps.length)]!, 'SIGKILL');
    }
    await new Promise((r) => setTimeout(r, 30));
    back.push(await target.ready());
    // Five deaths within a minute end a start; a person would not kill it faster than it steadies.
    if (round % 20 === 19) failures.push(...(await judge(target, model)));
  }
  on = false;
  await Promise.all(running);
  await target.ready();
  failures.push(...(await judge(target, model)));
  console.log(
    `         ${killed.app} app processes and workers and ${killed.database} databases killed in ${((performance.now() - began) / 1000).toFixed(0)} s; ${model.sent} writes sent, ${model.remarks.size + model.deliveries.size} acknowledged, ${model.ended.length} sessions ended, ${model.open.size} never answered; back after ${Math.max(...back).toFixed(0)} ms at the latest`,
  );
  for (const failure of failures.slice(0, 20)) console.log(`         ${failure}`);
  row(
    `${rounds} kills under ${writers.length} writers: lost, doubled, half`,
    `${failures.length}`,
    '0',
    failures.length === 0,
    'what each writer was told',
  );
  return failures.length === 0;
}
