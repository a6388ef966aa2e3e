import { dayInZone, isTimeZone } from '@diurna/core/calendar';
import { POSITIONS, TRANSOMS, type Transom } from '@diurna/core/fleet';
import { usualProgramme, type Stroke } from '@diurna/core/service';
import { VOLUME_UNITS } from '@diurna/core/units';
import { COLUMNS } from '@diurna/contract/exchange';
import { METER_KINDS } from '@diurna/contract/fleet';
import { and, asc, eq, isNull, sql } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';
import { insertModel, printedVolume } from '../fleet/index.ts';
import { csvText, low, type Cell, type Line, inTurn } from './csv.ts';

const { base, boat, engine, engineModel, meter } = tables;

const YES_NO = ['yes', 'no'] as const;

/** What one good line asks for. */
interface FleetLine {
  line: Line;
  base: string;
  timeZone: string | null;
  hemisphere: 'north' | 'south' | null;
  boat: string;
  berth: string | null;
  boatClass: string | null;
  position: (typeof POSITIONS)[number];
  maker: string;
  model: string;
  serial: string;
  transom: Transom | null;
  inServiceOn: string | null;
  boughtNew: boolean;
  meter: (typeof METER_KINDS)[number] | null;
  meterOffset: number;
}

/** Figures of a model as a line gives them; null when the cells are empty. */
function modelOf(line: Line) {
  const stroke = line.choice('stroke', ['2', '4']);
  const sumpValue = line.number('sump_volume', { min: 0.01, max: 200, decimals: 3 });
  const gearValue = line.number('gear_volume', { min: 0.01, max: 200, decimals: 3 });
  const sumpUnit = line.choice('sump_unit', VOLUME_UNITS);
  const gearUnit = line.choice('gear_unit', VOLUME_UNITS);
  if (sumpValue !== null && sumpUnit === null)
    line.fault('sump_unit', 'needs the unit printed beside the volume: L or US qt');
  if (gearValue !== null && gearUnit === null)
    line.fault('gear_unit', 'needs the unit printed beside the volume: L or US fl oz');
  if (stroke === '2' && sumpValue !== null) line.fault('sump_volume', 'a two-stroke has no sump; leave it empty');
  return {
    powerHp: line.number('power_hp', { min: 0.5, max: 2000, decimals: 1 }),
    stroke: stroke === null ? null : (Number(stroke) as Stroke),
    cylinders: line.number('cylinders', { min: 1, max: 12, whole: true }),
    sump: printedVolume(sumpValue, sumpUnit),
    gearCase: printedVolume(gearValue, gearUnit),
  };
}

/**
 * Reads a fleet file: bases, boats, models and engines in one. What the book already has is moved or
 * left; models that exist keep the book's figures.
 */
export async function analyseFleet(tx: Tx, lines: Line[], now: Date): Promise<() => Promise<void>> {
  const bases = await tx.select().from(base);
  const boats = await tx.select().from(boat).where(eq(boat.retired, false));
  const models = await tx.select().from(engineModel);
  const engines = await tx.select().from(engine);
  const meters = await tx
    .select({ engineId: meter.engineId, kind: meter.kind })
    .from(meter)
    .where(isNull(meter.removedOn));
  const baseBy = new Map(bases.map((b) => [low(b.name), b]));
  const boatBy = new Map(boats.map((b) => [low(b.name), b]));
  const modelBy = new Map(models.map((m) => [`${low(m.maker)}|${low(m.name)}`, m]));
  const engineBy = new Map(engines.map((e) => [`${e.modelId}|${low(e.serial)}`, e]));
  const newBases = new Map<string, FleetLine>();
  const newModels = new Map<string, { first: Line; at: FleetLine; figures: ReturnType<typeof modelOf> }>();
  const seenSerials = new Map<string, number>();
  const places = new Map<string, number>();
  const boatBases = new Map<string, { base: string; line: number }>();
  const good: FleetLine[] = [];

  for await (const line of inTurn(lines)) {
    const row: FleetLine = {
      line,
      base: line.required('base'),
      timeZone: line.text('time_zone'),
      hemisphere: line.choice('hemisphere', ['north', 'south']),
      boat: line.required('boat'),
      berth: line.text('berth'),
      boatClass: line.text('boat_class'),
      position: line.choice('position', POSITIONS) ?? 'single',
      maker: line.required('maker'),
      model: line.required('model'),
      serial: line.required('serial'),
      transom: line.choice('transom', TRANSOMS),
      inServiceOn: line.day('in_service_on'),
      boughtNew: line.choice('bought_new', YES_NO) === 'yes',
      meter: line.choice('meter', [...METER_KINDS, 'none'] as const) as FleetLine['meter'],
      meterOffset: line.number('meter_offset', { min: 0, max: 99_999, decimals: 1 }) ?? 0,
    };
    if ((row.meter as string) === 'none') row.meter = null;
    if (line.text('position') === null) line.fault('position', `is empty; write one of: ${POSITIONS.join(', ')}`);
    if (row.boughtNew && row.inServiceOn === null)
      line.fault('in_service_on', 'an engine bought new needs the day it went into service');
    const figures = modelOf(line);

    const knownBase = baseBy.get(low(row.base));
    if (!knownBase && row.base !== '') {
      const first = newBases.get(low(row.base));
      if (!first) {
        if (row.timeZone === null)
          line.fault('time_zone', `${row.base} is new to the book and needs a time zone, like Atlantic/Azores`);
        newBases.set(low(row.base), row);
      }
    }
    if (row.timeZone !== null && !isTimeZone(row.timeZone))
      line.fault('time_zone', `"${row.timeZone}" is no time zone; write one like Atlantic/Azores`);

    const modelKey = `${low(row.maker)}|${low(row.model)}`;
    const knownModel = modelBy.get(modelKey);
    if (!knownModel && row.maker !== '' && row.model !== '') {
      const first = newModels.get(modelKey);
      if (!first) {
        for (const [column, value] of [
          ['power_hp', figures.powerHp],
          ['stroke', figures.stroke],
          ['cylinders', figures.cylinders],
        ] as const) {
          if (value === null && !line.faults.some((f) => f.column === column))
            line.fault(column, `${row.maker} ${row.model} is new to the book and needs this figure`);
        }
        newModels.set(modelKey, { first: line, at: row, figures });
      } else if (figures.stroke !== null && first.figures.stroke !== figures.stroke) {
        line.fault('stroke', `line ${first.first.line} says the ${row.model} is a ${first.figures.stroke}-stroke`);
      }
    }

    const serialKey = `${modelKey}|${low(row.serial)}`;
    const earlier = seenSerials.get(serialKey);
    if (earlier !== undefined) line.fault('serial', `stands in line ${earlier} already`);
    seenSerials.set(serialKey, line.line);
    const place = `${low(row.boat)}|${row.position}`;
    if (places.has(place)) line.fault('position', `line ${places.get(place)} puts an engine there already`);
    places.set(place, line.line);
    const home = boatBases.get(low(row.boat));
    if (home && home.base !== low(row.base)) line.fault('base', `line ${home.line} has ${row.boat} at another base`);
    else boatBases.set(low(row.boat), { base: low(row.base), line: line.line });

    const known = knownModel ? engineBy.get(`${knownModel.id}|${low(row.serial)}`) : undefined;
    const knownBoat = boatBy.get(low(row.boat));
    if (!known) line.does = 'add';
    else if (
      known.boatId !== knownBoat?.id ||
      known.position !== row.position ||
      known.retired ||
      knownBoat.baseId !== knownBase?.id ||
      otherThan(row, knownBoat) ||
      (row.transom !== null && known.transom !== row.transom) ||
      (row.inServiceOn !== null && known.inServiceOn !== row.inServiceOn) ||
      (line.text('bought_new') !== null && known.boughtNew !== row.boughtNew) ||
      (row.meter !== null && !meters.some((m) => m.engineId === known.id))
    )
      line.does = 'change';
    good.push(row);
  }

  // A place held by an engine that the file does not move away.
  const moved = new Set(
    good.map((r) => engineBy.get(`${modelBy.get(`${low(r.maker)}|${low(r.model)}`)?.id}|${low(r.serial)}`)?.id),
  );
  for (const row of good) {
    const there = boatBy.get(low(row.boat));
    const holder =
      there &&
      engines.find((e) => !e.retired && e.boatId === there.id && e.position === row.position && !moved.has(e.id));
    if (holder) row.line.fault('position', `engine ${holder.serial} hangs there; move or retire it first`);
  }

  return async () => {
    const baseIds = new Map(bases.map((b) => [low(b.name), b.id]));
    for (const [key, row] of newBases) {
      const [made] = await tx
        .insert(base)
        .values({ name: row.base, timeZone: row.timeZone!, hemisphere: row.hemisphere ?? 'north' })
        .returning({ id: base.id });
      baseIds.set(key, made!.id);
    }
    const modelIds = new Map(models.map((m) => [`${low(m.maker)}|${low(m.name)}`, m.id]));
    for (const [key, { at, figures }] of newModels) {
      const made = await insertModel(tx, {
        maker: at.maker,
        name: at.model,
        powerHp: figures.powerHp!,
        stroke: figures.stroke!,
        cylinders: figures.cylinders!,
        sump: figures.sump,
        gearCase: figures.gearCase,
        rules: usualProgramme({ powerHp: figures.powerHp!, stroke: figures.stroke!, cylinders: figures.cylinders! }),
      });
      modelIds.set(key, made.id);
    }
    const boatIds = new Map(boats.map((b) => [low(b.name), b.id]));
    for (const row of good) {
      const baseId = baseIds.get(low(row.base))!;
      const known = boatBy.get(low(row.boat));
      if (!boatIds.has(low(row.boat))) {
        const [made] = await tx
          .insert(boat)
          .values({ name: row.boat, baseId, berth: row.berth, boatClass: row.boatClass })
          .returning({ id: boat.id });
        boatIds.set(low(row.boat), made!.id);
      } else if (known && (known.baseId !== baseId || otherThan(row, known))) {
        await tx
          .update(boat)
          .set({
            baseId,
            berth: row.berth ?? known.berth,
            boatClass: row.boatClass ?? known.boatClass,
            version: sql`${boat.version} + 1`,
          })
          .where(eq(boat.id, known.id));
      }
    }
    // Two engines may swap places: take all that move off first.
    for (const id of moved)
      if (id !== undefined) await tx.update(engine).set({ boatId: null }).where(eq(engine.id, id));
    for (const row of good) {
      const modelId = modelIds.get(`${low(row.maker)}|${low(row.model)}`)!;
      const known = engineBy.get(`${modelId}|${low(row.serial)}`);
      const values = { boatId: boatIds.get(low(row.boat))!, position: row.position };
      let engineId = known?.id;
      if (known) {
        await tx
          .update(engine)
          .set({
            ...values,
            retired: false,
            inServiceOn: row.inServiceOn ?? known.inServiceOn,
            transom: row.transom ?? known.transom,
            boughtNew: row.line.text('bought_new') === null ? known.boughtNew : row.boughtNew,
            ...(row.line.does === 'change' && { version: sql`${engine.version} + 1` }),
          })
          .where(eq(engine.id, known.id));
      } else {
        const [made] = await tx
          .insert(engine)
          .values({
            ...values,
            modelId,
            serial: row.serial,
            transom: row.transom,
            inServiceOn: row.inServiceOn,
            boughtNew: row.boughtNew,
          })
          .returning({ id: engine.id });
        engineId = made!.id;
      }
      if (row.meter !== null && !meters.some((m) => m.engineId === engineId)) {
        const today = dayInZone(now, 'UTC');
        await tx
          .insert(meter)
          .values({
            engineId: engineId!,
            kind: row.meter,
            hoursOffset: row.meterOffset,
            fittedOn: row.inServiceOn !== null && row.inServiceOn < today ? row.inServiceOn : '2000-01-01',
          });
      }
    }
  };
}

/** Whether a line says other of its boat than the book; an empty cell says nothing. */
const otherThan = (row: FleetLine, known: typeof boat.$inferSelect): boolean =>
  (row.berth !== null && known.berth !== row.berth) || (row.boatClass !== null && known.boatClass !== row.boatClass);

/** The whole fleet in the same columns. */
export async function* fleetFile(db: Db): AsyncGenerator<string> {
  const columns = [...COLUMNS.fleet.required, ...COLUMNS.fleet.optional];
  yield csvText([columns]);
  const rows = await db
    .select({ e: engine, m: engineModel, b: boat, s: base, t: meter })
    .from(engine)
    .innerJoin(engineModel, eq(engineModel.id, engine.modelId))
    .innerJoin(boat, eq(boat.id, engine.boatId))
    .innerJoin(base, eq(base.id, boat.baseId))
    .leftJoin(meter, and(eq(meter.engineId, engine.id), isNull(meter.removedOn)))
    .where(and(eq(engine.retired, false), eq(boat.retired, false)))
    .orderBy(asc(base.name), asc(boat.name), asc(engine.id));
  yield csvText(
    rows.map(({ e, m, b, s, t }) => {
      const cells: Record<string, Cell> = {
        base: s.name,
        boat: b.name,
        position: e.position,
        maker: m.maker,
        model: m.name,
        serial: e.serial,
        time_zone: s.timeZone,
        hemisphere: s.hemisphere,
        berth: b.berth,
        power_hp: m.powerHp,
        stroke: m.stroke,
        cylinders: m.cylinders,
        sump_volume: m.sumpValue,
        sump_unit: m.sumpUnit,
        gear_volume: m.gearValue,
        gear_unit: m.gearUnit,
        in_service_on: e.inServiceOn,
        bought_new: e.boughtNew,
        meter: t?.kind ?? 'none',
        meter_offset: t?.hoursOffset ?? null,
        transom: e.transom,
        boat_class: b.boatClass,
      };
      return columns.map((c) => cells[c]);
    }),
  );
}
