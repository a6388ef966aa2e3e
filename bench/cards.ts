import { processClock } from '../server/clock.ts';
import type { JobCard } from '@diurna/contract/jobs';
import { request } from 'node:http';
import { percentile, row } from './report.ts';
import { together, type Visitor } from './visitor.ts';

const CARDS = 200;
const SCREENS = 20;
/** Much faster than anybody works: a step of a real card takes a minute or more. */
const PAUSE_MS = 3_000;
const SECONDS = 25;

interface Due {
  rows: { engineId: number; boatId: number; job: unknown; due: { task: string } }[];
}

/** Two hundred cards worked at the same time, each tick as a phone sends it, while screens listen. */
export async function benchCards(address: string, users: Visitor[], today: string): Promise<void> {
  const [admin] = users as [Visitor];
  const people = await admin.json<{ id: number; role: string }[]>('GET', '/people');
  const cards: JobCard[] = [];
  const taken = new Set<number>();
  for (let page = 1; cards.length < CARDS && page < 60; page++) {
    for (const r of (await admin.json<Due>('GET', `/service/due?task=engine-oil&size=200&page=${page}`)).rows) {
      if (cards.length >= CARDS || taken.has(r.boatId) || r.job !== null) continue;
      taken.add(r.boatId);
      const { id } = await admin.json<{ id: number }>('POST', '/jobs', {
        insist: 'as this is about the card',
        boatId: r.boatId,
        technicianId: people[0]!.id,
        day: today,
        tasks: [
          { engineId: r.engineId, task: 'engine-oil' },
          { engineId: r.engineId, task: 'oil-filter' },
          { engineId: r.engineId, task: 'gear-lube' },
        ],
      });
      cards.push(await admin.json<JobCard>('GET', `/jobs/${id}`));
    }
  }
  const health = percentile(await together(users, 20, (u) => u.send('GET', '/health')), 0.95);

  const sentAt = new Map<string, number>();
  const heard: number[] = [];
  const streams = Array.from({ length: SCREENS }, (_, n) =>
    listen(address, users[n % users.length]!, (message) => {
      const at = sentAt.get(message);
      if (at !== undefined) heard.push(performance.now() - at);
    }),
  );
  await new Promise((r) => setTimeout(r, 500));
  const times: number[] = [];
  let failed = 0;
  const end = performance.now() + SECONDS * 1000;
  await Promise.all(
    cards.map(async (card, n) => {
      const user = users[n % users.length]!;
      // Nobody begins at the same moment as everybody.
      await new Promise((r) => setTimeout(r, (n / CARDS) * PAUSE_MS));
      for (const { step } of card.steps) {
        if (performance.now() > end) return;
        const began = performance.now();
        sentAt.set(`card ${card.id}`, began);
        const reply = await user.send('POST', `/jobs/${card.id}/entries`, {
          entries: [
            {
              id: crypto.randomUUID(),
              at: processClock()().getTime(),
              act: { kind: 'tick', step: step.id, done: true },
              seen: 0,
            },
          ],
        });
        times.push(performance.now() - began);
        if (!reply.ok) failed++;
        await new Promise((r) => setTimeout(r, PAUSE_MS * (0.7 + 0.6 * Math.random())));
      }
    }),
  );
  for (const s of streams) s.destroy();
  const p95 = percentile(times, 0.95);
  row(
    `${cards.length} cards worked at once, a tick saved, p95`,
    `${p95.toFixed(0)} ms`,
    'under 100 ms',
    p95 < 100 && failed === 0 && cards.length === CARDS,
    `${(p95 / health).toFixed(1)} x the health route (${health.toFixed(0)} ms); ${times.length} ticks, ${(times.length / SECONDS).toFixed(0)} a second, median ${percentile(times, 0.5).toFixed(0)} ms, ${failed} failed`,
  );
  const told = heard.length === 0 ? Infinity : percentile(heard, 0.95);
  row(
    `a tick told to ${SCREENS} screens, p95`,
    `${told.toFixed(0)} ms`,
    'under 2000 ms',
    told < 2000,
    `${(told / p95).toFixed(1)} x saving it; ${heard.length} messages heard`,
  );
  const opened = percentile(
    await together(users, 6, (u, n, r) => u.send('GET', `/jobs/${cards[(n * 7 + r) % cards.length]!.id}`)),
    0.95,
  );
  row(
    `a card opened, ${users.length} at once, p95`,
    `${opened.toFixed(0)} ms`,
    'no figure asked',
    true,
    `${(opened / health).toFixed(1)} x the health route`,
  );
  const list = percentile(await together(users, 4, (u) => u.send('GET', '/jobs?status=open&size=50')), 0.95);
  row(
    `open cards with their progress, ${users.length} at once, p95`,
    `${list.toFixed(0)} ms`,
    'no figure asked',
    true,
    `${(list / health).toFixed(1)} x the health route`,
  );
}

function listen(address: string, user: Visitor, told: (message: string) => void) {
  const { name, value } = user.cookie;
  const asked = request(
    `${address}/api/live`,
    { headers: { cookie: `${name}=${encodeURIComponent(value)}` } },
    (res) => {
      res.setEncoding('utf8');
      res.on('data', (text: string) => {
        for (const line of text.split('\n')) if (line.startsWith('data: ')) told(line.slice(6));
      });
    },
  );
  asked.on('error', () => undefined);
  asked.end();
  return asked;
}
