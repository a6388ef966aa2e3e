import type { Who } from '../http/api.ts';
import { HttpProblem } from '../http/problem.ts';

/** The one who tries to work on another's card is told whose it is. */
export const othersCard = () =>
  new HttpProblem(403, 'This card belongs to a colleague. Ask the coordinator to hand it to you.');

/** Technicians work on their own cards; coordinators on any. */
export function refuseOthersCard(who: Who, technicianId: number): void {
  if (who.role === 'technician' && who.id !== technicianId) {
    throw othersCard();
  }
}
