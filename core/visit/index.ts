export * from './minutes.ts';
export * from './steps.ts';
export * from './order.ts';
