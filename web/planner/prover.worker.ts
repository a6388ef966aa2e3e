import {
  modelOf,
  Prover,
  solveWith,
  type Guide,
  type PlannedVisit,
  type PlanProblem,
  type SolveMip,
} from '@diurna/core/planner';
import loadHighs from 'highs';
import wasmUrl from 'highs/runtime?url';

export type ToProver =
  | { say: 'prove'; problem: PlanProblem; goal: number; exact: boolean }
  | { say: 'goal'; goal: number };
export interface FromProver {
  bound: number;
  visits?: PlannedVisit[];
  guide?: Guide;
  done: boolean;
}

/** What the solver may take at once; the page can end the thread at any time. */
const SOLVER_SECONDS = 60;
const GUIDE_MS = 400;
let goal = Infinity;

addEventListener('message', ({ data }: MessageEvent<ToProver>) => {
  goal = Math.min(goal, data.goal);
  if (data.say === 'prove') void prove(data);
});

async function prove({ problem, exact }: ToProver & { say: 'prove' }): Promise<void> {
  // Without the exact solver (an old browser, say) the bound by prices is still there.
  const solve: SolveMip | null = exact
    ? await loadHighs({ locateFile: () => wasmUrl }).then(solveWith, () => null)
    : null;
  const prover = new Prover(modelOf(problem), solve, () => performance.now());
  let told = 0;
  for (;;) {
    const news = prover.step(goal, SOLVER_SECONDS);
    const guiding = performance.now() > told + GUIDE_MS;
    if (guiding) told = performance.now();
    if (news)
      postMessage({ ...news, done: prover.done, ...(guiding && { guide: prover.guide() }) } satisfies FromProver);
    if (prover.done) break;
    await new Promise((resolve) => setTimeout(resolve, news ? 0 : 30));
  }
  postMessage({ bound: prover.best, done: true } satisfies FromProver);
}
