export * from './serial.ts';
export * from './position.ts';
export * from './torque.ts';
export * from './traits.ts';
export * from './variant.ts';
export * from './generic.ts';
