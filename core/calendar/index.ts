export * from './clock.ts';
export * from './day.ts';
export * from './zone.ts';
