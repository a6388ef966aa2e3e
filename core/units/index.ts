export * from './units.ts';
export * from './counted.ts';
