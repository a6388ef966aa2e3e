/** Said at every step that runs the engine. Common practice, no source. */
export const RUN_CAUTION = 'Never without cooling water, in the open, nobody near the propeller.';
