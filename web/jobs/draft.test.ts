import { describe, expect, test } from '@jest/globals';
import type { JobCard } from '@diurna/contract/jobs';
import { draftOf, EMPTY_DRAFT, labelVolume, partsUsed, readVolume, volumeText } from './draft.ts';

const OIL = 1;
const FILTER = 2;
const engine = (id: number, position: 'port' | 'starboard') => ({
  id,
  position,
  serial: `S${id}`,
  cylinders: 4,
  modelName: 'Skarn 90',
  powerHp: 90,
  stroke: 4 as const,
  traits: {},
  firstOil: false,
  sump: { value: 4, unit: 'US qt' as const },
  gearCase: null,
  meter: null,
  recent: [],
});
const task = (engineId: number, kind: 'engine-oil' | 'oil-filter', state: 'open' | 'done') => ({
  engineId,
  task: kind,
  position: 'port' as const,
  state,
});
const card = (...states: ('open' | 'done')[]): JobCard => ({
  id: 1,
  version: 1,
  boatId: 1,
  boatName: 'Razorbill',
  berth: null,
  baseId: 1,
  baseName: 'Quay',
  technicianId: 1,
  technician: 'Ines',
  day: '2026-04-15',
  status: 'open',
  startMinute: null,
  pinned: false,
  minutes: 0,
  savedMinutes: 0,
  remark: null,
  finishedAt: null,
  partsUnknown: [],
  used: [],
  shelfPolicy: 'refuse',
  steps: [],
  elapsed: 0,
  entries: [],
  people: [],
  findings: [],
  holds: [],
  followUps: [],
  basis: [],
  waste: [],
  engines: [engine(1, 'port'), engine(2, 'starboard')],
  tasks: [task(1, 'engine-oil', states[0]!), task(2, 'engine-oil', states[1]!), task(1, 'oil-filter', states[2]!)],
  parts: [
    {
      partId: OIL,
      number: 'OIL',
      name: 'Oil',
      unit: 'mL',
      quantity: 7570.82,
      onHand: 9000,
      place: 'A1',
      tasks: [
        { engineId: 1, task: 'engine-oil' },
        { engineId: 2, task: 'engine-oil' },
      ],
    },
    {
      partId: FILTER,
      number: 'F',
      name: 'Filter',
      unit: 'each',
      quantity: 1,
      onHand: 3,
      place: null,
      tasks: [{ engineId: 1, task: 'oil-filter' }],
    },
  ],
});
const quantities = (c: JobCard, draft = EMPTY_DRAFT) => partsUsed(c, draft).map((p) => p.quantity);

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
