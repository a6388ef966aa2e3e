export * from './clock.ts';
export * from './day.ts';
export * from './time-of-day.ts';
export * from './zone.ts';
export * from './written-days.ts';
