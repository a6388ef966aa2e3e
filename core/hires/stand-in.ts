/** A hire for which another boat is looked for. Times in any one unit. */
export interface HireAsked {
  boatId: number;
  baseId: number;
  classKey: string;
  out: number;
  back: number;
}

/** A boat that might go out instead. */
export interface StandIn {
  id: number;
  name: string;
  baseId: number;
  classKey: string;
  /** One of its engines is held, or what was found on it waits to be decided. */
  held: boolean;
  /** Work on it is over its limit. */
  over: boolean;
  /** When it is out, or somebody works on it. */
  taken: readonly { out: number; back: number; by: 'hire' | 'work' }[];
}

/**
 * What boats are told apart by when one stands in for another: what they are hired out as; where nobody said, the
 * engines they have.
 */
export const classKeyOf = (boatClass: string | null, modelIds: readonly number[]): string =>
  boatClass === null || boatClass.trim() === ''
    ? `engines ${[...modelIds].sort((a, b) => a - b).join(' ')}`
    : `class ${boatClass.trim().toLowerCase()}`;

/** Why a boat cannot go out in the place of another; null = it can. What only speaks against it is left to people. */
export function whyNoStandIn(asked: HireAsked, boat: StandIn): string | null {
  if (boat.id === asked.boatId) return `${boat.name} is the boat it was booked for.`;
  if (boat.baseId !== asked.baseId) return `${boat.name} lies at another base.`;
  if (boat.held) return `${boat.name} is held.`;
  const clash = boat.taken.find((t) => t.out < asked.back && t.back > asked.out);
  if (clash) return clash.by === 'hire' ? `${boat.name} is out then.` : `${boat.name} is being worked on then.`;
  return null;
}

/**
 * The boats that can go out instead: free, fit, of the same class; those with nothing over its limit, if there are any.
 */
export function standInsFor<B extends StandIn>(asked: HireAsked, boats: readonly B[]): B[] {
  const free = boats.filter((b) => b.classKey === asked.classKey && whyNoStandIn(asked, b) === null);
  const fit = free.filter((b) => !b.over);
  return fit.length > 0 ? fit : free;
}
