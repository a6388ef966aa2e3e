import { setTimeout as pause } from 'node:timers/promises';
import { processClock } from '../server/clock.ts';
import { Target } from './attack/target.ts';
import { canHold, holdTo } from './hold.ts';
import { row } from './report.ts';
import type { Visitor } from './visitor.ts';

/** So little that two of them leave the clients and PostgreSQL more than they need. */
const SHARE = 0.2;

/**
 * Requests a second that so many processes answer, asked by more than they can.
 *
 * @param share the part of a processor each process may use; null = all it gets
 */
async function fullSpeed(processes: number, share: number | null): Promise<number> {
  const target = await Target.open(['--processes', String(processes), '--workers', '0']);
  const held = share === null ? null : holdTo(share, target.appIds());
  try {
    const people: Visitor[] = [];
    for (let i = 0; i < 24; i++) people.push(await target.enter('coordinator'));
    const today = processClock()().toISOString().slice(0, 10);
    let done = 0;
    let on = true;
    const going = () => on;
    const all = Promise.all(
      people.map(async (p) => {
        while (going()) {
          await p.json('GET', `/service/outlook?from=${today}&days=42&size=40`);
          done++;
        }
      }),
    );
    await pause(4_000);
    done = 0;
    await pause(12_000);
    const rate = done / 12;
    on = false;
    await all;
    return rate;
  } finally {
    await target.close();
    held?.();
  }
}

/** What a second process brings where it has a processor of its own to go to, and on this machine as it is. */
export async function benchProcesses(): Promise<void> {
  const compare = async (what: string, share: number | null, reference: string) => {
    const one = await fullSpeed(1, share);
    const two = await fullSpeed(2, share);
    const rates = `${one.toFixed(0)} and ${two.toFixed(0)} a second`;
    row(what, `${(two / one).toFixed(2)} x`, 'at least 1.7 x', two / one >= 1.7, `${rates}; ${reference}`);
  };
  if (canHold())
    await compare(
      `two processes against one, each held to ${100 * SHARE} % of a processor`,
      SHARE,
      'clients and PostgreSQL have the rest, so the processes are what is short',
    );
  else console.log('        processes are not held to a share of a processor: /sys/fs/cgroup/cpu cannot be written');
  await compare(
    'two processes against one, the machine as it is',
    null,
    "the clients and PostgreSQL share the machine's processors",
  );
}
