export { FLEET_LEAVES } from './leaves.ts';
