export * from './fleet.ts';
export * from './people.ts';
export * from './usage.ts';
export * from './service.ts';
export * from './stores.ts';
export * from './records.ts';
export * from './hires.ts';
export * from './gateway.ts';
