export * from './minutes.ts';
