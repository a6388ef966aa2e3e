/**
 * Running in a new engine, kickers too: ten hours, the first two of them with care at every minute. Common practice, no
 * source.
 */
export interface BreakInPhase {
  from: number;
  to: number;
  word: string;
  steps: readonly string[];
}

export const BREAK_IN_PHASES: readonly BreakInPhase[] = [
  {
    from: 0,
    to: 2,
    word: 'The first two hours',
    steps: [
      'Under load, not idling at the dock and not trimmed out.',
      'Another speed at least every minute, idling too.',
      'Full throttle for one minute in ten at most.',
    ],
  },
  {
    from: 2,
    to: 10,
    word: 'The next eight hours',
    steps: [
      'Usual running and trim.',
      'No single speed for more than ten minutes: steady trolling is what a kicker must not do yet.',
    ],
  },
];
export const BREAK_IN_HOURS = 10;

/** Shown with the scheme: somebody stands at the wheel. */
export const BREAK_IN_CAUTION =
  'Kill-switch lanyard on whoever steers, nobody near the propeller, cooling stream watched from the start.';

export interface BreakInState {
  /** Hours run in so far, at most ten. */
  hours: number;
  /** Null when it is over. */
  phase: BreakInPhase | null;
  /** Hours left in this phase. */
  left: number;
}

/**
 * How far an engine is run in.
 *
 * @param meterHours life hours of an engine bought new, null without a meter
 * @param logged hours written down by those who ran it in; counts where it is more than the meter says
 */
export function breakInAt(meterHours: number | null, logged: number): BreakInState {
  const hours = Math.min(BREAK_IN_HOURS, Math.max(meterHours ?? 0, logged));
  const phase = BREAK_IN_PHASES.find((p) => hours < p.to) ?? null;
  return { hours, phase, left: phase ? Math.round((phase.to - hours) * 10) / 10 : 0 };
}

/**
 * What whoever hands a boat out says of an engine that is not run in yet; null = nothing is to be said.
 *
 * @param name the engine's place on its boat, "port"; null where it hangs alone
 */
export function breakInText({ phase, left }: BreakInState, name: string | null): string | null {
  if (phase === null) return null;
  const who = name === null ? 'The engine' : `The ${name} engine`;
  return `${who} is new: ${left} h of ${phase.word.toLowerCase()} left. ${phase.steps.join(' ')}`;
}
