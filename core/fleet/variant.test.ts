import { describe, expect, test } from '@jest/globals';
import { builtAs, isAmong, someEnginesText, traitsOf, transomText, type Variant } from './index.ts';

// Makers change parts and builds at a serial number, and by transom: common practice, no source.
const model = { powerHp: 60, stroke: 4 as const, cylinders: 4, traits: { gearScrews: 2 as const, plugNm: 19 } };
const engine = (serial: string, transom: Parameters<typeof isAmong>[0]['transom'] = null) => ({ serial, transom });
const from = (serial: string, more: Partial<Variant> = {}): Variant => ({
  from: serial,
  to: null,
  transom: null,
  traits: { gearScrews: 3 },
  ...more,
});

describe('engines of one model that are built otherwise', () => {
  test('by serial: figures in it compare as figures, both ends belong to it', () => {
    const variants = [from('C60-9999')];
    const screws = (serial: string) => traitsOf(builtAs({ ...model, variants }, engine(serial))).gearScrews;
    expect(['C60-9998', 'C60-9999', 'C60-10000'].map(screws)).toEqual([2, 3, 3]);
    // What it does not speak of stays the model's.
    expect(traitsOf(builtAs({ ...model, variants }, engine('C60-10000'))).plugNm).toBe(19);
  });
  test('by transom: where nobody looked at it, it is not known to be one of them', () => {
    const long = { from: null, to: null, transom: 'long' as const };
    expect([engine('1', 'long'), engine('1', 'short'), engine('1')].map((e) => isAmong(e, long))).toEqual([
      true,
      false,
      false,
    ]);
    expect(isAmong(engine('1'), { from: null, to: null, transom: null })).toBe(true);
  });
  test('of two that hold, the later one counts; without any it is the model as it stands', () => {
    const both = [from('A1', { traits: { gearScrews: 3, plugNm: 20 } }), from('A5', { traits: { plugNm: 24 } })];
    expect(builtAs({ ...model, variants: both }, engine('A7')).traits).toEqual({ gearScrews: 3, plugNm: 24 });
    expect(builtAs({ ...model, variants: [] }, engine('A7')).traits).toBe(model.traits);
    expect(builtAs(model, engine('A7'))).toBe(model);
  });
  test('in words, heights in both units', () => {
    expect(transomText('extra long')).toBe('extra long, 25 in (635 mm)');
    expect(someEnginesText({ from: 'C60-1', to: 'C60-5', transom: 'long' })).toBe('C60-1 to C60-5, long transom');
    expect(someEnginesText({ from: null, to: null, transom: 'short' })).toBe('short transom');
    expect(someEnginesText({ from: null, to: null })).toBe('all serials');
  });
});
