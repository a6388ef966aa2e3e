export * from './minutes.ts';
export * from './template.ts';
export * from './figures.ts';
export * from './shipped/index.ts';
export * from './steps.ts';
export * from './order.ts';
export * from './card.ts';
export * from './learn.ts';
