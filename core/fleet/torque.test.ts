import { describe, expect, test } from '@jest/globals';
import { torqueOf, torqueOff, torqueText } from './index.ts';

// 1 lbf.ft = 1.355 818 N.m: NIST SP 811, appendix B.
describe('the torque of a model', () => {
  test('one figure or a range, told in both units', () => {
    expect(torqueText(17.6)).toBe('17.6 N·m (13 lbf·ft)');
    expect(torqueText({ least: 108.5, most: 135.6 })).toBe('109 to 136 N·m (80 to 100 lbf·ft)');
    expect(torqueText({ least: 16, most: 19.5 })).toBe('16 to 19.5 N·m (11.8 to 14.4 lbf·ft)');
  });
  test('is read as people write it down, in either unit', () => {
    expect(torqueOf('62')).toBe(62);
    expect(torqueOf(' 17,6 Nm ')).toBe(17.6);
    // The propeller nut of one class of engine: 55 against 80 to 100 (common practice, no source).
    expect(torqueOf('55 lbf·ft')).toBe(74.6);
    expect(torqueOf('80-100 ft-lb')).toEqual({ least: 108.5, most: 135.6 });
    expect(torqueOf('75 to 110 N·m')).toEqual({ least: 75, most: 110 });
    expect(torqueOf('75–75')).toBe(75);
    for (const none of ['', 'tight', '75 to', '1000', '-5', '62 psi']) expect(torqueOf(none)).toBeNull();
  });
  test('a figure is meant to within a fifth, a range as it stands', () => {
    expect([49, 50, 62, 74, 75].map((nm) => torqueOff(nm, 62))).toEqual(['under', null, null, null, 'over']);
    const range = { least: 75, most: 110 };
    // 81 lbf.ft, rounded, is within a range that ends at 110 N.m.
    expect([73, 75, 109.8, 111, 112].map((nm) => torqueOff(nm, range))).toEqual(['under', null, null, null, 'over']);
  });
});
