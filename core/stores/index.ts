export * from './fitment.ts';
export * from './shelf.ts';
export * from './kits.ts';
