export { FleetMemory, byBoat, names, type EngineDue } from './fleet-memory.ts';
export type { BoatFacts, EngineFacts } from './fleet-facts.ts';
export { daysSinceReading, dueHandlers } from './due.ts';
export { entryHandlers } from './entries.ts';
