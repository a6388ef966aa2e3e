import type { Role } from '@diurna/contract';
import { addDays, dayInZone } from '@diurna/core/calendar';
import { BASES, DEMO_ZONE, scenario } from './scenario.ts';
import { Visitor, type Session } from './visitor.ts';

const PASSWORD = 'shorebird-demo';

/** The invented people of the yard; the sign-in page offers them in demo mode. */
export const DEMO_ACCOUNTS: { username: string; password: string; name: string; role: Role; base: number }[] = [
  { username: 'ilse', name: 'Ilse Maren', role: 'coordinator' as const, base: 0 },
  { username: 'ines', name: 'Ines Okoye', role: 'technician' as const, base: 0 },
  { username: 'tomasz', name: 'Tomasz Wil', role: 'technician' as const, base: 0 },
  { username: 'reva', name: 'Reva Sand', role: 'technician' as const, base: 1 },
  { username: 'jory', name: 'Jory Pell', role: 'technician' as const, base: 2 },
  { username: 'hanne', name: 'Hanne Brook', role: 'stores' as const, base: 0 },
  { username: 'bram', name: 'Bram Tidewell', role: 'dock' as const, base: 0 },
  { username: 'odile', name: 'Odile Farrow', role: 'manager' as const, base: 0 },
  { username: 'wyn', name: 'Wyn Aldous', role: 'administrator' as const, base: 0 },
].map((a) => ({ ...a, password: PASSWORD }));

interface DueRow { engineId: number; boatId: number; boatName: string; baseId: number; due: { task: string; state: string } }

/**
 * Fills an empty book with the demo fleet, by its public API only.
 *
 * @param deskUrl where the booking desk's calendar is, when it runs
 */
export async function fillDemo(address: string, now: Date, deskUrl?: string): Promise<void> {
  const zone = DEMO_ZONE;
  const today = dayInZone(now, zone);
  const files = scenario(today);
  const admin = DEMO_ACCOUNTS.find((a) => a.role === 'administrator')!;
  const visitor = new Visitor(address);
  visitor.take(await visitor.send<Session>('POST', '/first-run', {
    company: 'Larkspur Boats', currency: 'EUR', baseName: BASES[0], timeZone: zone, hemisphere: 'south',
    name: admin.name, username: admin.username, password: admin.password,
  }));
  for (const kind of ['fleet', 'hours', 'parts', 'service', 'hires'] as const) await visitor.send('POST', `/exchange/${kind}`, files[kind]);

  const bases = await visitor.send<{ id: number; name: string; version: number; timeZone: string; dayMinutes: number }[]>('GET', '/fleet/bases');
  const baseId = (n: number) => bases.find((b) => b.name === BASES[n])!.id;
  const hemisphere = files.fleet.includes(',north,') ? 'north' : 'south';
  for (const b of bases) {
    await visitor.send('PUT', `/fleet/bases/${b.id}`, {
      name: b.name, timeZone: b.timeZone, hemisphere, dayMinutes: 480, workdays: b.id === baseId(0) ? [1, 2, 3, 4, 5, 6] : [1, 2, 3, 4, 5], version: b.version,
    });
  }
  const [fresh] = (await visitor.send<{ rows: { boatName: string; engineId: number }[] }>('GET', '/service/due?q=Dotterel&size=5')).rows;
  if (fresh) {
    await visitor.send('POST', `/service/engines/${fresh.engineId}/break-in`, { hours: 1.2, remark: 'Round the bay with two up, speed changed all the time.' });
    await visitor.send('POST', `/service/engines/${fresh.engineId}/break-in`, { hours: 1.5, remark: 'Cooling stream strong, no leaks.' });
  }
  if (deskUrl !== undefined) {
    const feed = await visitor.send<{ id: number }>('POST', '/hires/feeds', { name: 'Larkspur booking desk', url: deskUrl, baseId: baseId(2), active: true });
    await visitor.send('POST', `/hires/feeds/${feed.id}/read`);
  }
  const ids = new Map<string, number>();
  for (const a of DEMO_ACCOUNTS) {
    if (a === admin) continue;
    const made = await visitor.send<{ id: number }>('POST', '/people', { name: a.name, username: a.username, role: a.role, baseId: baseId(a.base), active: true, password: a.password });
    ids.set(a.username, made.id);
  }
  await handOutWork(visitor, ids, baseId, today);
}

/** The worst work of each base, handed to its technicians today and on the next days. */
async function handOutWork(visitor: Visitor, ids: Map<string, number>, baseId: (n: number) => number, today: string): Promise<void> {
  const hands: [string, number, number[]][] = [['ines', 0, [0, 0, 2]], ['tomasz', 0, [0, 1]], ['reva', 1, [0, 1, 3]], ['jory', 2, [0]]];
  // Left for the coordinator to decide.
  const held = new Set<string>(['Avocet', 'Turnstone', 'Whimbrel', 'Razorbill']);
  for (const [username, base, days] of hands) {
    const due = await visitor.send<{ rows: DueRow[] }>('GET', `/service/due?baseId=${baseId(base)}&size=200`);
    const boats = [...new Set(due.rows.filter((r) => ['over', 'due', 'soon'].includes(r.due.state)).map((r) => r.boatName))].filter((b) => !held.has(b));
    for (const [i, offset] of days.entries()) {
      const boat = boats[i];
      if (boat === undefined) break;
      held.add(boat);
      const rows = due.rows.filter((r) => r.boatName === boat && ['over', 'due', 'soon'].includes(r.due.state));
      await visitor.send('POST', '/jobs', {
        boatId: rows[0]!.boatId, technicianId: ids.get(username), day: addDays(today, offset),
        tasks: rows.map((r) => ({ engineId: r.engineId, task: r.due.task })),
      });
    }
  }
}
