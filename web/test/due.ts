import type { DueRow } from '@diurna/contract/service';

/** A task that is over by hours. */
export const due = (more: Partial<DueRow['due']> = {}): DueRow['due'] => ({
  task: 'engine-oil',
  state: 'over',
  by: 'hours',
  hoursLeft: -4,
  limitHours: 100,
  daysLeft: 40,
  limitDay: '2026-05-25',
  share: 1.04,
  hoursOn: { early: '2026-04-13', likely: '2026-04-14', late: '2026-04-15' },
  estimated: false,
  last: { day: '2025-10-01', hours: 300, from: 'service' },
  hoursUnchecked: false,
  tolerated: false,
  ...more,
});
/** It as a line of the list, on one of the twins of Plover. */
export const row = (engineId: number, more: Partial<DueRow> = {}): DueRow => ({
  engineId,
  boatId: 1,
  boatName: 'Plover',
  position: engineId === 11 ? 'port' : 'starboard',
  baseId: 1,
  modelId: 2,
  modelName: 'Corvane 60',
  lifeHours: 404,
  hoursPerWeek: 9.2,
  lastReadDay: '2026-04-14',
  due: due(),
  rule: { task: 'engine-oil', everyHours: 100, everyMonths: 12, firstHours: null, counting: 'rolling', anchor: null },
  asked: null,
  deferral: null,
  because: 'The maker’s programme for this model.',
  job: null,
  ...more,
});
