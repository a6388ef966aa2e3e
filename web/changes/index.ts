export { ChangeLines } from './ChangeLines.tsx';
export { useBack } from './useBack.ts';
export { Lately } from './Lately.tsx';
export { TakeBack } from './TakeBack.tsx';
