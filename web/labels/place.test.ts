import { describe, expect, test } from '@jest/globals';
import { labelText, placeOf, shelfPath } from './place.ts';
import { pagesOf, SHEETS } from './sheets.ts';

describe('what a label opens', () => {
  test('is its page, whatever the book was called when it was printed', () => {
    expect(placeOf(labelText('http://127.0.0.1:4150', '/stores/parts/12'))).toBe('/stores/parts/12');
    expect(placeOf(' https://book.example/fleet/boats/3?x=1#y \n')).toBe('/fleet/boats/3');
    expect(placeOf('http://other/fleet/engines/44')).toBe('/fleet/engines/44');
  });
  test('that of a shelf opens the sheet it is counted on, and nothing else beside it', () => {
    expect(placeOf(labelText('http://quay', shelfPath(2, 'Rack 4, box b')))).toBe(
      '/stores/count?base=2&shelf=Rack%204%2C%20box%20b',
    );
    expect(placeOf('http://quay/stores/count?base=2&shelf=A1&next=//elsewhere')).toBe('/stores/count?base=2&shelf=A1');
    expect(placeOf('http://quay/stores/count?base=x')).toBeNull();
  });
  test.each([
    'WIFI:S:quay;T:WPA;P:x;;',
    'https://elsewhere.example/',
    'https://elsewhere.example/stores/parts/12/../../yard',
    'javascript://x/stores/parts/12',
    '/stores/parts/12',
    'C60-40117',
    '',
  ])('is nothing for %j', (text) => {
    expect(placeOf(text)).toBeNull();
  });
});

describe('sheets of labels', () => {
  test('a sheet is begun where it was left; a roll has one on each piece', () => {
    expect(pagesOf(['a', 'b', 'c'], 4, 2)).toEqual([[null, null, 'a', 'b'], ['c']]);
    expect(pagesOf(['a', 'b'], 1, 5)).toEqual([['a'], ['b']]);
    expect(pagesOf([], 24, 0)).toEqual([]);
    expect(new Set(SHEETS.map((s) => s.key)).size).toBe(SHEETS.length);
  });
});
