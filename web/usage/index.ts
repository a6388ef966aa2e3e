export { TypeHours } from './TypeHours.tsx';
export { HoursSheet } from './HoursSheet.tsx';
export { type Sheet, judge, parseCount, readingsOf } from './judge.ts';
