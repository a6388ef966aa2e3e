import { addDays, type Day } from '@diurna/core/calendar';
import { usualProgramme, type TaskKind } from '@diurna/core/service';
import { seeded } from './random.ts';

export interface LargeFleet {
  boats: { id: number; name: string; base: number }[];
  engines: { id: number; boat: number; position: 'single' | 'port' | 'starboard'; serial: string; inServiceOn: Day }[];
  /** Columns side by side: large, and loaded as arrays. */
  readings: { engine: number[]; day: Day[]; count: number[] };
  entries: { engine: number[]; task: TaskKind[]; day: Day[]; hours: number[] };
}

const YEARS = 5;
/** Work every programme has. */
const TASKS = usualProgramme({ powerHp: 60, stroke: 4, cylinders: 4 }).map((r) => r.task);

/**
 * A large invented fleet for measuring: the same seed gives the same one. Engines are read every few
 * days and every task is done a little before or after its limit.
 */
export function largeFleet(
  seed: number,
  today: Day,
  size: { engines: number; boats: number; readings: number; entries: number },
): LargeFleet {
  const random = seeded(seed);
  const twins = size.engines - size.boats;
  const first = addDays(today, -YEARS * 365);
  const fleet: LargeFleet = {
    boats: [],
    engines: [],
    readings: { engine: [], day: [], count: [] },
    entries: { engine: [], task: [], day: [], hours: [] },
  };
  const readingsEach = size.readings / size.engines;
  const entriesEach = size.entries / size.engines / TASKS.length;
  for (let b = 0; b < size.boats; b++) {
    fleet.boats.push({ id: b + 1, name: `Boat ${String(b + 1).padStart(4, '0')}`, base: b % 8 });
    for (const position of b < twins ? (['port', 'starboard'] as const) : (['single'] as const)) {
      const id = fleet.engines.length + 1;
      fleet.engines.push({ id, boat: b + 1, position, serial: `G-${100_000 + id}`, inServiceOn: first });
      const pace = random.between(0.1, 2.2);
      let hours = random.between(0, 300);
      const at: { day: Day; hours: number }[] = [];
      for (let i = 0; i < readingsEach; i++) {
        hours += ((YEARS * 365) / readingsEach) * pace * random.between(0.2, 1.8);
        at.push({
          day: addDays(first, Math.floor(((i + 1) * YEARS * 365) / readingsEach) - random.whole(0, 2)),
          hours: Math.round(hours * 10) / 10,
        });
      }
      for (const r of at) {
        fleet.readings.engine.push(id);
        fleet.readings.day.push(r.day);
        fleet.readings.count.push(r.hours);
      }
      for (const [nth, task] of TASKS.entries()) {
        const count = Math.floor((nth + 1) * entriesEach) - Math.floor(nth * entriesEach);
        for (let i = 0; i < count; i++) {
          const r = at[Math.min(at.length - 1, Math.floor(((i + random.next()) / count) * at.length))]!;
          fleet.entries.engine.push(id);
          fleet.entries.task.push(task);
          fleet.entries.day.push(r.day);
          fleet.entries.hours.push(r.hours);
        }
      }
    }
  }
  return fleet;
}
