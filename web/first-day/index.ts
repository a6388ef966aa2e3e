export { FirstDay } from './FirstDay.tsx';
