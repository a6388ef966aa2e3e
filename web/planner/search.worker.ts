import { Planner, type Guide, type PlannedVisit, type PlanProblem } from '@diurna/core/planner';

export type ToSearch =
  | { say: 'plan'; problem: PlanProblem; standing: PlannedVisit[]; moveCost: number; seed: number; seconds: number }
  | { say: 'adopt'; visits: PlannedVisit[] }
  | { say: 'guide'; guide: Guide }
  | { say: 'stop' };
export type FromSearch =
  | { say: 'plan'; visits: PlannedVisit[]; cost: number; rounds: number; share: number }
  | { say: 'over'; visits: PlannedVisit[]; cost: number; rounds: number }
  | { say: 'pins'; faults: string[] };

const SLICE_MS = 25;
const TELL_MS = 150;
let planner: Planner | null = null;
let stopped = false;
const send = (m: FromSearch) => {
  postMessage(m);
};

addEventListener('message', ({ data }: MessageEvent<ToSearch>) => {
  if (data.say === 'adopt') planner?.adopt(data.visits);
  else if (data.say === 'guide') planner?.follow(data.guide);
  else if (data.say === 'stop') stopped = true;
  else void search(data);
});

async function search({ problem, standing, moveCost, seed, seconds }: ToSearch & { say: 'plan' }): Promise<void> {
  try {
    planner = new Planner(problem, { seed, standing, moveCost });
  } catch (error) {
    send({
      say: 'pins',
      faults:
        'faults' in (error as object)
          ? (error as { faults: { text: string }[] }).faults.map((f) => f.text)
          : [String(error)],
    });
    return;
  }
  planner.start();
  let told = planner.cost;
  send({ say: 'plan', visits: planner.visits(), cost: told, rounds: 0, share: 0 });
  const began = performance.now();
  let at: number;
  let toldAt = began;
  while (!stopped && (at = (performance.now() - began) / 1000 / seconds) < 1) {
    const until = performance.now() + SLICE_MS;
    while (performance.now() < until) planner.improve(1 - Math.min(1, at));
    if (performance.now() - toldAt > TELL_MS) {
      toldAt = performance.now();
      const { cost } = planner;
      if (cost < told - 1e-6 || at > 0)
        send({ say: 'plan', visits: planner.visits(), cost: (told = cost), rounds: planner.rounds, share: at });
    }
    // Let messages in.
    await new Promise((resolve) => setTimeout(resolve, 0));
  }
  send({ say: 'over', visits: planner.visits(), cost: planner.cost, rounds: planner.rounds });
}
