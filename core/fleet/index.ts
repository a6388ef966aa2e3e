export * from './serial.ts';
export * from './position.ts';
export * from './traits.ts';
