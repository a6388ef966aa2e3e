import {
  ACCESS_MINUTES,
  accessOf,
  handsOnMinutes,
  RUN_MINUTES,
  TASKS,
  type AccessKind,
  type TaskKind,
} from '../service/index.ts';
import type { PrintedVolume } from '../units/index.ts';
import type { Step } from './step.ts';
import type { WorkFacts } from './template.ts';

/** Fixed minutes of any visit: walk over, tools out, tidy up. Common practice, no source. */
export const VISIT_SETUP_MINUTES = 15;

export interface VisitTask {
  engineId: number;
  task: TaskKind;
  cylinders: number;
  /** How its engine is built and what its label says; left out = a middling four-stroke without a side cover. */
  engine?: { facts: WorkFacts; sump: PrintedVolume | null; gearCase: PrintedVolume | null };
  /** Hands-on minutes where better ones are known than the estimate. */
  hands?: number;
  /** Unattended minutes where better ones are known than the estimate. */
  wait?: number;
}

export interface VisitMinutes {
  /** Minutes a technician's hands are busy, at the estimate's pace. */
  hands: number;
  /** The same at this person's pace. */
  busy: number;
  /** Minutes from arrival to leaving, drains included. */
  elapsed: number;
  /** Minutes saved against a visit of its own for every task. */
  saved: number;
}

/**
 * Minutes of one visit by one technician to one boat. Every access of an engine is opened once;
 * unattended minutes run beside other work.
 *
 * hands   = setup + each (engine, access) once + hands-on of all tasks
 * chain_i = pace x (setup + access of i + hands-on of i) + wait of i
 * elapsed = max(pace x hands, every chain_i)
 * Of these the minutes an engine runs are taken as they are, whatever the pace.
 *
 * @param pace 1 = the estimate holds, 1.2 = 20 % slower. An empty visit takes no time.
 */
export function visitMinutes(tasks: readonly VisitTask[], pace = 1): VisitMinutes {
  if (tasks.length === 0) return { hands: 0, busy: 0, elapsed: 0, saved: 0 };
  const opened = new Set<string>();
  let hands = VISIT_SETUP_MINUTES;
  let running = 0;
  let longestChain = 0;
  let apart = 0;
  for (const { engineId, task, cylinders, engine, hands: known, wait = TASKS[task].wait } of tasks) {
    const own = known ?? handsOnMinutes(task, cylinders);
    let access = 0;
    const ownRuns = Math.min(own, TASKS[task].running);
    let ownRun = ownRuns;
    for (const kind of accessOf(task, engine?.facts.traits)) {
      const run = kind === 'run' ? RUN_MINUTES : 0;
      access += ACCESS_MINUTES[kind];
      ownRun += run;
      const key = accessKey(engineId, kind);
      if (opened.has(key)) continue;
      hands += ACCESS_MINUTES[kind];
      running += run;
      opened.add(key);
    }
    hands += own;
    running += ownRuns;
    const chain = pace * (VISIT_SETUP_MINUTES + access - ownRun + own) + ownRun + wait;
    longestChain = Math.max(longestChain, chain);
    apart += chain;
  }
  const busy = pace * (hands - running) + running;
  const elapsed = Math.max(busy, longestChain);
  return { hands, busy, elapsed, saved: Math.max(0, apart - elapsed) };
}

function accessKey(engineId: number, kind: AccessKind): string {
  return `${engineId} ${kind}`;
}

/** Minutes of a visit a second person is wanted for. */
export const secondMinutes = (steps: readonly Pick<Step, 'twoPeople' | 'minutes'>[]): number =>
  steps.reduce((sum, s) => sum + (s.twoPeople ? s.minutes : 0), 0);

/** "45 min", "2 h 05". */
export function minutesText(minutes: number): string {
  const whole = Math.round(minutes);
  if (whole < 60) return `${whole} min`;
  return `${Math.floor(whole / 60)} h ${String(whole % 60).padStart(2, '0')}`;
}
