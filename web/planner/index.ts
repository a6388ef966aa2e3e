export { planOnce } from './run.ts';
