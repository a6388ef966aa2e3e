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

/** The search of a thread: hears what it is told, says every better plan until its seconds are over. */
export function searching(send: (m: FromSearch) => void): (m: ToSearch) => void {
  let planner: Planner | null = null;
  let stopped = false;
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
  return (m) => {
    if (m.say === 'adopt') planner?.adopt(m.visits);
    else if (m.say === 'guide') planner?.follow(m.guide);
    else if (m.say === 'stop') stopped = true;
    else void search(m);
  };
}
