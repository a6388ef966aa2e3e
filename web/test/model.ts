import type { Model } from '@diurna/contract/fleet';

/** A rule of the programme, the engine oil where nothing else is said. */
export const rule = (more: Partial<Model['rules'][number]>): Model['rules'][number] => ({
  task: 'engine-oil',
  everyHours: 100,
  everyMonths: 12,
  seasonEnd: false,
  basis: 'maker',
  ...more,
});
/** A four-stroke with oil and impeller in its programme. */
export const modelOf = (more: Partial<Model> = {}): Model => ({
  id: 2,
  version: 7,
  engines: 14,
  maker: 'Corvane',
  name: '60',
  powerHp: 60,
  stroke: 4,
  cylinders: 4,
  sump: { value: 3, unit: 'L' },
  gearCase: { value: 0.43, unit: 'US qt' },
  traits: {},
  rules: [rule({}), rule({ task: 'impeller', everyHours: 200, basis: 'usual' })],
  ...more,
});
