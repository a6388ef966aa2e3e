import type { Highs } from 'highs';

/**
 * min cost x, rowLower <= A x <= rowUpper, colLower <= x <= colUpper, some x whole. Rows as lists of column and value.
 */
export interface Mip {
  cost: number[];
  lower: number[];
  upper: number[];
  whole: boolean[];
  rows: { lower: number; upper: number; columns: number[]; values: number[] }[];
}

export interface MipAnswer {
  /** Of the best solution; null = none found. */
  value: number | null;
  x: Float64Array | null;
  /** Proven: no solution is cheaper. -Infinity = nothing proven. */
  bound: number;
  /** No solution at all. */
  infeasible: boolean;
}

export interface MipWish {
  seconds: number;
  /** Stop when value and bound are as near as this, as a share. */
  gap: number;
  /** A solution known beforehand. */
  start?: Float64Array | undefined;
}

export type SolveMip = (mip: Mip, wish: MipWish) => MipAnswer;

const OPTIMAL = 7;
const INFEASIBLE = 8;

/** The exact solver, loaded by who calls: the core loads nothing. Blocks its thread; run it in a worker. */
export function solveWith(highs: Highs): SolveMip {
  return (mip, { seconds, gap, start }) => {
    const starts = new Int32Array(mip.rows.length + 1);
    mip.rows.forEach((r, i) => {
      starts[i + 1] = starts[i]! + r.columns.length;
    });
    const indices = new Int32Array(starts[mip.rows.length]!);
    const values = new Float64Array(indices.length);
    mip.rows.forEach((r, i) => {
      indices.set(r.columns, starts[i]);
      values.set(r.values, starts[i]);
    });
    const inf = (v: number) => (v === Infinity ? highs.infinity : v === -Infinity ? -highs.infinity : v);
    const model = highs.createModel({
      numCols: mip.cost.length,
      numRows: mip.rows.length,
      sense: highs.constants.objectiveSense.minimize,
      colCost: Float64Array.from(mip.cost),
      colLower: Float64Array.from(mip.lower, inf),
      colUpper: Float64Array.from(mip.upper, inf),
      rowLower: Float64Array.from(mip.rows, (r) => inf(r.lower)),
      rowUpper: Float64Array.from(mip.rows, (r) => inf(r.upper)),
      matrix: { format: 'csr', numRows: mip.rows.length, numCols: mip.cost.length, starts, indices, values },
      integrality: Int32Array.from(mip.whole, (w) => (w ? 1 : 0)),
    });
    try {
      model.options.set({ output_flag: false, time_limit: seconds, mip_rel_gap: gap });
      if (start) model.setSolution({ colValue: start });
      model.run();
      const status = model.getModelStatus() as number;
      if (status === INFEASIBLE) return { value: null, x: null, bound: Infinity, infeasible: true };
      const found = Number(model.info.get('primal_solution_status')) === 2;
      const bound = Number(model.info.get('mip_dual_bound'));
      const value = found ? Number(model.info.get('objective_function_value')) : null;
      return {
        value,
        x: found ? Float64Array.from(model.getSolution().colValue) : null,
        bound: status === OPTIMAL && value !== null && !(bound > -1e29) ? value : bound > -1e29 ? bound : -Infinity,
        infeasible: false,
      };
    } finally {
      model.dispose();
    }
  };
}
