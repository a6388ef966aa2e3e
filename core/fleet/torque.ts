import { newtonMetres, poundForceFeet, round } from '../units/index.ts';

/** The screws whose torque a model names, as its traits call them. */
export const TORQUES = ['drainScrewNm', 'filterNm', 'plugNm', 'gearScrewNm', 'propNutNm'] as const;
export type Torque = (typeof TORQUES)[number];

/** What a model says of a screw, in N·m: one figure, or the range that is allowed. */
export type TorqueFigure = number | { least: number; most: number };

/** One figure is meant to within so much. Common practice, no source. */
const SLACK = 0.2;
/** A range says its slack itself; what is left is the rounding between two units. */
const ROUNDING = 0.01;

/** "17.6 N·m (13 lbf·ft)", "108 to 136 N·m (80 to 100 lbf·ft)". */
export function torqueText(figure: TorqueFigure): string {
  const [least, most] = typeof figure === 'number' ? [figure, figure] : [figure.least, figure.most];
  const both = (a: number, b: number, decimals: number) =>
    a === b ? String(round(a, decimals)) : `${round(a, decimals)} to ${round(b, decimals)}`;
  const fine = most < 30 ? 1 : 0;
  return `${both(least, most, typeof figure === 'number' ? 1 : fine)} N·m (${both(poundForceFeet(least), poundForceFeet(most), fine)} lbf·ft)`;
}

/**
 * A torque as somebody writes it down: "62", "80-100 lbf·ft", "75 to 110 Nm".
 *
 * @returns null where it is no torque
 */
export function torqueOf(text: string): TorqueFigure | null {
  const found =
    /^(\d{1,3}(?:[.,]\d+)?)(?:\s*(?:-|–|to|\.\.)\s*(\d{1,3}(?:[.,]\d+)?))?\s*(n\W?m|lbf?\W?ft|ft\W?lbf?)?\.?$/i.exec(
      text.trim(),
    );
  if (!found) return null;
  const american = found[3] !== undefined && !/^n/i.test(found[3]);
  const nm = (figure: string) => {
    const value = Number(figure.replace(',', '.'));
    return american ? round(newtonMetres(value), 1) : value;
  };
  const least = nm(found[1]!);
  if (found[2] === undefined) return least;
  const most = nm(found[2]);
  return most === least ? least : { least, most };
}

/** How a torque reached stands to the model's: null where it is as it should be. */
export function torqueOff(nm: number, figure: TorqueFigure): 'over' | 'under' | null {
  const [least, most] =
    typeof figure === 'number'
      ? [figure * (1 - SLACK), figure * (1 + SLACK)]
      : [figure.least * (1 - ROUNDING), figure.most * (1 + ROUNDING)];
  return nm > most + 1e-9 ? 'over' : nm < least - 1e-9 ? 'under' : null;
}
