import { describe, expect, test } from '@jest/globals';
import { dayLine } from './index.ts';

describe('a day by the hour', () => {
  const shift = { from: 480, to: 960, hard: 1020, rest: { from: 690, to: 840, minutes: 30 } };
  const all = [{ from: 420, to: 1140 }];
  test('said hours stand, the others come as early as gaps allow, with a break around noon', () => {
    const line = dayLine(
      [
        { id: 'a', windows: all, minutes: 60, start: 600 },
        { id: 'b', windows: [{ from: 700, to: 900 }], minutes: 90, start: null },
        { id: 'c', windows: all, minutes: 100, start: null },
      ],
      shift,
    );
    expect(line.left).toEqual([]);
    expect(line.starts.get('a')).toBe(600);
    expect(line.starts.get('c')).toBe(480);
    const b = line.starts.get('b')!;
    expect(b).toBeGreaterThanOrEqual(700);
    expect(line.breakAt!.to - line.breakAt!.from).toBe(30);
    expect(b >= line.breakAt!.to || b + 90 <= line.breakAt!.from).toBe(true);
  });
  test('a visit over noon takes the break inside it, and what does not fit beside it is left', () => {
    const line = dayLine(
      [
        { id: 'a', windows: all, minutes: 500, start: 480 },
        { id: 'b', windows: all, minutes: 120, start: null },
      ],
      shift,
    );
    expect(line).toMatchObject({ breakAt: { from: 690, to: 720 }, pausedIn: 'a', left: ['b'] });
  });

  test('hours said one after the other leave no room: there is no break', () => {
    const at = (id: string, start: number, minutes: number) => ({ id, windows: all, minutes, start });
    expect(dayLine([at('a', 480, 220), at('b', 700, 80), at('c', 780, 120), at('d', 900, 60)], shift)).toMatchObject({
      breakAt: null,
      pausedIn: null,
      left: [],
    });
  });

  test('what was begun or finished stands, whatever hour was said for others', () => {
    const line = dayLine(
      [
        { id: 'said', windows: all, minutes: 60, start: 600 },
        { id: 'begun', windows: all, minutes: 90, start: 560, stands: true },
        { id: 'too', windows: all, minutes: 30, start: 620, stands: true },
      ],
      shift,
    );
    expect(line.starts.get('begun')).toBe(560);
    expect(line.starts.get('too')).toBe(620);
    const said = line.starts.get('said')!;
    expect(said >= 650 || said + 60 <= 560).toBe(true);
  });

  test('what has no hour never takes the break away', () => {
    // From eight to four with a break: seven and a half hours.
    const line = dayLine([{ id: 'a', windows: all, minutes: 455, start: null }], { ...shift, hard: 960 });
    expect(line.left).toEqual(['a']);
    expect(dayLine([{ id: 'a', windows: all, minutes: 450, start: null }], { ...shift, hard: 960 }).pausedIn).toBe('a');
  });
});
