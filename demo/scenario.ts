import { addDays, addMonths, daysBetween, type Day } from '@diurna/core/calendar';
import { usualProgramme, type TaskKind } from '@diurna/core/service';
import type { Position } from '@diurna/core/fleet';
import Papa from 'papaparse';
import { demoHires, type DemoHire } from './hires.ts';
import { PARTS } from './parts.ts';
import { MODELS, type DemoModel, type ModelKey } from './models.ts';
import { seeded, type Random } from './random.ts';

export const BASES = ['Brindle Quay', 'Outer Mole', 'Larkspur Slip'] as const;
export const DEMO_ZONE = 'Atlantic/Madeira';

/** Boat, base, berth, engines by position. Named after shore birds. */
const BOATS: [string, 0 | 1 | 2, string, Partial<Record<Position, ModelKey>>][] = [
  ['Turnstone', 0, '14', { port: 'corvane60', starboard: 'corvane60' }],
  ['Whimbrel', 0, '9', { single: 'skarn90', kicker: 'lumen6' }],
  ['Fulmar', 0, '2', { port: 'corvane150', starboard: 'corvane150' }],
  ['Dunlin', 0, '21', { single: 'corvane60' }],
  ['Gannet', 0, '1', { port: 'corvane200', starboard: 'corvane200', kicker: 'lumen20' }],
  ['Petrel', 0, '16', { single: 'corvane60' }],
  ['Sanderling', 0, '22', { single: 'skarn40' }],
  ['Plover', 0, '23', { single: 'skarn40' }],
  ['Avocet', 0, '8', { single: 'skarn90' }],
  ['Kittiwake', 0, '17', { single: 'corvane60', kicker: 'lumen6' }],
  ['Razorbill', 0, '5', { port: 'skarn90', starboard: 'skarn90' }],
  ['Skua', 0, '18', { single: 'corvane60' }],
  ['Noddy', 0, '30', { single: 'lumen20' }],
  ['Tern', 0, '12', { single: 'skarn90', kicker: 'lumen6' }],
  ['Shearwater', 1, 'A3', { port: 'corvane150', starboard: 'corvane150' }],
  ['Curlew', 1, 'A5', { single: 'corvane150', kicker: 'lumen6' }],
  ['Godwit', 1, 'B1', { single: 'corvane60' }],
  ['Knot', 1, 'B2', { single: 'teal50' }],
  ['Phalarope', 1, 'A1', { port: 'corvane200', starboard: 'corvane200' }],
  ['Oystercatcher', 1, 'B4', { single: 'skarn90' }],
  ['Lapwing', 1, 'B6', { single: 'skarn40' }],
  ['Redshank', 1, 'B7', { single: 'teal50' }],
  ['Greenshank', 1, 'B8', { single: 'lumen20' }],
  ['Guillemot', 1, 'A7', { port: 'corvane60', starboard: 'corvane60' }],
  ['Puffin', 2, '1', { single: 'lumen20' }],
  ['Dotterel', 2, '2', { single: 'teal8' }],
  ['Ruff', 2, '3', { single: 'teal8' }],
  ['Stilt', 2, '4', { single: 'skarn40' }],
  ['Sandpiper', 2, '5', { single: 'corvane60' }],
  ['Cormorant', 2, '6', { single: 'teal50' }],
];

const CRUISERS: readonly string[] = ['Gannet', 'Phalarope', 'Fulmar', 'Shearwater'];
const SMALL: readonly string[] = ['skarn40', 'lumen20', 'teal50', 'teal8'];

/** What a boat of the demo is hired out as. */
export function classOf(name: string): string {
  const main = Object.values(BOATS.find(([boat]) => boat === name)?.[3] ?? {})[0];
  return CRUISERS.includes(name) ? 'cabin cruiser' : main && SMALL.includes(main) ? 'open boat' : 'bay boat';
}

interface DemoEngine {
  boat: string;
  base: number;
  berth: string;
  position: Position;
  model: DemoModel;
  serial: string;
  inService: Day | null;
  isNew: boolean;
  readings: { day: Day; hours: number }[];
  done: { task: TaskKind; day: Day; hours: number | null; by: string; remark?: string }[];
}

const YARD = ['Ines', 'Tomasz', 'Reva', 'Jory'] as const;
/** The season has run for eight weeks; before it lies a quiet winter, before that the last season. */
const SEASON_WEEKS = 8;
const WINTER_WEEKS = 26;
const HISTORY_WEEKS = 62;

/** Weekly readings up to some days ago, hours growing with the season. */
function readingsOf(random: Random, today: Day): DemoEngine['readings'] {
  const busy = random.between(4, 15);
  const readings: DemoEngine['readings'] = [];
  let hours = Math.round(random.between(40, 620) * 10) / 10;
  const lastAgo = random.chance(0.7) ? random.whole(0, 5) : random.whole(8, 13);
  for (let week = HISTORY_WEEKS; week >= 0; week--) {
    const ago = week * 7 + lastAgo;
    const inSeason = week < SEASON_WEEKS || week >= SEASON_WEEKS + WINTER_WEEKS;
    const rise = inSeason ? busy * random.between(0.55, 1.45) : random.chance(0.12) ? random.between(0.1, 0.8) : 0;
    hours = Math.round((hours + rise) * 10) / 10;
    if (inSeason || week % 4 === 0) readings.push({ day: addDays(today, -ago), hours });
  }
  return readings;
}

/** Before its first reading an engine ran so many hours a day. */
const EARLIER_HOURS = 0.6;

/** A service before the first reading, on a day its meter could have shown its hours. */
function shownBy<T extends { day: Day; hours: number | null }>(first: { day: Day; hours: number | null }, done: T): T {
  if (first.hours === null || done.hours === null) return done;
  return { ...done, day: addDays(first.day, -Math.max(1, Math.round((first.hours - done.hours) / EARLIER_HOURS))) };
}

/** Hours after which two of three are worn out, and how steeply: of parts somebody looks at when they are renewed. */
const WEARS: Partial<Record<TaskKind, [scale: number, shape: number]>> = {
  impeller: [330, 2.6],
  'spark-plugs': [420, 3],
  'fuel-filter': [520, 1.8],
};

/** How the old part was when it was renewed; by a chance of its own, so that the story stays as it is. */
function oldPartOf(
  serial: string,
  { task, day, hours }: DemoEngine['done'][number],
  before: DemoEngine['done'][number] | undefined,
): 'sound' | 'spent' | null {
  const wears = WEARS[task];
  if (!wears || hours === null || before?.hours == null) return null;
  const [scale, shape] = wears;
  const seed = `${serial} ${task} ${day}`.split('').reduce((sum, c) => (sum * 31 + c.charCodeAt(0)) % 2_147_483_647, 7);
  return seeded(seed).chance(1 - Math.exp(-(((hours - before.hours) / scale) ** shape))) ? 'spent' : 'sound';
}

/** Work that brings a technician to the boat; all else is done when one is there. */
const BY_ITSELF = new Set<TaskKind>(['engine-oil', 'gear-lube', 'spark-plugs', 'impeller']);

/** Services done about when they fell due, some a little late, some missed. */
function historyOf(random: Random, engine: DemoEngine, today: Day): void {
  const first = engine.readings[0] ?? { day: addDays(today, -HISTORY_WEEKS * 7), hours: null };
  for (const rule of usualProgramme(engine.model)) {
    if (!BY_ITSELF.has(rule.task)) continue;
    const every = rule.everyHours ?? 100;
    let last = {
      day: addDays(first.day, -random.whole(10, 120)),
      hours:
        first.hours === null ? null : Math.max(0, Math.round((first.hours - random.between(5, every * 0.9)) * 10) / 10),
    };
    engine.done.push({ task: rule.task, ...shownBy(first, last), by: random.pick(YARD) });
    const patience = random.between(0.86, 1.05);
    const steps: { day: Day; hours: number | null }[] =
      engine.readings.length > 0
        ? engine.readings.slice(1, -1)
        : [300, 200, 100, 30].map((ago) => ({ day: addDays(today, -ago), hours: null }));
    for (const step of steps) {
      const byHours = step.hours !== null && last.hours !== null && step.hours - last.hours >= every * patience;
      const byMonths =
        rule.everyMonths !== null && step.day >= addDays(addMonths(last.day, rule.everyMonths), -random.whole(0, 50));
      if (!byHours && !byMonths) continue;
      last = { day: step.day, hours: step.hours };
      engine.done.push({ task: rule.task, ...last, by: random.pick(YARD) });
    }
  }
  engine.done.push(
    ...engine.done.filter((d) => d.task === 'engine-oil').map((d) => ({ ...d, task: 'oil-filter' as const })),
  );
}

/** What is done when somebody is at the engine anyway, and is now and then forgotten. */
function inPassing(random: Random, engine: DemoEngine, today: Day): void {
  const visits = engine.done.filter((d) => d.task === 'engine-oil' || d.task === 'gear-lube');
  // When the season began every leg was looked at.
  const spring = engine.readings.find((r) => daysBetween(r.day, today) <= SEASON_WEEKS * 7);
  if (spring) visits.push({ task: 'gear-lube', day: spring.day, hours: spring.hours, by: random.pick(YARD) });
  visits.sort((a, b) => (a.day < b.day ? -1 : 1));
  for (const { task, everyHours, everyMonths } of usualProgramme(engine.model)) {
    if (BY_ITSELF.has(task) || task === 'oil-filter' || task === 'oil-level') continue;
    let last: (typeof visits)[number] | null = null;
    for (const visit of visits) {
      const run = last?.hours == null || visit.hours === null ? 0 : visit.hours - last.hours;
      const wanted =
        last === null ||
        (everyHours !== null && run >= everyHours * 0.7) ||
        (everyMonths !== null && daysBetween(last.day, visit.day) >= everyMonths * 21);
      if (!wanted || random.chance(0.06)) continue;
      last = visit;
      engine.done.push({ task, day: visit.day, hours: visit.hours, by: visit.by });
    }
  }
  // Between two changes somebody looks at the dipstick.
  if (engine.model.stroke === 2) return;
  let read: number | null = null;
  for (const { day, hours } of engine.readings.slice(1, -1)) {
    const changed = visits.findLast((v) => v.task === 'engine-oil' && v.day <= day)?.hours ?? 0;
    const since: number = hours - Math.max(changed, read ?? 0);
    if (since < 42 || random.chance(0.15)) continue;
    read = hours;
    engine.done.push({ task: 'oil-level', day, hours, by: random.pick(YARD) });
  }
}

/** Moves the last time a task was done so that it stands where the story wants it. */
function setLast(engine: DemoEngine, tasks: TaskKind[], hoursAgo: number, today: Day): void {
  const now = engine.readings.at(-1)!.hours;
  for (const task of tasks) {
    const at = Math.round((now - hoursAgo) * 10) / 10;
    const reading = engine.readings.findLast((r) => r.hours <= at);
    const first = engine.readings[0]!;
    // The day after the reading it lies past: its meter showed these hours by then, and not yet the next ones.
    const day = reading
      ? addDays(reading.day, at > reading.hours ? 1 : 0)
      : shownBy(first, { day: first.day, hours: at }).day;
    engine.done = engine.done.filter((d) => d.task !== task || d.day < day);
    engine.done.push({ task, day: day > today ? today : day, hours: at, by: 'Ines' });
  }
}

function makeEngines(today: Day, random: Random): DemoEngine[] {
  const serials = new Map<string, number>();
  // What was added later does not move what was there before.
  const aside = seeded(20_270_101);
  const engines: DemoEngine[] = [];
  for (const [boat, base, berth, hung] of BOATS) {
    for (const [position, key] of Object.entries(hung) as [Position, ModelKey][]) {
      const model = MODELS[key];
      const number = (serials.get(key) ?? 40_110 + random.whole(0, 3)) + random.whole(1, 4);
      serials.set(key, number);
      const engine: DemoEngine = {
        boat,
        base,
        berth,
        position,
        model,
        serial: `${model.prefix}-${number}`,
        inService: addDays(today, -random.whole(HISTORY_WEEKS * 7 + 60, 2200)),
        isNew: false,
        readings: model.metered ? readingsOf(random, today) : [],
        done: [],
      };
      const twin = engines.find((e) => e.boat === boat && e.model === model);
      if (twin)
        engine.readings = twin.readings.map((r) => ({
          day: r.day,
          hours: Math.max(0, Math.round((r.hours - 0.8 - (r.hours % 3) / 10) * 10) / 10),
        }));
      for (let i = 1; i < engine.readings.length; i++)
        engine.readings[i]!.hours = Math.max(engine.readings[i]!.hours, engine.readings[i - 1]!.hours);
      historyOf(random, engine, today);
      inPassing(aside, engine, today);
      engines.push(engine);
    }
  }
  return engines;
}

function tellTheStory(engines: DemoEngine[], today: Day): void {
  const at = (boat: string, position: Position = 'single') =>
    engines.find((e) => e.boat === boat && e.position === position)!;
  setLast(at('Turnstone', 'starboard'), ['gear-lube'], 106, today);
  setLast(at('Turnstone', 'port'), ['engine-oil', 'oil-filter'], 91, today);
  setLast(at('Avocet'), ['engine-oil', 'oil-filter'], 94.2, today);
  setLast(at('Razorbill', 'port'), ['engine-oil', 'oil-filter'], 106.3, today);
  setLast(at('Razorbill', 'port'), ['gear-lube'], 61, today);
  setLast(at('Razorbill', 'starboard'), ['spark-plugs'], 103.4, today);
  setLast(at('Whimbrel'), ['impeller'], 196, today);
  setLast(at('Whimbrel'), ['gear-lube'], 84, today);
  setLast(at('Gannet', 'port'), ['engine-oil', 'oil-filter', 'gear-lube'], 98.5, today);
  setLast(at('Phalarope', 'port'), ['impeller'], 188, today);
  const milky = at('Fulmar', 'starboard');
  setLast(milky, ['gear-lube'], 9.4, today);
  milky.done.at(-1)!.remark = 'Came out milky. Seals wanted before it goes far.';
  // Bought second-hand with no papers.
  const stilt = at('Stilt');
  stilt.done = [];
  stilt.inService = null;
  // Fresh from the crate, and still to be run in.
  const dotterel = at('Dotterel');
  dotterel.done = [];
  dotterel.isNew = true;
  dotterel.inService = addDays(today, -6);
  // Never ran since it was fitted: only the calendar counts.
  const noddy = at('Noddy');
  const quiet = noddy.readings[0]!;
  noddy.readings = noddy.readings.map((r) => ({ day: r.day, hours: quiet.hours }));
  noddy.done = noddy.done
    .filter((d) => daysBetween(d.day, today) > 380)
    .map((d) => ({ ...d, hours: Math.min(d.hours ?? 0, quiet.hours) }));
}

export interface Scenario {
  fleet: string;
  hours: string;
  parts: string;
  service: string;
  hires: string;
  /** Kept by the booking desk of one base, and read from its calendar. */
  desk: DemoHire[];
}

/** Bookings of the base with a desk come from there from this many days ago on. */
const DESK_DAYS = 28;
const DESK_BASE = 2;

const csv = (rows: Record<string, string | number | null>[], fields: string[]) =>
  Papa.unparse({ fields, data: rows.map((r) => fields.map((f) => r[f] ?? '')) }, { newline: '\r\n' });

/**
 * The demo fleet as the files the book reads, told so that the season has run for eight weeks on `today`,
 * whatever the month: boats are hired all year there. The same day gives the same files.
 *
 * @param asOf bookings known by this day; the day itself when left out
 */
export function scenario(today: Day, asOf: Day = today, hemisphere: 'north' | 'south' = 'north'): Scenario {
  const random = seeded(20_260_415);
  const engines = makeEngines(today, random);
  tellTheStory(engines, today);
  const fleet = engines.map((e) => ({
    base: BASES[e.base]!,
    time_zone: DEMO_ZONE,
    hemisphere,
    boat: e.boat,
    berth: e.berth,
    position: e.position,
    maker: e.model.maker,
    model: e.model.name,
    power_hp: e.model.powerHp,
    stroke: e.model.stroke,
    cylinders: e.model.cylinders,
    sump_volume: e.model.sump?.[0] ?? null,
    sump_unit: e.model.sump?.[1] ?? null,
    gear_volume: e.model.gear[0],
    gear_unit: e.model.gear[1],
    serial: e.serial,
    in_service_on: e.inService,
    bought_new: e.isNew ? 'yes' : 'no',
    meter: e.model.metered ? (e.model.powerHp >= 60 ? 'computer' : 'dash') : 'none',
    meter_offset: e.model.metered ? 0 : null,
    transom: e.model.powerHp < 15 ? 'short' : e.model.powerHp < 115 ? 'long' : 'extra long',
  }));
  const hours = engines.flatMap((e) =>
    e.readings.map((r) => ({
      serial: e.serial,
      model: `${e.model.maker} ${e.model.name}`,
      read_on: r.day,
      count: r.hours,
    })),
  );
  const service = engines.flatMap((e) =>
    e.done
      .sort((a, b) => (a.day < b.day ? -1 : 1))
      .map((d, i) => ({
        serial: e.serial,
        model: `${e.model.maker} ${e.model.name}`,
        task: d.task,
        done_on: d.day,
        hours: d.hours,
        done_by: d.by,
        remark: d.remark ?? null,
        old_part: oldPartOf(
          e.serial,
          d,
          e.done.slice(0, i).findLast((x) => x.task === d.task),
        ),
      })),
  );
  const parts = PARTS.flatMap((p, at) =>
    Array.from({ length: Math.max(3, p.fits.length) }, (_, i) => {
      const fit = p.fits[i];
      return {
        part: p.number,
        name: p.name,
        kind: p.kind,
        unit: p.unit,
        price: p.price,
        base: BASES[i] ?? null,
        count: i < 3 ? p.counts[i]! : null,
        shelf: i < 3 ? `${'ABCDEF'[at % 6]!}${1 + Math.floor(at / 6)}` : null,
        model: fit ? `${MODELS[fit.model].maker} ${MODELS[fit.model].name}` : null,
        task: fit?.task ?? null,
        quantity: fit?.quantity ?? null,
        serial_from: fit?.from ?? null,
        serial_to: fit?.to ?? null,
      };
    }),
  );
  const boats = BOATS.map(([boat]) => ({
    boat,
    readings: engines.find((e) => e.boat === boat && e.readings.length > 0)?.readings ?? [],
  }));
  const atDesk = new Set(BOATS.filter(([, base]) => base === DESK_BASE).map(([boat]) => boat));
  const hires = demoHires(boats, today, asOf);
  const desk = hires.filter((h) => atDesk.has(h.boat) && h.out > addDays(today, -DESK_DAYS));
  const own = hires
    .filter((h) => !desk.includes(h))
    .map((h) => ({ boat: h.boat, out: h.out, back: h.back, booked_on: h.bookedOn, reference: h.reference }));
  return {
    desk,
    hires: csv(own, ['boat', 'out', 'back', 'booked_on', 'reference']),
    fleet: csv(fleet, Object.keys(fleet[0]!)),
    hours: csv(hours, Object.keys(hours[0]!)),
    parts: csv(parts, Object.keys(parts[0]!)),
    service: csv(service, Object.keys(service[0]!)),
  };
}
