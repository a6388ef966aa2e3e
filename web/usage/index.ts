export { HoursSheet } from './HoursSheet.tsx';
export { type Sheet, judge, parseCount, readingsOf } from './judge.ts';
