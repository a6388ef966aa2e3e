export { CoverTogether } from './CoverTogether.tsx';
export { STORES_LEAVES } from './leaves.ts';
