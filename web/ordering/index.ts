export { STORES_LEAVES } from './leaves.ts';
