/**
 * Exact conversions. Inside the book everything is SI (mL, N.m, kPa); outside it is shown as printed.
 * Source of the factors: NIST Special Publication 811, appendix B.
 */
export const VOLUME_UNITS = ['mL', 'L', 'US qt', 'US fl oz', 'US gal'] as const;
export type VolumeUnit = (typeof VOLUME_UNITS)[number];

/** 1 US gal = 231 in3 exactly, 1 in = 25.4 mm exactly. */
const US_GALLON_ML = 3785.411784;

const ML_PER: Record<VolumeUnit, number> = {
  mL: 1,
  L: 1000,
  'US qt': US_GALLON_ML / 4,
  'US fl oz': US_GALLON_ML / 128,
  'US gal': US_GALLON_ML,
};

/** One pound-force in newtons: 0.453 592 37 kg under standard gravity of 9.806 65 m/s2, both exact. */
const LBF_N = 0.45359237 * 9.80665;
const NM_PER_LBF_FT = LBF_N * 0.3048;
const KPA_PER_PSI = LBF_N / 0.0254 ** 2 / 1000;

/** Millilitres in `value` of `unit`. */
export function toMillilitres(value: number, unit: VolumeUnit): number {
  return value * ML_PER[unit];
}

/** What `ml` millilitres are in `unit`. */
export function fromMillilitres(ml: number, unit: VolumeUnit): number {
  return ml / ML_PER[unit];
}

/** N·m of lbf·ft. */
export function newtonMetres(poundForceFeet: number): number {
  return poundForceFeet * NM_PER_LBF_FT;
}

/** lbf·ft of N·m. */
export function poundForceFeet(newtonMetresValue: number): number {
  return newtonMetresValue / NM_PER_LBF_FT;
}

/** kPa of psi. */
export function kilopascals(psi: number): number {
  return psi * KPA_PER_PSI;
}

/** A volume as it stands on a label: the figure and the unit printed there. */
export interface PrintedVolume {
  value: number;
  unit: VolumeUnit;
}

/** Which school of volumes a yard thinks in: what is not printed anywhere is written in its units. */
export const VOLUME_SCHOOLS = ['litres', 'quarts'] as const;
export type VolumeSchool = (typeof VOLUME_SCHOOLS)[number];

/**
 * "3 L = 3.17 US qt", "0.6 L = 20.29 US fl oz": the printed figure first, then the other school's unit; small ones in
 * ounces.
 */
export function inBothUnits(printed: PrintedVolume): string {
  const ml = toMillilitres(printed.value, printed.unit);
  const metric = printed.unit === 'L' || printed.unit === 'mL';
  const american: VolumeUnit = ml < 900 ? 'US fl oz' : 'US qt';
  const other = metric ? `${round(fromMillilitres(ml, american), 2)} ${american}` : `${round(ml / 1000, 2)} L`;
  return `${round(printed.value, 3)} ${printed.unit} = ${other}`;
}

/**
 * Millilitres for people: below a litre in mL, from there in L with two decimals at most; by quarts in US fl oz below
 * one, in US qt from there.
 */
export function volumeText(ml: number, school: VolumeSchool = 'litres'): string {
  if (school === 'quarts') {
    const unit: VolumeUnit = Math.abs(ml) < ML_PER['US qt'] - 0.5 ? 'US fl oz' : 'US qt';
    return `${round(fromMillilitres(ml, unit), unit === 'US qt' ? 2 : 1)} ${unit}`;
  }
  return Math.abs(ml) < 1000 ? `${round(ml, 0)} mL` : `${round(ml / 1000, 2)} L`;
}

/** Rounded half up to so many decimals. */
export function round(value: number, decimals: number): number {
  const factor = 10 ** decimals;
  return Math.round((value + Number.EPSILON * Math.sign(value)) * factor) / factor;
}

/**
 * The unit trap: a figure that fits the label in the *other* unit much better than in its own.
 * 7.1 US qt is 6.72 L, and people fill "6.7" quarts from the wrong column (common practice, no source).
 *
 * @returns the unit the figure was probably meant in, or null when its own unit fits well enough.
 */
export function unitTrap(entered: PrintedVolume, label: PrintedVolume): VolumeUnit | null {
  const wanted = toMillilitres(label.value, label.unit);
  const off = (unit: VolumeUnit) => Math.abs(toMillilitres(entered.value, unit) / wanted - 1);
  const other: VolumeUnit = entered.unit === 'L' ? 'US qt' : 'L';
  const asEntered = off(entered.unit);
  return asEntered > 0.03 && off(other) < asEntered / 3 && off(other) < 0.02 ? other : null;
}

/** A decimal with a point or a comma; null when it is none. */
export function parseAmount(text: string): number | null {
  const clean = text.trim().replace(',', '.');
  return /^\d{1,6}(\.\d{1,3})?$/.test(clean) ? Number(clean) : null;
}
