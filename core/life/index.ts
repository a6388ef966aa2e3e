export * from './weibull.ts';
export * from './replacement.ts';
