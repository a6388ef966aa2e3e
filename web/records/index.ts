export { RECORD_LEAVES } from './leaves.ts';
