export * from './facts.ts';
export * from './boat.ts';
export * from './due.ts';
export * from './curve.ts';
