import { describe, expect, test } from '@jest/globals';
import { firstSteps, settingUp, type BookCounts } from './index.ts';

const empty: BookCounts = {
  bases: 0,
  models: 0,
  boats: 0,
  boatsBare: 0,
  engines: 0,
  unread: 0,
  meterless: 0,
  technicians: 0,
  lowerUnits: 0,
  hires: 0,
  parts: 0,
};
const full: BookCounts = {
  bases: 1,
  models: 2,
  boats: 3,
  boatsBare: 0,
  engines: 4,
  unread: 0,
  meterless: 1,
  technicians: 2,
  lowerUnits: 1,
  hires: 9,
  parts: 30,
};
const missing = (c: Partial<BookCounts>, of: BookCounts = full) =>
  Object.fromEntries(firstSteps({ ...of, ...c }).flatMap((s) => (s.missing === null ? [] : [[s.key, s.missing]])));

describe('the first day of a book', () => {
  test('an empty book lacks everything, in the order in which each leads to the next', () => {
    expect(firstSteps(empty).map((s) => s.key)).toEqual(['base', 'model', 'boat', 'reading', 'person', 'hire', 'part']);
    expect(firstSteps(empty).every((s) => !s.done)).toBe(true);
    expect(settingUp(firstSteps(empty))).toBe(true);
  });

  test('a full one lacks nothing', () => {
    expect(missing({})).toEqual({});
    expect(settingUp(firstSteps(full))).toBe(false);
  });

  test('what is missing is told by number and with what follows from it', () => {
    expect(missing({ boatsBare: 1 })).toEqual({ boat: '1 boat without an engine' });
    expect(missing({ unread: 2 })).toEqual({ reading: '2 meters were never read' });
    expect(missing({ meterless: 4 })).toEqual({ reading: 'no engine has a meter' });
    expect(missing({ lowerUnits: 0 }).person).toMatch(/^nobody may take a lower unit off/);
  });

  test('without hires and parts it can be worked with: the guide does not insist', () => {
    expect(Object.keys(missing({ hires: 0, parts: 0 }))).toEqual(['hire', 'part']);
    expect(settingUp(firstSteps({ ...full, hires: 0, parts: 0 }))).toBe(false);
  });
});
