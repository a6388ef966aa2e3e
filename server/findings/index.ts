import type { FleetCache } from '../service/index.ts';
import { conditionHandlers } from './condition.ts';
import { holdHandlers } from './holds.ts';

export { applyProposals, holdByHand, placeOfEngine, takeBack, TAKEN_BACK } from './consequences.ts';
export { firstOilOf, judgeCard } from './judge.ts';
export { findingsWhere, undecidedHolds } from './condition.ts';
export { pastOf, readingsOf } from './readings.ts';
export { followUpsOf, holdsWhere } from './holds.ts';

export const findingsHandlers = (fleet: FleetCache) => ({ ...holdHandlers(), ...conditionHandlers(fleet) });
