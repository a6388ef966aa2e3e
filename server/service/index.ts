export { FleetCache } from './fleet-cache.ts';
export { timesDone } from './times-done.ts';
export { readRuleBook, type RuleBook } from './rule-book.ts';
export { deferralHandlers } from './deferrals.ts';
export { breakInHandlers, runningIn } from './break-in.ts';
export { daysSinceReading, dueHandlers } from './due.ts';
export { handsByDay, readHands, workers } from './hands.ts';
export { entryHandlers } from './entries.ts';
export { questionEntries } from './question-entries.ts';
