import type { DayPerson, DayReply, DayVisit } from '@diurna/contract/day';

/** A card on a line of the day. */
export const visitOn = (jobId: number, more: Partial<DayVisit> = {}): DayVisit => ({
  jobId,
  version: 1,
  boatId: jobId,
  boatName: `Boat ${jobId}`,
  baseId: 1,
  baseName: 'North Quay',
  berth: null,
  status: 'open',
  pinned: false,
  start: 480,
  pause: null,
  worked: false,
  minutes: 120,
  hands: 100,
  drain: null,
  needsLift: false,
  secondMinutes: 0,
  beside: [],
  tasks: [{ engineId: 11, task: 'engine-oil', position: 'port', state: 'open' }],
  works: [{ engineId: 11, position: 'port', word: 'Engine oil' }],
  trouble: null,
  ...more,
});
/** A person with a line of the day. */
export const personOn = (id: number, name: string, visits: DayVisit[], more: Partial<DayPerson> = {}): DayPerson => ({
  id,
  name,
  baseId: 1,
  baseName: 'North Quay',
  skills: [],
  shift: { from: 450, to: 960 },
  pause: null,
  visits,
  ...more,
});
/** A day of nothing else. */
export const dayOf = (more: Partial<DayReply> = {}): DayReply => ({
  day: '2026-04-15',
  today: '2026-04-15',
  now: null,
  currency: 'EUR',
  people: [],
  lifts: [],
  boats: [],
  boatsMore: 0,
  boatsOut: 0,
  boatsBack: 0,
  boatsGoing: 0,
  kits: [],
  matters: [],
  ...more,
});
