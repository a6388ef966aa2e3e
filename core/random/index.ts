export { seeded, type Random } from './random.ts';
