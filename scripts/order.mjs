// `npm run order`: what to buy, from whom, on which day, in which packs, from a file or the book.
// @ts-check
import { runProblem } from './problem.mjs';

await runProblem('order');
