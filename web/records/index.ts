export { useRecordLeaves } from './leaves.ts';
