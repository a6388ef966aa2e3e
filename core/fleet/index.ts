export * from './serial.ts';
export * from './position.ts';
