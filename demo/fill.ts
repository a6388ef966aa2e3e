import { liveThroughYears } from './lived.ts';
import { FIGURES, MAKERS, VARIANTS } from './models.ts';
import type { Role } from '@diurna/contract';
import { addDays, dayInZone, instantInZone } from '@diurna/core/calendar';
import { BASES, DEMO_ZONE, scenario } from './scenario.ts';
import { fillCatalogue, shelveOdds } from './catalogue.ts';
import { chooseMail } from './messages.ts';
import { tellSeasons } from './season.ts';
import { buyParts } from './suppliers.ts';
import { writeWorkDown } from './working-people.ts';
import { Visitor, type Session } from './visitor.ts';
import { workCard } from './work-card.ts';

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

interface DueRow {
  engineId: number;
  boatId: number;
  boatName: string;
  baseId: number;
  due: { task: string; state: string };
  job: unknown;
}

/** Where a book to be filled is, and what moves its clock while it is. */
export interface BookToFill {
  address: string;
  /** The instant at which the filled book is opened. */
  now: Date;
  /** Sets the clock of the book, which stands still meanwhile. */
  setClock: (at: Date) => void;
  /** Where the booking desk's calendar is, when it runs. */
  deskUrl?: string | undefined;
  hemisphere?: 'north' | 'south';
  /** Where a supplier's service is, when it runs. */
  supplierUrl?: string | undefined;
}

/** Work is handed out before the first shift begins. */
const HANDED_OUT = 6 * 60;
/** Work of the morning is told from this minute on; before it, it was the day before. */
const MORNING_OVER = 11 * 60;

/**
 * Fills an empty book with the demo fleet, by its public API only. Its clock is set to the hours at which the
 * people of the story wrote, so that every card stands on hours they work.
 */
export async function fillDemo({
  address,
  now,
  setClock,
  deskUrl,
  supplierUrl,
  hemisphere = 'north',
}: BookToFill): Promise<void> {
  const zone = DEMO_ZONE;
  const today = dayInZone(now, zone);
  const at = (day: string, minute: number) => instantInZone(day, minute, zone);
  const opened = new Date(Math.min(now.getTime(), at(today, HANDED_OUT).getTime()));
  setClock(opened);
  const files = scenario(today, today, hemisphere);
  const admin = DEMO_ACCOUNTS.find((a) => a.role === 'administrator')!;
  const visitor = new Visitor(address);
  visitor.take(
    await visitor.send<Session>('POST', '/first-run', {
      company: 'Larkspur Boats',
      currency: 'EUR',
      baseName: BASES[0],
      timeZone: zone,
      hemisphere,
      name: admin.name,
      username: admin.username,
      password: admin.password,
    }),
  );
  for (const kind of ['fleet', 'hours', 'parts', 'service', 'hires'] as const)
    await visitor.send('POST', `/exchange/${kind}`, files[kind]);

  await enterFigures(visitor);
  await fillCatalogue(visitor, today);
  const bases = await visitor.send<
    { id: number; name: string; version: number; timeZone: string; dayMinutes: number }[]
  >('GET', '/fleet/bases');
  const baseId = (n: number) => bases.find((b) => b.name === BASES[n])!.id;
  for (const b of bases) {
    await visitor.send('PUT', `/fleet/bases/${b.id}`, {
      name: b.name,
      timeZone: b.timeZone,
      hemisphere,
      dayMinutes: 480,
      workdays: [1, 2, 3, 4, 5, 6, 7],
      version: b.version,
    });
  }
  const [fresh] = (
    await visitor.send<{ rows: { boatName: string; engineId: number }[] }>('GET', '/service/due?q=Dotterel&size=5')
  ).rows;
  if (fresh) {
    await visitor.send('POST', `/service/engines/${fresh.engineId}/break-in`, {
      hours: 1.2,
      remark: 'Round the bay with two up, speed changed all the time.',
    });
    await visitor.send('POST', `/service/engines/${fresh.engineId}/break-in`, {
      hours: 1.5,
      remark: 'Cooling stream strong, no leaks.',
    });
  }
  if (deskUrl !== undefined) {
    const feed = await visitor.send<{ id: number }>('POST', '/hires/feeds', {
      name: 'Larkspur booking desk',
      url: deskUrl,
      baseId: baseId(2),
      active: true,
    });
    await visitor.send('POST', `/hires/feeds/${feed.id}/read`);
  }
  const ids = new Map<string, number>();
  for (const a of DEMO_ACCOUNTS) {
    if (a === admin) continue;
    const made = await visitor.send<{ id: number }>('POST', '/people', {
      name: a.name,
      username: a.username,
      role: a.role,
      baseId: baseId(a.base),
      active: true,
      password: a.password,
    });
    ids.set(a.username, made.id);
  }
  await liveThroughYears({ address, desk: visitor, setClock, password: PASSWORD }, ids, today);
  setClock(opened);
  await writeWorkDown(visitor, ids, bases, baseId, today);
  await handOutWork(visitor, ids, baseId, today);
  const morning = at(today, MORNING_OVER);
  const done = now >= morning ? morning : at(addDays(today, -1), MORNING_OVER);
  setClock(done);
  await workACard(address, visitor, ids, dayInZone(done, zone), done);
  setClock(opened);
  await tellOfTheYard(address, visitor);
  await chooseMail(address, visitor, PASSWORD);
  await shelveOdds(visitor, [baseId(0), baseId(1), baseId(2)], today);
  await buyParts(
    visitor,
    baseId(0),
    today,
    (daysAgo) => {
      setClock(daysAgo === 0 ? opened : at(addDays(today, -daysAgo), MORNING_OVER));
    },
    supplierUrl ?? null,
  );
  setClock(opened);
  await tellSeasons(visitor, today, { opening: baseId(0), open: baseId(1), closing: baseId(2) });
  setClock(now);
}

interface DemoModelRow {
  id: number;
  name: string;
  engines: number;
  rules: { task: string }[];
  [field: string]: unknown;
}

/** The figures of the makers’ papers, for those models somebody has entered them of; invented like the engines. */
async function enterFigures(visitor: Visitor): Promise<void> {
  for (const { id, engines: _, ...model } of await visitor.send<DemoModelRow[]>('GET', '/fleet/models')) {
    const traits = FIGURES[model.name];
    const makers = MAKERS[model.name] ?? [];
    if (!traits && makers.length === 0) continue;
    await visitor.send('PUT', `/fleet/models/${id}`, {
      ...model,
      traits: { ...traits },
      variants: VARIANTS[model.name] ?? [],
      rules: [
        ...model.rules.filter((r) => !makers.some((m) => m.task === r.task)),
        ...makers.map((m) => ({ ...m, basis: 'maker' })),
      ],
    });
  }
}

interface DemoBoatRow {
  id: number;
  name: string;
  engines: { id: number; position: string }[];
}

async function engineFinder(visitor: Visitor) {
  const boats = await visitor.send<{ rows: DemoBoatRow[] }>('GET', '/fleet/boats?size=200');
  return (boat: string, position = 'single') => {
    const found = boats.rows.find((b) => b.name === boat)!;
    return { boatId: found.id, engineId: found.engines.find((e) => e.position === position)!.id };
  };
}

/** What the yard has seen of late: a milky gear case that is held, a boat that ran hot. */
async function tellOfTheYard(address: string, visitor: Visitor): Promise<void> {
  const engine = await engineFinder(visitor);
  await visitor.send('POST', '/findings/holds', {
    engineId: engine('Fulmar', 'starboard').engineId,
    why: 'The gear lube came out milky.',
    checks: ['gear-seals', 'gear-lube'],
  });
  const bram = new Visitor(address);
  await bram.signIn('bram', PASSWORD);
  await bram.send('POST', '/snags', {
    ...engine('Plover'),
    text: 'Alarm off the mole, fine again at idle.',
    symptom: 'mid-range heat',
    photo: null,
  });
}

/** A service that Ines worked and finished by this instant, with what she saw. */
async function workACard(
  address: string,
  visitor: Visitor,
  ids: Map<string, number>,
  day: string,
  finished: Date,
): Promise<void> {
  const engine = await engineFinder(visitor);
  const ines = new Visitor(address);
  await ines.signIn('ines', PASSWORD);
  const done = engine('Kittiwake');
  const { rows } = await visitor.send<{ rows: DueRow[] }>('GET', `/service/due?q=Kittiwake&size=50`);
  const free = ['engine-oil', 'oil-filter', 'gear-lube', 'spark-plugs', 'compression'].filter(
    (task) => !rows.some((r) => r.engineId === done.engineId && r.due.task === task && r.job !== null),
  );
  await workCard(visitor, ines, {
    boatId: done.boatId,
    technicianId: ids.get('ines')!,
    day,
    tasks: free.map((task) => ({ engineId: done.engineId, task })),
    finished,
    seen: (kind, _, part) =>
      kind === 'compression' && part !== null ? { value: 130 - 2 * part, unit: 'psi' } : undefined,
    more: [{ key: `${done.engineId} screw#gear-lube`, value: { choice: 'seized' } }],
    insist: 'Ines was there anyway.',
    remark: 'Nothing to complain of.',
    books: 'what is there',
  });
}

interface Windows {
  boats: { id: string; free: { from: number; to: number }[][] }[];
  tasks: { id: string; handsOn: number; wait: number; skills: string[] }[];
  technicians: {
    id: string;
    skills: string[];
    base: string | (string | null)[];
    shift: ({ from: number; to: number } | null)[];
  }[];
}
/** Work is not handed out into gaps shorter than this. */
const LEAST_GAP = 120;
/** Minutes for getting at the engines, and how much slower than estimated anybody is. */
const OPENING = 50;
const PACE = 1.25;

/** The worst work of each base, handed to its technicians on days and hours on which they and the boat are there. */
async function handOutWork(visitor: Visitor, ids: Map<string, number>, baseId: (n: number) => number, today: string) {
  const hands: [string, number, number[]][] = [
    ['ines', 0, [0, 0, 2]],
    ['tomasz', 0, [0, 1]],
    ['reva', 1, [0, 1, 3]],
    ['jory', 2, [0]],
  ];
  // Left for the coordinator to decide.
  const held = new Set<string>(['Avocet', 'Turnstone', 'Whimbrel', 'Razorbill']);
  const { problem } = await visitor.send<{ problem: Windows }>('GET', '/plan?days=7');
  const taskOf = new Map(problem.tasks.map((t) => [t.id, t]));
  for (const [username, base, days] of hands) {
    const technician = problem.technicians.find((t) => t.id === String(ids.get(username)))!;
    /** How long the boat is free within the shift, when it is worked at that base. */
    const gap = (boatId: number, ahead: number) => {
      const shift = technician.shift[ahead];
      const where = typeof technician.base === 'string' ? technician.base : technician.base[ahead];
      if (!shift || where !== String(baseId(base))) return 0;
      const free = problem.boats.find((b) => b.id === String(boatId))?.free[ahead] ?? [];
      return Math.max(0, ...free.map((w) => Math.min(w.to, shift.to) - Math.max(w.from, shift.from)));
    };
    const due = await visitor.send<{ rows: DueRow[] }>('GET', `/service/due?baseId=${baseId(base)}&size=200`);
    const can = (task: { skills: string[] }) => task.skills.every((s) => technician.skills.includes(s));
    const wanted = due.rows.filter((r) => {
      const task = taskOf.get(`${r.engineId} ${r.due.task}`);
      return ['over', 'due', 'soon'].includes(r.due.state) && task !== undefined && can(task);
    });
    for (const wish of days) {
      const places = [wish, wish + 1, wish + 2].flatMap((ahead) =>
        [...new Set(wanted.map((r) => r.boatName))]
          .filter((name) => !held.has(name))
          .map((name) => ({ name, ahead, gap: gap(wanted.find((r) => r.boatName === name)!.boatId, ahead) })),
      );
      const place = places.find((p) => p.gap >= LEAST_GAP);
      if (!place) continue;
      held.add(place.name);
      // The worst of it that fits into the gap; the rest stays due.
      let left = place.gap - OPENING;
      const rows = wanted.filter((r) => {
        const task = taskOf.get(`${r.engineId} ${r.due.task}`);
        if (r.boatName !== place.name || !task || !can(task) || task.handsOn * PACE > left) return false;
        left -= task.handsOn * PACE;
        return true;
      });
      if (rows.length === 0) continue;
      // A filter goes with its oil, and is no work of its own in a plan.
      for (const { engineId } of rows.filter((r) => r.due.task === 'engine-oil'))
        rows.push(...due.rows.filter((r) => r.engineId === engineId && r.due.task === 'oil-filter'));
      await visitor.send('POST', '/jobs', {
        boatId: rows[0]!.boatId,
        technicianId: ids.get(username),
        day: addDays(today, place.ahead),
        tasks: rows.map((r) => ({ engineId: r.engineId, task: r.due.task })),
        insist: 'The neighbours lend a hand, and the parts are promised.',
      });
    }
  }
}
