export { FleetMemory, byBoat, dueOfEngine, names, type EngineDue } from './fleet-memory.ts';
export { aheadOf, readRuleBook, type BoatFacts, type EngineFacts, type RuleBook } from './fleet-facts.ts';
export { breakInHandlers } from './break-in.ts';
export { daysSinceReading, dueHandlers } from './due.ts';
export { readHands, workers } from './hands.ts';
export { entryHandlers } from './entries.ts';
