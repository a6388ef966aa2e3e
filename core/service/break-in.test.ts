import { describe, expect, test } from '@jest/globals';
import { breakInAt, breakInText } from './index.ts';

describe('running in (common practice, no source)', () => {
  test('two hours with care, eight more, ten in all', () => {
    expect(breakInAt(0, 0)).toMatchObject({ phase: { from: 0, to: 2 }, left: 2 });
    expect(breakInAt(2, 0)).toMatchObject({ phase: { from: 2, to: 10 }, left: 8 });
    expect(breakInAt(10, 0)).toEqual({ hours: 10, phase: null, left: 0 });
    expect(breakInAt(640, 0).phase).toBeNull();
    expect(breakInText(breakInAt(0.5, 0), 'port')).toMatch(
      /^The port engine is new: 1\.5 h of the first two hours left\. .*one minute in ten at most\.$/,
    );
    expect(breakInText(breakInAt(9.9, 0), null)).toMatch(/^The engine is new: 0\.1 h of the next eight hours left/);
    expect(breakInText(breakInAt(10, 0), null)).toBeNull();
  });
  test('a kicker without a meter is run in by what is written down', () => {
    expect(breakInAt(null, 1.5)).toMatchObject({ hours: 1.5, left: 0.5 });
    expect(breakInAt(null, 12).phase).toBeNull();
    expect(breakInAt(3, 1)).toMatchObject({ hours: 3 });
  });
});
