export * from './part.ts';
export * from './choose.ts';
export * from './fitment.ts';
export * from './shelf.ts';
export * from './kits.ts';
