import { describe, expect, test } from '@jest/globals';
import { MODES, PALETTES, type Mode, type Palette } from './palette.ts';

/**
 * Contrast as WCAG 2.2 defines it (success criteria 1.4.3, 1.4.6 and 1.4.11; relative luminance of sRGB, from memory):
 * 4.5 : 1 for words, 3 : 1 for lines that carry a meaning, 7 : 1 for words out in the sun.
 */
function luminance(hex: string): number {
  const [r, g, b] = [1, 3, 5]
    .map((i) => Number.parseInt(hex.slice(i, i + 2), 16) / 255)
    .map((c) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4));
  return 0.2126 * r! + 0.7152 * g! + 0.0722 * b!;
}
function contrast(a: string, b: string): number {
  const [light, dark] = [luminance(a), luminance(b)].sort((x, y) => y - x);
  return (light! + 0.05) / (dark! + 0.05);
}
type Name = keyof Palette;
/** What is written on what. */
const WORDS: [Name, Name][] = [
  ...(['paper', 'sheet', 'side', 'tab', 'seaWash', 'brassWash', 'coralWash'] as const).map((on): [Name, Name] => [
    'ink',
    on,
  ]),
  ...(['paper', 'sheet'] as const).flatMap((on): [Name, Name][] => [
    ['faint', on],
    ['sea', on],
    ['brass', on],
    ['coral', on],
  ]),
  ['faint', 'side'],
  ['faint', 'seaWash'],
  ['onSea', 'sea'],
  ['sea', 'seaWash'],
  ['paper', 'ink'],
];
const each = MODES.flatMap((mode) => WORDS.map(([words, on]): [Mode, Name, Name] => [mode, words, on]));

describe('the formula', () => {
  test('gives what the standard gives', () => {
    expect(contrast('#000000', '#FFFFFF')).toBeCloseTo(21, 9);
    expect(contrast('#777777', '#FFFFFF')).toBeCloseTo(4.48, 2);
    expect(contrast('#FF0000', '#FFFFFF')).toBeCloseTo(4.0, 1);
  });
});

describe('words can be read', () => {
  test.each(each)('%s: %s on %s', (mode, words, on) => {
    expect(contrast(PALETTES[mode][words], PALETTES[mode][on])).toBeGreaterThanOrEqual(4.5);
  });
  test('in the sun, ink stands out seven to one on everything it is written on', () => {
    for (const on of ['paper', 'sheet', 'side', 'tab', 'seaWash', 'brassWash', 'coralWash'] as const)
      expect([on, contrast(PALETTES.sun.ink, PALETTES.sun[on]) >= 7]).toEqual([on, true]);
    for (const c of ['faint', 'sea', 'brass', 'coral'] as const)
      expect([c, contrast(PALETTES.sun[c], PALETTES.sun.paper) >= 7]).toEqual([c, true]);
  });
  test.each(MODES)('%s: marks that carry a meaning stand out from paper three to one', (mode) => {
    for (const c of ['sea', 'brass', 'coral', 'ink', 'faint'] as const)
      expect([c, contrast(PALETTES[mode][c], PALETTES[mode].paper) >= 3]).toEqual([c, true]);
  });
});
