export { FleetMemory, byBoat, names, type EngineDue, type EngineFacts } from './fleet-memory.ts';
export { daysSinceReading, dueHandlers } from './due.ts';
export { entryHandlers } from './entries.ts';
