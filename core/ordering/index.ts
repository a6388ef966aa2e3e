export {
  orderProblemFaults,
  type OrderCost,
  type OrderItem,
  type OrderOffer,
  type OrderPlan,
  type OrderProblem,
  type OrderSupplier,
  type PlannedOrder,
} from './problem.ts';
export { carriageOf, goodsOf, orderFaults, packPrice, priceOrders } from './price.ts';
export { orderByHand } from './by-hand.ts';
export { orderDays, otherOffers, putLine, putOrder } from './change.ts';
export { computeOrders, type OrderProgress, type OrderWish } from './compute.ts';
export { OrderSearch, searchRounds } from './search.ts';
export { OrderBound } from './bound.ts';
export {
  itemId,
  needOf,
  numberOf,
  offerId,
  orderProblemOf,
  supplierId,
  type OrderYard,
  type PartTask,
  type ShelfPart,
  type YardOffer,
  type YardSupplier,
} from './build.ts';
export { reorderOf, squareRootLot, type Reorder } from './reorder.ts';
export { whyLine, whyOrder, type LineWhy, type OrderWhy } from './why.ts';
