export * from './steps.ts';
