// `npm run plan`: which work is done when and by whom, from a file or the book.
// @ts-check
import { runProblem } from './problem.mjs';

await runProblem('plan');
