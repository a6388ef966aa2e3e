import { torqueText, type ModelTraits } from '../fleet/index.ts';
import { fromMillilitres, inBothUnits, round, toMillilitres, type PrintedVolume } from '../units/index.ts';

/** What the words of a step are filled in from. */
export interface StepFigures {
  traits: ModelTraits;
  sump: PrintedVolume | null;
  gearCase: PrintedVolume | null;
}

/**
 * Of the label's volume, so much goes in first; the rest follows the dipstick after the run. Common practice, no
 * source.
 */
export const FIRST_SHARE = 0.9;

/** A share of a printed volume in its own unit and the other school's. */
export function partOf(label: PrintedVolume, share: number): PrintedVolume {
  const ml = toMillilitres(label.value, label.unit) * share;
  return { value: round(fromMillilitres(ml, label.unit), label.unit === 'mL' ? 0 : 2), unit: label.unit };
}

/** What an engine is given water by, out of the water. Common practice, no source. */
const COOLING: Record<NonNullable<ModelTraits['runsOn']> | 'unknown', string> = {
  muffs: 'Water by muffs over both inlets; its flush port is for rinsing with the engine off.',
  'flush port': 'Water by the flush port, tap full open.',
  'muffs or flush port': 'Water by muffs over both inlets, or by the flush port.',
  unknown: 'Water by muffs over both inlets; by the flush port only where the manual lets it run on that.',
};

/** Fills the model's figures into the words of a step; what is not known is said to stand in the manual. */
export function fillIn(text: string, { traits, sump, gearCase }: StepFigures): string {
  return text.replace(/\{(\w+)\}/g, (whole, name: string) => {
    switch (name) {
      case 'sump':
        return sump ? inBothUnits(sump) : 'the label’s volume';
      case 'first':
        return sump ? inBothUnits(partOf(sump, FIRST_SHARE)) : 'nine tenths';
      case 'rest':
        return sump ? inBothUnits(partOf(sump, 1 - FIRST_SHARE)) : 'the rest';
      case 'case':
        return gearCase ? inBothUnits(gearCase) : 'lube';
      case 'fillAt':
        return traits.fillAt === 'cap' ? 'In at the cap' : 'In at the dipstick hole';
      case 'drainAt':
        return traits.drainAt === 'leg' ? 'The drain is at the leg' : 'The drain is behind the side cover';
      case 'cooling':
        return COOLING[traits.runsOn ?? 'unknown'];
      case 'screws':
        return traits.gearScrews === 3 ? 'three ' : traits.gearScrews === 2 ? 'two ' : '';
      case 'fitted':
        return traits.gearScrews === 3
          ? 'three were in'
          : traits.gearScrews === 2
            ? 'two were in'
            : 'one for each screw';
      case 'meet':
        return traits.speedTube
          ? 'shift shaft, speed tube, water tube and splines'
          : 'shift shaft, water tube and splines';
      case 'gap':
        return traits.plugGapMm === null
          ? 'as the manual says'
          : `${traits.plugGapMm} mm (${round(traits.plugGapMm / 25.4, 3)} in)`;
      case 'oil':
        return traits.oilGrade ? `Oil ${traits.oilGrade}` : 'Oil of the grade on the label';
      case 'lube':
        return traits.lubeGrade ? `Gear lube ${traits.lubeGrade}` : 'Gear lube of the grade on the label';
      case 'filterNm':
        return traits.filterNm === null ? 'as its box says' : torqueText(traits.filterNm);
      case 'drainScrewNm':
      case 'plugNm':
      case 'gearScrewNm':
      case 'propNutNm': {
        const figure = traits[name];
        return figure === null ? 'to the torque of the manual' : torqueText(figure);
      }
      default:
        return whole;
    }
  });
}
