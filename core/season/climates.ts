/** The coldest night to be expected in each month at places like this, January first, in °C, north of the equator. */
export interface Climate12 {
  name: string;
  lows: readonly number[];
}

/** Examples to begin with, invented; a base enters its own. */
export const CLIMATES: readonly Climate12[] = [
  { name: 'a warm island', lows: [11, 11, 12, 13, 15, 17, 19, 20, 19, 17, 14, 12] },
  { name: 'a mild coast', lows: [-3, -2, 0, 2, 6, 9, 11, 11, 8, 5, 1, -2] },
  { name: 'an inland lake', lows: [-9, -8, -4, 0, 4, 8, 10, 10, 6, 1, -3, -7] },
  { name: 'a northern fjord', lows: [-14, -13, -10, -4, 1, 5, 8, 7, 3, -2, -7, -12] },
];

/** Its nights on that half of the earth. */
export const lowsAt = ({ lows }: Climate12, hemisphere: 'north' | 'south'): readonly number[] =>
  hemisphere === 'north' ? lows : [...lows.slice(6), ...lows.slice(0, 6)];
