import {
  boatOf,
  byBoat,
  dueOfEngine,
  foresee,
  type BoatFacts,
  type EngineDue,
  type EngineFacts,
} from '@diurna/core/ahead';
import { dayInZone, type Day } from '@diurna/core/calendar';
import { worstFirst } from '@diurna/core/service';
import { learnHabits, type Habits } from '@diurna/core/usage';
import { sql } from 'drizzle-orm';
import { z } from 'zod';
import { prepared, type Db } from '../db/index.ts';
import { readEngines } from './read-engines.ts';
import { readHires } from './read-hires.ts';
import { readSeasons, wantOfSeason } from './read-seasons.ts';

/**
 * A cache: the facts of the whole fleet, kept in this process and brought up to date before every use
 * by the marks of `engine_touch_cache`. One reading reloads one engine. It can be thrown away at any time,
 * and several app processes can each have one, because a mark carries the transaction that made it:
 * all marks at or after the oldest transaction still running at the last look are read again.
 */
export class FleetCache {
  readonly #db: Db;
  readonly engines = new Map<number, EngineFacts>();
  readonly boats = new Map<number, BoatFacts>();
  #seen: string | null = null;
  #loadedOn = '';
  #running: Promise<void> | null = null;
  #queued: Promise<void> | null = null;
  #dues: EngineDue[] | null = null;
  #duesDay = '';
  #habits: Habits | null = null;
  readonly #touchedSince = new Set<number>();
  #zones: string[] = [];
  #inOrder: EngineFacts[] = [];
  /** A cache of each engine's tasks, gone with the facts they were worked out from. */
  readonly #duesOf = new WeakMap<EngineFacts, { today: Day; dues: EngineDue[] }>();

  constructor(db: Db) {
    this.#db = db;
  }

  /** Resolves when everything committed before the call is in fleet. Calls at the same time share one look. */
  refresh(now: Date): Promise<void> {
    if (!this.#running) {
      this.#running = this.#load(now).finally(() => {
        this.#running = null;
      });
      return this.#running;
    }
    // The look under way may have begun too early for this caller: share the next one.
    this.#queued ??= this.#running
      .catch(() => undefined)
      .then(() => {
        this.#queued = null;
        return this.refresh(now);
      });
    return this.#queued;
  }

  /** Every task of every engine in use, worst first. Call after `refresh`. */
  allDue(now: Date): EngineDue[] {
    const todayOf = new Map(this.#zones.map((zone) => [zone, dayInZone(now, zone)]));
    const days = [...todayOf.values()].join();
    if (this.#dues && this.#duesDay === days) return this.#dues;
    // The sort keeps the order of boats among equals.
    this.#dues = this.#inOrder
      .flatMap((facts) => this.#duesOn(facts, todayOf.get(facts.timeZone)!))
      .sort((a, b) => worstFirst(a.due, b.due));
    this.#duesDay = days;
    return this.#dues;
  }

  dueOf(engineId: number, now: Date): EngineDue[] {
    const facts = this.engines.get(engineId);
    return facts ? this.#duesOn(facts, dayInZone(now, facts.timeZone)) : [];
  }

  /** Engines by boat, port to starboard. */
  inOrder(): readonly EngineFacts[] {
    return this.#inOrder;
  }

  #duesOn(facts: EngineFacts, today: Day): EngineDue[] {
    const known = this.#duesOf.get(facts);
    if (known?.today === today) return known.dues;
    const dues = dueOfEngine(facts, this.boats.get(facts.boatId)!, today);
    this.#duesOf.set(facts, { today, dues });
    return dues;
  }

  async #load(now: Date): Promise<void> {
    // A day that begins at any base moves what is ahead of it.
    const days = [now.toISOString().slice(0, 10), ...this.#zones.map((zone) => dayInZone(now, zone))].join();
    const marks = await prepared(
      this.#db,
      z.object({ xmin: z.string(), ids: z.array(z.number()), gone: z.boolean() }),
      'marks',
      `
      select pg_snapshot_xmin(pg_current_snapshot())::text as xmin,
             array(select distinct unnest(engine_ids) from engine_touch_cache where xid >= $1::xid8) as ids,
             coalesce((select xid >= $1::xid8 and id > 1 from engine_touch_cache order by id limit 1), false) as gone`,
      [this.#seen ?? '0'],
    );
    const { xmin, ids, gone } = marks[0]!;
    // Marks that were thrown away before this process saw them may have named any engine.
    const whole = this.#seen === null || gone || this.#loadedOn !== days;
    if (whole) {
      await this.#db.execute(sql`
        delete from engine_touch_cache where id <= (select coalesce(max(id), 0) - ${MARKS_KEPT}
          from engine_touch_cache)`);
      await this.#readAll(now);
    } else if (ids.length > 0) {
      await this.#readAgain(ids, now);
    }
    this.#seen = xmin;
    if (whole)
      this.#loadedOn = [now.toISOString().slice(0, 10), ...this.#zones.map((zone) => dayInZone(now, zone))].join();
  }

  async #readAll(now: Date): Promise<void> {
    const [fresh, hires, seasonOf] = await Promise.all([
      readEngines(this.#db, null, now),
      readHires(this.#db, null, now),
      readSeasons(this.#db),
    ]);
    this.engines.clear();
    this.boats.clear();
    for (const facts of fresh) this.engines.set(facts.id, facts);
    for (const [boatId, engines] of byBoatId(fresh)) {
      const boat = boatOf(engines, hires.get(boatId) ?? [], now);
      wantOfSeason(boat, seasonOf(boat), now);
      this.boats.set(boatId, boat);
    }
    this.#settle(fresh.sort(byBoat));
    await this.#learn(now);
  }

  async #readAgain(ids: number[], now: Date): Promise<void> {
    const fresh = await readEngines(this.#db, ids, now);
    // Where they were and where they are now.
    const boatIds = [
      ...new Set([...ids.flatMap((id) => this.engines.get(id)?.boatId ?? []), ...fresh.map((f) => f.boatId)]),
    ];
    const [hires, seasonOf] = await Promise.all([readHires(this.#db, boatIds, now), readSeasons(this.#db)]);
    const touched = new Set(ids);
    for (const id of ids) this.engines.delete(id);
    for (const facts of fresh) this.engines.set(facts.id, facts);
    const freshOf = byBoatId(fresh);
    for (const boatId of boatIds) {
      const engines = [
        ...(this.boats.get(boatId)?.engines ?? []).filter((e) => !touched.has(e.id)),
        ...(freshOf.get(boatId) ?? []),
      ].sort(byBoat);
      if (engines.length === 0) this.boats.delete(boatId);
      else {
        const boat = boatOf(engines, hires.get(boatId) ?? [], now);
        wantOfSeason(boat, seasonOf(boat), now);
        this.boats.set(boatId, boat);
      }
      // Its other engines run as the boat does: their tasks are worked out again.
      for (const engine of engines) this.#duesOf.delete(engine);
    }
    this.#settle(
      merged(
        this.#inOrder.filter((facts) => this.engines.get(facts.id) === facts),
        fresh.sort(byBoat),
      ),
    );
    for (const id of ids) this.#touchedSince.add(id);
    if (this.#habits === null || this.#touchedSince.size > this.engines.size / 2) await this.#learn(now);
    else for (const boatId of boatIds) this.#foresee(boatId, now);
  }

  #settle(inOrder: EngineFacts[]): void {
    this.#inOrder = inOrder;
    this.#zones = [...new Set(inOrder.map((e) => e.timeZone))].sort();
    this.#dues = null;
  }

  /** What engines have in common is learned once a day, and again when half of the fleet has changed. */
  async #learn(now: Date): Promise<void> {
    const before = now.getTime();
    const boats = [...this.boats.values()];
    this.#habits = learnHabits(
      boats.map((b) => b.use),
      boats.flatMap((b) => b.hires.filter((h) => h.back < before)),
    );
    this.#touchedSince.clear();
    let i = 0;
    for (const { id } of boats) {
      // Others get their turn in between: a large fleet takes a second.
      if (++i % BOATS_AT_ONCE === 0) await new Promise(setImmediate);
      this.#foresee(id, now);
    }
    // Somebody may have made the list while this was under way.
    this.#dues = null;
  }

  #foresee(boatId: number, now: Date): void {
    const boat = this.boats.get(boatId);
    if (!boat) return;
    foresee(boat, this.#habits!);
    for (const engine of boat.engines) {
      this.#duesOf.delete(engine);
      this.#duesOn(engine, dayInZone(now, engine.timeZone));
    }
  }
}

const BOATS_AT_ONCE = 50;
/** Marks kept for processes that have not looked yet; one that fell further behind reads the whole fleet. */
const MARKS_KEPT = 100_000;

function byBoatId(engines: readonly EngineFacts[]): Map<number, EngineFacts[]> {
  const found = new Map<number, EngineFacts[]>();
  for (const facts of engines) {
    const list = found.get(facts.boatId);
    if (list) list.push(facts);
    else found.set(facts.boatId, [facts]);
  }
  return found;
}

/** Two lists in order made one, in one pass. */
function merged(kept: EngineFacts[], fresh: EngineFacts[]): EngineFacts[] {
  const all: EngineFacts[] = [];
  let at = 0;
  for (const facts of fresh) {
    while (at < kept.length && byBoat(kept[at]!, facts) <= 0) all.push(kept[at++]!);
    all.push(facts);
  }
  for (; at < kept.length; at++) all.push(kept[at]!);
  return all;
}
