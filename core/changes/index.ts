export {
  CHANGE_KINDS,
  cardTaskKey,
  changeKind,
  concernsPeople,
  groupedChanges,
  type CardChange,
  type CardStand,
  type CardTask,
  type ChangeKind,
} from './change.ts';
export { matchCards } from './match.ts';
export { toldOf, type ChangeNames } from './told.ts';
export { visitsBack } from './back.ts';
