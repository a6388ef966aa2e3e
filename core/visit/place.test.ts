import { expect, test } from '@jest/globals';
import { linePlace, shippedOf, stepPlace, TEMPLATE_KEYS } from './index.ts';

test('a step of a card is found by the line it came from, whichever engine it is of', () => {
  expect(stepPlace('12 impeller/housing')).toBe('impeller/housing');
  expect(stepPlace('arrive')).toBe('arrive');
  expect(linePlace('impeller', { key: 'housing' })).toBe('impeller/housing');
  expect(linePlace('cowl', { key: 'cowl off' })).toBe('cowl off');
  expect(linePlace('engine-oil', { key: 'warm', once: 'warm run' })).toBe('warm run');
});

test('lines of one template are told apart, but for those of which a card has one', () => {
  for (const of of TEMPLATE_KEYS) {
    const own = shippedOf(of).filter((l) => l.once === undefined);
    const places = own.map((l) => linePlace(of, l));
    expect([of, new Set(places).size]).toEqual([of, own.length]);
  }
});
