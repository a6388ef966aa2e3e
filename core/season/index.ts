export * from './season.ts';
export * from './campaign.ts';
export * from './dose.ts';
export * from './charge.ts';
export * from './progress.ts';
export * from './boat.ts';
export * from './backward/index.ts';
