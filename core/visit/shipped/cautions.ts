/** Said at every step that runs the engine. Common practice, no source. */
export const RUN_CAUTION = 'Never without cooling water, in the open, nobody near the propeller.';
/** The shift test, wherever it is done. Common practice, no source. */
export const SHIFT_TEST = {
  text: 'Neutral spins free, forward takes, reverse takes',
  caution: 'By hand, engine off; nobody else near the propeller.',
};
