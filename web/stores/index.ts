export { PartPick } from './PartPick.tsx';
export { containersOf, newContainers } from './containers.ts';
