import { addDays, instantInZone, type Day } from '@diurna/core/calendar';
import { DEMO_ZONE } from './scenario.ts';
import { Visitor } from './visitor.ts';
import { workCard, type Seen, type WorkedCard } from './work-card.ts';

/** A card of years gone by. */
interface Lived {
  boat: string;
  who: string;
  /** So many days before the day of the story. */
  ago: number;
  positions: string[];
  tasks: string[];
  pace: number;
  /** Pressures by cylinder, in psi, and by position where they differ. */
  psi?: Record<string, number[]>;
  /** What was seen otherwise than well: by reading, or by position and reading. */
  seen?: Record<string, Seen>;
  remark: string;
}

const look = (choice: string): Seen => ({ choice });
const percent = (value: number): Seen => ({ value, unit: '%' });
const FULL = ['engine-oil', 'oil-filter', 'gear-lube', 'spark-plugs', 'compression', 'anodes'];
const TWO_STROKE = ['gear-lube', 'spark-plugs', 'compression', 'anodes'];
const TWINS = ['port', 'starboard'];

/**
 * Work the yard has done and seen over three years, on a few boats: twins that age apart, a two-stroke whose second
 * cylinder goes down, a fuel filter that led to a tank, a boat in the sand that grooves its pumps. Its minutes teach.
 */
const LIVED: Lived[] = [
  {
    boat: 'Turnstone',
    who: 'ines',
    ago: 1120,
    positions: TWINS,
    tasks: FULL,
    pace: 1.3,
    psi: { port: [131, 130, 130, 129], starboard: [131, 131, 130, 130] },
    seen: { 'anode left': percent(85) },
    remark: 'First season behind them.',
  },
  {
    boat: 'Turnstone',
    who: 'ines',
    ago: 760,
    positions: TWINS,
    tasks: FULL,
    pace: 1.12,
    psi: { port: [130, 129, 129, 128], starboard: [129, 128, 126, 128] },
    seen: { 'anode left': percent(62) },
    remark: 'Starboard a little behind port.',
  },
  {
    boat: 'Turnstone',
    who: 'ines',
    ago: 470,
    positions: TWINS,
    tasks: [...FULL, 'fuel-filter'],
    pace: 1.04,
    psi: { port: [129, 129, 128, 128], starboard: [128, 126, 122, 126] },
    seen: { 'port anode left': percent(55), 'starboard anode left': percent(44), 'fuel filter look': look('dark') },
    remark: 'Dark filters on both: the tank is to be looked at.',
  },
  {
    boat: 'Turnstone',
    who: 'ines',
    ago: 452,
    positions: TWINS,
    tasks: ['tank-check'],
    pace: 1,
    seen: { 'tank look': look('dirt') },
    remark: 'Dirt in the glass, tank flushed.',
  },
  {
    boat: 'Turnstone',
    who: 'ines',
    ago: 118,
    positions: TWINS,
    tasks: ['compression', 'anodes', 'battery-check'],
    pace: 0.97,
    psi: { port: [128, 128, 127, 127], starboard: [127, 124, 118, 124] },
    seen: { 'anode left': percent(72) },
    remark: 'Starboard third cylinder goes down year by year.',
  },
  {
    boat: 'Knot',
    who: 'reva',
    ago: 1010,
    positions: ['single'],
    tasks: TWO_STROKE,
    pace: 1.5,
    psi: { single: [126, 125, 126] },
    remark: 'Runs well.',
  },
  {
    boat: 'Knot',
    who: 'reva',
    ago: 640,
    positions: ['single'],
    tasks: TWO_STROKE,
    pace: 1.32,
    psi: { single: [125, 121, 125] },
    seen: { 'plug look': look('sooty') },
    remark: 'Plugs sooty, runs rich at idle.',
  },
  {
    boat: 'Knot',
    who: 'reva',
    ago: 96,
    positions: ['single'],
    tasks: ['compression'],
    pace: 1.2,
    psi: { single: [123, 113, 122] },
    remark: 'Second cylinder again a little lower.',
  },
  {
    boat: 'Sandpiper',
    who: 'jory',
    ago: 620,
    positions: ['single'],
    tasks: ['impeller', 'anodes'],
    pace: 1.4,
    seen: { 'pump metal': look('groove'), 'impeller look': look('set') },
    remark: 'Sand in the housing.',
  },
  {
    boat: 'Sandpiper',
    who: 'jory',
    ago: 455,
    positions: ['single'],
    tasks: ['compression', 'anodes', 'battery-check'],
    pace: 1.2,
    psi: { single: [130, 129, 128, 129] },
    seen: { 'battery volts': { value: 12.4, unit: 'V' } },
    remark: 'Battery a little low.',
  },
];

interface BoatRow {
  id: number;
  name: string;
  engines: { id: number; position: string }[];
}

/** Writes the years before: each card at its own time, then looked at after its first outing. */
export async function liveThroughYears(
  {
    address,
    desk,
    setClock,
    password,
  }: { address: string; desk: Visitor; setClock: (at: Date) => void; password: string },
  ids: ReadonlyMap<string, number>,
  today: Day,
): Promise<void> {
  const { rows } = await desk.send<{ rows: BoatRow[] }>('GET', '/fleet/boats?size=200');
  for (const card of [...LIVED].sort((a, b) => b.ago - a.ago)) {
    const boat = rows.find((b) => b.name === card.boat)!;
    const engines = card.positions.map((p) => boat.engines.find((e) => e.position === p)!);
    const day = addDays(today, -card.ago);
    const finished = instantInZone(day, 15 * 60, DEMO_ZONE);
    setClock(instantInZone(day, 7 * 60, DEMO_ZONE));
    const [coordinator, hands] = [new Visitor(address), new Visitor(address)];
    await coordinator.signIn('ilse', password);
    await hands.signIn(card.who, password);
    const seen: WorkedCard['seen'] = (kind, { position }, part) =>
      kind === 'compression' && part !== null && card.psi?.[position]?.[part - 1] !== undefined
        ? { value: card.psi[position][part - 1]!, unit: 'psi' }
        : (card.seen?.[`${position} ${kind}`] ?? card.seen?.[kind]);
    await workCard(coordinator, hands, {
      boatId: boat.id,
      technicianId: ids.get(card.who)!,
      day,
      tasks: engines.flatMap((e) => card.tasks.map((task) => ({ engineId: e.id, task }))),
      finished,
      handedOut: () => {
        setClock(finished);
      },
      // Years ago the shelf was another.
      insist: 'It was there when it was worked.',
      pace: card.pace,
      seen,
      remark: card.remark,
      books: 'nothing',
    });
    // Looked at after the first outing, as it is after every service.
    const after = addDays(day, 2);
    setClock(instantInZone(after, 10 * 60, DEMO_ZONE));
    for (const e of engines)
      await coordinator.send('POST', '/service/entries', {
        engineId: e.id,
        tasks: ['first-outing'],
        doneOn: after,
        hours: null,
        doneBy: null,
        remark: 'Dry, level as it was.',
      });
    await settle(address, coordinator, hands, password);
  }
}

/** What was asked of stores then was fitted then, and what people were told they read. */
async function settle(address: string, coordinator: Visitor, hands: Visitor, password: string): Promise<void> {
  const told = [coordinator, hands];
  const wanted = await coordinator.send<{ id: number }[]>('GET', '/stores/wanted');
  if (wanted.length > 0) {
    const stores = new Visitor(address);
    await stores.signIn('hanne', password);
    told.push(stores);
    for (const { id } of wanted)
      await stores.send('POST', `/stores/wanted/${id}/close`, {
        act: 'not needed',
        because: 'was on the shelf, and fitted',
      });
  }
  // What was told then was read then.
  for (const person of told) {
    const notices = await person.send<{ id: number }[]>('GET', '/session/notices');
    if (notices.length > 0)
      await person.send('POST', '/session/notices/read', { upTo: Math.max(...notices.map((n) => n.id)) });
  }
}
