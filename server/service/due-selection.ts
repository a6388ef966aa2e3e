import { type EngineDue } from '@diurna/core/ahead';
import { engineName } from '@diurna/core/fleet';
import { DUE_STATES, type DueState, type TaskKind } from '@diurna/core/service';
import type { FleetCache } from './fleet-cache.ts';

export interface DueFilters {
  baseId?: number | undefined;
  modelId?: number | undefined;
  engineId?: number | undefined;
  boatId?: number | undefined;
  task?: TaskKind | undefined;
  q?: string | undefined;
}

export interface DueSelection {
  /** Worst first. */
  matching: EngineDue[];
  counts: Record<DueState, number>;
  engines: number;
}

const MOST_SELECTIONS = 200;

/**
 * Chooses tasks of the fleet. Everybody opens the same few lists; what they share is worked out once for each state of
 * the fleet.
 */
export class DueSelections {
  /** A cache by the list it was taken from: gone with it when the fleet changes. */
  readonly #lists = new WeakMap<EngineDue[], Map<string, DueSelection>>();

  choose(fleet: FleetCache, now: Date, filters: DueFilters): DueSelection {
    const dues = fleet.allDue(now);
    const wanted = filters.q?.trim().toLowerCase();
    const key = JSON.stringify([
      filters.baseId,
      filters.modelId,
      filters.engineId,
      filters.boatId,
      filters.task,
      wanted,
    ]);
    let known = this.#lists.get(dues);
    if (!known) this.#lists.set(dues, (known = new Map<string, DueSelection>()));
    const before = known.get(key);
    if (before) return before;
    const matching = dues.filter(
      ({ facts, due }) =>
        (filters.baseId === undefined || facts.baseId === filters.baseId) &&
        (filters.modelId === undefined || facts.modelId === filters.modelId) &&
        (filters.engineId === undefined || facts.id === filters.engineId) &&
        (filters.boatId === undefined || facts.boatId === filters.boatId) &&
        (filters.task === undefined || due.task === filters.task) &&
        (!wanted ||
          engineName(facts.boatName, facts.position).toLowerCase().includes(wanted) ||
          facts.serial.toLowerCase().includes(wanted) ||
          facts.modelName.toLowerCase().includes(wanted)),
    );
    const counts = Object.fromEntries(DUE_STATES.map((s) => [s, 0])) as DueSelection['counts'];
    for (const { due } of matching) counts[due.state]++;
    const found = { matching, counts, engines: new Set(matching.map((d) => d.facts.id)).size };
    if (known.size < MOST_SELECTIONS) known.set(key, found);
    return found;
  }
}
