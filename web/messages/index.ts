export { MyMessages } from './MyMessages.tsx';
export { Outside } from './Outside.tsx';
export { WriteOutside } from './WriteOutside.tsx';
