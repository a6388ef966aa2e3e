import { expect, test } from '@jest/globals';
import { CLIMATES, coverCard, firstFrost, lowsAt, mirrored, type BaseSeason } from './index.ts';

const done = (task: string, doneOn: string | null = '2026-11-02') => ({ task: task as 'battery', doneOn });

// Common practice, no source.
test('the card of a cover: what holds it, then what was done that matters at the first start, in the order it is met', () => {
  const card = coverCard({
    visits: [
      { visit: 'before', tasks: [done('stabiliser', '2026-10-20'), done('engine-oil', null)] },
      { visit: 'after', tasks: [done('antifreeze'), done('fogging'), done('bowls'), done('battery')] },
      { visit: 'spring', tasks: [done('battery-check', null), done('spring-run', null)] },
    ],
    laidUpOn: null,
    held: ['The gear lube came out milky.'],
  });
  expect(card.beforeStart.map((line) => line.split(/[: ]/)[1])).toEqual([
    ...['gear', 'battery', 'carburettor', 'is'],
    'stands',
  ]);
  expect(card).toMatchObject({
    ...{ fuelUntil: '2028-10-20', open: ['engine-oil'], spring: ['battery-check', 'spring-run'] },
  });
});
test('without a dose its fuel is not said to keep; the second dose counts from its own day', () => {
  const of = (tasks: ReturnType<typeof done>[]) =>
    coverCard({ visits: [{ visit: 'after', tasks }], laidUpOn: null, held: [] }).fuelUntil;
  expect(of([done('second-dose', null)])).toBeNull();
  expect(of([done('second-dose')])).toBe('2028-11-02');
});
test('examples of climates are whole years; south of the equator they lie half a year later', () => {
  for (const climate of CLIMATES) {
    const season = (lows: readonly number[]): BaseSeason => ({ closes: '10-31', opens: '04-01', lows });
    expect(climate.lows).toHaveLength(12);
    expect(mirrored(season(climate.lows)).lows).toEqual(lowsAt(climate, 'south'));
    const frost = firstFrost(season(climate.lows), { closes: '2026-10-31', opens: '2027-04-01', name: '' });
    expect(frost === null).toBe(climate.name === 'a warm island');
  }
});
