export * from './types.ts';
export * from './boats.ts';
export * from './visits.ts';
export * from './matters/index.ts';
export * from './ribbon.ts';
