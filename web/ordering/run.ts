import { computeOrders, type OrderPlan, type OrderProblem } from '@diurna/core/ordering';

/** Orders to be worked out, and how long it may take. */
export interface OrderWork {
  problem: OrderProblem;
  seconds: number;
}

export interface OrderNews {
  plan: OrderPlan | null;
  /** From 0 to 1. */
  share: number;
  over: boolean;
}

/** Works orders out on the thread it is called on, and tells of each better plan. */
export function ordering({ problem, seconds }: OrderWork, tell: (news: OrderNews) => void): void {
  const began = performance.now();
  const elapsed = () => (performance.now() - began) / 1000;
  let plan: OrderPlan | null = null;
  const share = () => Math.min(1, elapsed() / seconds);
  plan = computeOrders(problem, {
    seconds,
    elapsed,
    better: (better) => {
      plan = better;
    },
    progress: () => {
      tell({ plan, share: share(), over: false });
    },
  });
  tell({ plan, share: 1, over: true });
}
