import type { TaskKind } from '@diurna/core/service';

/** What the side panel tells of. */
export interface Picked {
  engineId: number;
  boatId: number;
  task: TaskKind;
  visit: boolean;
}
