export * from './part.ts';
export * from './choose.ts';
export * from './fitment.ts';
export * from './shelf.ts';
export * from './kits.ts';
export { perDay, projectNeed, shortOn, sumQuantile, type Projection, type WantedTask } from './projection.ts';
export { coverTogether, type Cover, type WantedService } from './cover.ts';
