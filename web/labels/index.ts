export { placeOf } from './place.ts';
export { ScanButton } from './ScanButton.tsx';
