import { describe, expect, test } from '@jest/globals';
import {
  draftOf,
  EMPTY_DRAFT,
  fittedInstead,
  labelVolume,
  partsUsed,
  readVolume,
  volumeText,
  type CardUse,
} from './used.ts';

const OIL = 1;
const FILTER = 2;
const engine = (id: number) => ({ id, sump: { value: 4, unit: 'US qt' as const }, gearCase: null });
const task = (engineId: number, kind: 'engine-oil' | 'oil-filter', state: 'open' | 'done') => ({
  engineId,
  task: kind,
  state,
});
const card = (...states: ('open' | 'done')[]): CardUse => ({
  engines: [engine(1), engine(2)],
  tasks: [task(1, 'engine-oil', states[0]!), task(2, 'engine-oil', states[1]!), task(1, 'oil-filter', states[2]!)],
  parts: [
    {
      partId: OIL,
      unit: 'mL',
      quantity: 7570.82,
      tasks: [
        { engineId: 1, task: 'engine-oil' },
        { engineId: 2, task: 'engine-oil' },
      ],
    },
    { partId: FILTER, unit: 'each', quantity: 1, tasks: [{ engineId: 1, task: 'oil-filter' }] },
  ],
});
const quantities = (c: CardUse, draft = EMPTY_DRAFT) => partsUsed(c, draft).map((p) => p.used);

describe('parts really used', () => {
  test('follow the ticks', () => {
    expect(quantities(card('open', 'open', 'open'))).toEqual([0, 0]);
    expect(quantities(card('done', 'open', 'done'))).toEqual([3785, 1]);
    expect(quantities(card('done', 'done', 'open'))).toEqual([7571, 0]);
  });
  test('fluids follow the volume really put in, converted exactly', () => {
    const draft = { ...EMPTY_DRAFT, volumes: { '1 engine-oil': { value: '3.6', unit: 'US qt' as const } } };
    expect(quantities(card('done', 'open', 'open'), draft)).toEqual([3407, 0]);
  });
  test('a fluid that fills nothing a label tells of goes by the list: fogging oil, stabiliser', () => {
    const fogged = (port: 'open' | 'done'): CardUse => ({
      ...card('open', 'open', 'open'),
      tasks: [
        { engineId: 1, task: 'fogging', state: port },
        { engineId: 2, task: 'fogging', state: 'done' },
      ],
      parts: [
        {
          ...{ partId: 9, unit: 'mL', quantity: 180 },
          tasks: [1, 2].map((engineId) => ({ engineId, task: 'fogging' as const })),
        },
      ],
    });
    expect(quantities(fogged('done'))).toEqual([180]);
    expect(quantities(fogged('open'))).toEqual([90]);
  });
  test('the technician’s own figure wins; what is no figure is held up', () => {
    expect(
      quantities(card('done', 'open', 'done'), { ...EMPTY_DRAFT, parts: { [OIL]: '4000', [FILTER]: '0' } }),
    ).toEqual([4000, 0]);
    expect(quantities(card('done', 'open', 'done'), { ...EMPTY_DRAFT, parts: { [FILTER]: 'two' } })).toEqual([
      3785,
      null,
    ]);
  });
});

test('the unit trap is seen on the card', () => {
  const label = labelVolume(card('done', 'open', 'open').engines[0], 'engine-oil')!;
  const draft = { ...EMPTY_DRAFT, volumes: { k: { value: '3,79', unit: 'US qt' as const } } };
  expect(readVolume(draft, 'k', label)).toMatchObject({ bad: false, trap: 'L' });
  expect(readVolume({ ...EMPTY_DRAFT, volumes: { k: { value: 'full', unit: 'L' } } }, 'k', label)).toEqual({
    volume: null,
    bad: true,
    trap: null,
  });
});

test('the card’s typed figures give what the finish is made of', () => {
  const draft = draftOf(
    new Map([
      ['hours 1', '412.5'],
      ['why 1', 'meter was read twice'],
      ['volume 1 engine-oil', volumeText('3.6', 'US qt')],
      ['volume 2 engine-oil', volumeText('', 'L')],
      [`part ${OIL}`, '4000'],
      ['nonsense 1', 'x'],
    ]),
  );
  expect(draft).toEqual({
    hours: { 1: { count: '412.5', reason: 'meter was read twice' } },
    volumes: { '1 engine-oil': { value: '3.6', unit: 'US qt' }, '2 engine-oil': { value: '', unit: 'L' } },
    parts: { [OIL]: '4000' },
  });
  expect(quantities(card('done', 'open', 'open'), { ...draft, parts: {} })).toEqual([3407, 0]);
});

test('what was fitted instead of a part is used by its own number, once, and only where somebody said so', () => {
  const part = {
    ...{ partId: 9, unit: 'each' as const, quantity: 2, tasks: [], name: 'Plug' },
    instead: [
      { partId: 7, name: 'Plug X' },
      { partId: 8, name: 'Plug old' },
    ],
  };
  const draft = { ...EMPTY_DRAFT, parts: { 7: '2', 9: '0' } };
  expect(fittedInstead([part, { ...part, partId: 10 }], draft)).toEqual([
    { ...part, partId: 7, name: 'Plug X', quantity: 0, instead: [], worked: 0, used: 2 },
  ]);
  expect(fittedInstead([part], EMPTY_DRAFT)).toEqual([]);
  // A number that is on the card by itself is counted there.
  expect(fittedInstead([part, { ...part, partId: 7, instead: [] }], draft)).toEqual([]);
  expect(fittedInstead([part], { ...EMPTY_DRAFT, parts: { 7: 'two' } })[0]!.used).toBeNull();
});
