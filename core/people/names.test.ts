import { describe, expect, test } from '@jest/globals';
import { shortNames } from './index.ts';

describe('what people are called', () => {
  test('by the first name, unless others have it too', () => {
    const people: [number, string][] = [
      [1, 'Ines Okoye'],
      [2, 'Sven Achterberg'],
      [3, 'Ines Maren'],
      [4, 'Reva'],
    ];
    expect(Object.fromEntries(shortNames(people))).toEqual({ 1: 'Ines Okoye', 2: 'Sven', 3: 'Ines Maren', 4: 'Reva' });
  });
});
