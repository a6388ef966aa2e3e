export { CalendarAddress } from './CalendarAddress.tsx';
export { Work } from './Work.tsx';
