export * from './part.ts';
export * from './choose.ts';
export * from './fitment.ts';
export * from './shelf.ts';
export * from './kits.ts';
export { perDay, projectNeed, shortOn, sumQuantile, type Projection, type WantedTask } from './projection.ts';
export { coverTogether, type Cover, type WantedService } from './cover.ts';
export { mayServe, newestOf, PART_LINK_KINDS, runsInRing, type PartLink, type PartLinkKind } from './links.ts';
export { whichParts, type PartDoubt, type WhichPart } from './which-part.ts';
export { kitCheck, type KitCheck, type PartAmount } from './kit-check.ts';
export {
  expiredOn,
  partWorth,
  replayShelf,
  type LotLeft,
  type PartWorth,
  type ShelfMovement,
  type ShelfState,
} from './replay.ts';
export { amountUnits, containersText, farFromUsual, type AmountUnit } from './amounts.ts';
export { byPlace } from './walk.ts';
export { countDoubt, type CountDoubt } from './count.ts';
