import { isAmong, serialInRange, type SoldAs } from '../fleet/index.ts';
import { AS_USUAL, chooseParts, type PartsBy } from './choose.ts';
import type { Fitment } from './part.ts';
import { TASKS, type TaskKind } from '../service/index.ts';

export interface ModelVolumes {
  sumpMl: number | null;
  gearCaseMl: number | null;
  /** Stabiliser for the tank of its boat; null = nobody entered its size, 0 = it goes in at another engine. */
  doseMl?: number | null;
}

export interface PartNeed {
  partId: number;
  task: TaskKind;
  quantity: number;
}

/** Quantity of one fitment on a model, or null when the model's volume is not known. */
export function fitmentQuantity(fitment: Fitment, volumes: ModelVolumes): number | null {
  if (fitment.quantity !== null) return fitment.quantity;
  const fills = TASKS[fitment.task].fills;
  if (fills === 'sump') return volumes.sumpMl;
  if (fills === 'gear case') return volumes.gearCaseMl;
  // The size of a tank is asked for in Season; until then the bottle says how much.
  if (fills === 'tank') return volumes.doseMl ?? 0;
  return null;
}

export interface PartsForEngine {
  needs: PartNeed[];
  /** Tasks for which no part is known to fit this engine, or whose volume is unknown: a person has to say. */
  unknown: TaskKind[];
}

/**
 * The parts the tasks take on one engine, by its serial and transom. A task without any fitting part is named
 * in `unknown` instead of being counted as needing nothing.
 *
 * @param by answers and history that decide between several parts that fit
 */
export function partsForEngine(
  engine: SoldAs,
  volumes: ModelVolumes,
  tasks: readonly TaskKind[],
  fitments: readonly Fitment[],
  by: PartsBy = AS_USUAL,
): PartsForEngine {
  const needs: PartNeed[] = [];
  const unknown: TaskKind[] = [];
  for (const task of tasks) {
    const all = fitments.filter((f) => f.task === task && isAmong(engine, f));
    const fitting = chooseParts(task, all, by);
    const found = fitting.map((f) => ({ partId: f.partId, task, quantity: fitmentQuantity(f, volumes) }));
    // It hangs on a transom nobody looked at.
    const asks =
      engine.transom === null &&
      fitments.some((f) => f.task === task && f.transom != null && serialInRange(engine.serial, f));
    if (asks || (all.length === 0 && TASKS[task].usesParts) || found.some((n) => n.quantity === null))
      unknown.push(task);
    for (const need of found) {
      if (need.quantity !== null && need.quantity > 0) needs.push({ ...need, quantity: need.quantity });
    }
  }
  return { needs, unknown };
}

/** Sum of needs by part. */
export function sumByPart(needs: readonly PartNeed[]): Map<number, number> {
  const sum = new Map<number, number>();
  for (const need of needs) sum.set(need.partId, (sum.get(need.partId) ?? 0) + need.quantity);
  return sum;
}
