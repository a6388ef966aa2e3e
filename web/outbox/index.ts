export { DockNotTaken } from './NotTaken.tsx';
export { asCardEntries, type DockAct, type Taken, type Waiting } from './outbox.ts';
export { useDock, useDockActs, useFinish, useWrite } from './useOutbox.ts';
