import type { DayBoat as CoreBoat, Matter as CoreMatter } from '@diurna/core/day';
import type { UsageCurve as CoreCurve } from '@diurna/core/ahead';
import type { PlannedVisit as CoreVisit, PlanProblem as CoreProblem } from '@diurna/core/planner';
import type {
  CardAct as CoreAct,
  CardEntry as CoreEntry,
  Step as CoreStep,
  TimedStep as CoreTimed,
} from '@diurna/core/visit';
import type { z } from 'zod';
import type { dayBoat, matter } from './day.ts';
import type { plannedVisit, planProblem } from './planner.ts';
import type { usageCurve } from './usage.ts';
import type { cardAct, cardEntry, step, timedStep } from './visit.ts';

/** A shape of the wire and the core's own are one: what fits the one fits the other. Kept by the compiler. */
type Same<A, B> = [A] extends [B] ? ([B] extends [A] ? true : false) : false;
type All<T extends readonly true[]> = T;

export type OneShape = All<
  [
    Same<z.output<typeof planProblem>, CoreProblem>,
    Same<z.output<typeof plannedVisit>, CoreVisit>,
    Same<z.output<typeof cardAct>, CoreAct>,
    Same<z.output<typeof cardEntry>, CoreEntry>,
    Same<z.output<typeof step>, CoreStep>,
    Same<z.output<typeof timedStep>, CoreTimed>,
    Same<z.output<typeof matter>, CoreMatter>,
    Same<z.output<typeof dayBoat>, CoreBoat>,
    Same<z.output<typeof usageCurve>, CoreCurve>,
  ]
>;
