import type { SomeEngines } from '../fleet/index.ts';
import type { TaskKind } from '../service/index.ts';

/** What a part is, on the shelf. */
export const PART_KINDS = [
  'oil',
  'oil filter',
  'gear lube',
  'plug',
  'impeller',
  'pump kit',
  'gasket',
  'washer',
  'other',
] as const;
export type PartKind = (typeof PART_KINDS)[number];

/** Whose part it is: the engine maker's, or an equivalent the yard approves. */
export const PART_MAKES = ['maker', 'approved'] as const;
export type PartMake = (typeof PART_MAKES)[number];

/** Which part a task takes on engines of a model. */
export interface Fitment extends SomeEngines {
  partId: number;
  modelId: number;
  task: TaskKind;
  /** How many, or mL; null = the volume the task fills on this model. */
  quantity: number | null;
  /** Of the part: what it is, whose, what one (or one litre) costs, and how many models take it for this task. */
  kind?: PartKind;
  make?: PartMake | null;
  priceMinor?: number | null;
  models?: number;
  /** The newest number that superseded it; null or left out = it is the newest. */
  newestId?: number | null;
}

/** What a fluid is sold in. */
export const CONTAINER_KINDS = ['bottle', 'jug', 'tube', 'pail', 'drum'] as const;
export type ContainerKind = (typeof CONTAINER_KINDS)[number];
