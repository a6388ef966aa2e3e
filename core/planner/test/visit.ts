import type { PlannedVisit } from '../index.ts';

/** A visit at eight, of one task unless others are said. */
export const visit = (boat: string, day: number, technician = 'ines', tasks = [`${boat} oil`]): PlannedVisit => ({
  boat,
  day,
  technician,
  start: 480,
  elapsed: 55,
  tasks,
});
