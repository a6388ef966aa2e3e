export * from './bars.ts';
export * from './feasible.ts';
