export * from './fitment.ts';
export * from './shelf.ts';
