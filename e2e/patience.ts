/**
 * How long tests wait for what has to come: a wait costs nothing where it comes soon, and machines are shared. Below
 * the limit of a test (`scripts/test.mjs`), so that what the page shows instead is told.
 */
export const PATIENCE_MS = 90_000;
/**
 * How long a start with the demo may take: half a minute on a machine of its own, more than two minutes beside other
 * tests on one that was held down.
 */
export const START_MS = 270_000;
