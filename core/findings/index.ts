export * from './readings.ts';
export * from './finding.ts';
export * from './measures.ts';
export * from './findings.ts';
export * from './holds.ts';
export * from './snags.ts';
export * from './waste.ts';
export * from './oil-balance.ts';
export { anodeMonths } from './looks/anodes.ts';
