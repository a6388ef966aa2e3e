export {
  chooseContainers,
  type ContainerChoice,
  type ContainerSize,
  type ContainerWish,
  type OpenContainer,
} from './containers.ts';
export { containersByWeek } from './by-week.ts';
