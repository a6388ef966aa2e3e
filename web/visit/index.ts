export { fileOf, pictureAt } from './step-picture.ts';
