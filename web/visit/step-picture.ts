import type { StepPicture } from '@diurna/contract/step-pictures';

/** The picture shown at a step of an engine: its model's own, else the one for all models; null = none. */
export const pictureAt = (
  pictures: readonly StepPicture[],
  place: string,
  modelName: string | null,
): StepPicture | null =>
  pictures.find((p) => p.place === place && p.modelId !== null && p.modelName === modelName) ??
  pictures.find((p) => p.place === place && p.modelId === null) ??
  null;

export const fileOf = (id: number): string => `/api/visit/step-pictures/${id}/file`;
