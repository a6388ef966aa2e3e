import { nearestLimit, type Due, type DueState } from '@diurna/core/service';

export const STATE_WORD: Record<DueState, string> = {
  over: 'over',
  due: 'due',
  soon: 'soon',
  unknown: 'unknown',
  fine: 'fine',
};

/** How urgent, by shape as well as by colour: struck square, full square, half square, open ring, dot. */
const SHAPES: Record<DueState, string> = {
  over: 'M2 2h10v10H2ZM2 12 12 2',
  due: 'M2 2h10v10H2Z',
  soon: 'M2 12V2h10Z',
  unknown: 'M7 2a5 5 0 1 1-.01 0Z',
  fine: 'M7 5a2 2 0 1 1-.01 0Z',
};

export function StateShape({ state }: { state: DueState }) {
  return (
    <svg width="14" height="14" viewBox="0 0 14 14" aria-hidden="true" className={`state-shape ${state}`}>
      <path
        d={SHAPES[state]}
        fill={state === 'unknown' ? 'none' : 'currentColor'}
        stroke="currentColor"
        strokeWidth="1.5"
      />
      {state === 'over' && <path d="M2 12 12 2" stroke="var(--paper)" strokeWidth="1.6" />}
    </svg>
  );
}

/** "6 h over", "12 days left", "no history", with the shape of its state. */
export function DueMark({ due }: { due: Due }) {
  return (
    <span className={`due-mark ${due.state}`}>
      <StateShape state={due.state} />
      <span className="visually-hidden">{STATE_WORD[due.state]}: </span>
      {nearestLimit(due)}
    </span>
  );
}
