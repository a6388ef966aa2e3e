export * from './tasks.ts';
export * from './due.ts';
export * from './why.ts';
export * from './programme.ts';
export * from './schools.ts';
export * from './rules.ts';
export * from './replay.ts';
export * from './break-in.ts';
