export { checkProblem, type ProblemCheck, type ProblemFault } from './faults.ts';
