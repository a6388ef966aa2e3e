export * from './hires.ts';
export * from './stand-in.ts';
export * from './at-base.ts';
