export * from './hires.ts';
