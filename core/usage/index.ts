export * from './reading.ts';
export * from './question.ts';
