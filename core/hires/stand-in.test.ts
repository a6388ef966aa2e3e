import { describe, expect, test } from '@jest/globals';
import { classKeyOf, standInsFor, whyNoStandIn, type StandIn } from './index.ts';

const asked = { boatId: 1, baseId: 1, classKey: 'class day boat', out: 100, back: 200 };
const boat = (more: Partial<StandIn> = {}): StandIn => ({
  id: 2,
  name: 'Tern',
  baseId: 1,
  classKey: 'class day boat',
  held: false,
  over: false,
  taken: [],
  ...more,
});

describe('which boat can go out in the place of another', () => {
  test.each([
    ['lies at another base', boat({ baseId: 2 })],
    ['is held', boat({ held: true })],
    ['is out then', boat({ taken: [{ out: 199, back: 300, by: 'hire' }] })],
    ['is being worked on then', boat({ taken: [{ out: 0, back: 101, by: 'work' }] })],
    ['is the boat it was booked for', boat({ id: 1 })],
  ])('not one that %s', (why, b) => {
    expect(whyNoStandIn(asked, b)).toContain(why);
    expect(standInsFor(asked, [b])).toEqual([]);
  });

  test('back just before, or out just after, is free', () => {
    const b = boat({
      taken: [
        { out: 0, back: 100, by: 'hire' },
        { out: 200, back: 300, by: 'work' },
      ],
    });
    expect(standInsFor(asked, [b])).toEqual([b]);
  });

  test('another class is not offered; a person may give it all the same', () => {
    const b = boat({ classKey: 'class cruiser' });
    expect(standInsFor(asked, [b])).toEqual([]);
    expect(whyNoStandIn(asked, b)).toBeNull();
  });

  test('one over its limit is offered only where there is no other', () => {
    const [over, fit] = [boat({ id: 3, over: true }), boat()];
    expect(standInsFor(asked, [over, fit])).toEqual([fit]);
    expect(standInsFor(asked, [over])).toEqual([over]);
  });

  test('boats nobody classed are alike when their engines are', () => {
    expect(classKeyOf(' Day Boat ', [1])).toBe(classKeyOf('day boat', [2, 3]));
    expect(classKeyOf(null, [3, 2])).toBe(classKeyOf('', [2, 3]));
    expect(classKeyOf(null, [3])).not.toBe(classKeyOf(null, [3, 3]));
  });
});
