export { placeOf } from './place.ts';
