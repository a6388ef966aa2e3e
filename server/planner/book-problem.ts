import type { PlanProblem } from '@diurna/core/planner';
import { processClock } from '../clock.ts';
import { makeDb, makePool } from '../db/index.ts';
import { FleetCache } from '../service/index.ts';
import { readBoard } from './board.ts';

/** The plan problem of the fleet in the database that DATABASE_URL names. */
export async function bookProblem(days: number): Promise<PlanProblem> {
  const pool = makePool(process.env.DATABASE_URL!);
  try {
    const db = makeDb(pool);
    return (await readBoard(db, new FleetCache(db), processClock()(), { days, baseId: null })).problem;
  } finally {
    await pool.end();
  }
}
