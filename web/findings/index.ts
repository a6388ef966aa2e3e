export { Condition } from './Condition.tsx';
export { Findings } from './Findings.tsx';
export { Readings } from './ReadingInput.tsx';
export { findingsOn, findsNothing } from './finding-words.ts';
