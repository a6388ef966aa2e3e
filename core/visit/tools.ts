import type { KnownTraits, ModelTraits } from '../fleet/index.ts';
import { round } from '../units/index.ts';

/** Tools that come in one size for a model, by the trait that has it, in mm. */
export const TOOL_SIZES = {
  drainSocketMm: 'socket for the drain screw',
  filterWrenchMm: 'cap wrench for the oil filter',
  plugSocketMm: 'deep socket for the plugs',
  propSocketMm: 'socket for the propeller nut',
} as const satisfies Partial<Record<keyof ModelTraits, string>>;
export type ToolSize = keyof typeof TOOL_SIZES;
export const TOOL_SIZE_KEYS = Object.keys(TOOL_SIZES) as [ToolSize, ...ToolSize[]];

/** "deep socket for the plugs, 16 mm"; where the model has no figure, that it stands in the manual. */
export function sizedTool(size: ToolSize, traits: ModelTraits): string {
  const mm = traits[size];
  return `${TOOL_SIZES[size]}, ${mm === null ? 'size by the manual' : `${mm} mm`}`;
}

/** Every tool of a visit, each once, in the order they are wanted. */
export const toolsOf = (steps: readonly { tools: readonly string[] }[]): string[] => [
  ...new Set(steps.flatMap((s) => s.tools)),
];

/** A tool so near the size still fits: makers' own tolerance. Common practice, no source. */
const FITS_MM = 0.1;
const INCH_MM = 25.4;

/** Millimetres of a size as it is stamped: "19", "19 mm", "3/4 in", "0.75in", "1 1/8 in"; null = no size. */
export function stampedMm(text: string): number | null {
  const found = /^\s*(?:(\d+)\s+)?(\d+(?:[.,]\d+)?)(?:\/(\d+))?\s*(mm|in|inch|")?\s*$/i.exec(text);
  if (!found) return null;
  const [, whole, upper, lower, unit] = found;
  if (lower === undefined && whole !== undefined) return null;
  const value = Number(whole ?? 0) + Number(upper!.replace(',', '.')) / Number(lower ?? 1);
  // A fraction is inches, whatever is left out.
  const inches = unit === undefined ? lower !== undefined : unit.toLowerCase() !== 'mm';
  return Number.isFinite(value) && value > 0 ? value * (inches ? INCH_MM : 1) : null;
}

/**
 * Whether another tool may stand in for the size a step wants: a near one rounds the head or does not go on, and the
 * difference is said. 1 in = 25.4 mm (NIST SP 811).
 *
 * @returns null where nobody can read the size
 */
export function substitute(wantedMm: number, stamped: string): { fits: boolean; text: string } | null {
  const mm = stampedMm(stamped);
  if (mm === null) return null;
  const over = mm - wantedMm;
  const words = `${stamped.trim()} for ${wantedMm} mm`;
  if (Math.abs(over) <= FITS_MM + 1e-9) return { fits: true, text: `${words} fits.` };
  const by = `${round(Math.abs(over), 2)} mm`;
  return over > 0
    ? { fits: false, text: `${words}: ${by} over, rounds the head. Get the right one.` }
    : { fits: false, text: `${words}: ${by} under, it does not go on.` };
}

/** Figures of a model that its cards need, worst first: what hurts most where it is guessed. */
export const WANTED_FIGURES: readonly { trait: keyof ModelTraits; word: string; weight: number }[] = [
  { trait: 'propNutNm', word: 'torque of the propeller nut', weight: 10 },
  { trait: 'drainScrewNm', word: 'torque of the drain screw', weight: 9 },
  { trait: 'gearScrewNm', word: 'torque of the gear-case screws', weight: 8 },
  { trait: 'gearScrews', word: 'number of gear-case screws', weight: 8 },
  { trait: 'plugNm', word: 'torque of the plugs', weight: 7 },
  { trait: 'compressionFloorKpa', word: 'least compression', weight: 7 },
  { trait: 'plugGapMm', word: 'plug gap', weight: 6 },
  { trait: 'dipstickMl', word: 'millilitres between the dipstick’s marks', weight: 5 },
  { trait: 'drainSocketMm', word: 'size of the drain socket', weight: 4 },
  { trait: 'plugSocketMm', word: 'size of the plug socket', weight: 4 },
  { trait: 'propSocketMm', word: 'size of the propeller-nut socket', weight: 4 },
  { trait: 'filterNm', word: 'torque of the oil filter', weight: 3 },
  { trait: 'filterWrenchMm', word: 'size of the filter wrench', weight: 2 },
];
const FOUR_STROKE_ONLY = new Set<keyof ModelTraits>([
  'drainScrewNm',
  'filterNm',
  'dipstickMl',
  'drainSocketMm',
  'filterWrenchMm',
]);

/**
 * What models do not say yet and their cards want, the worst first: by what it hurts where it is guessed, times the
 * engines it is guessed for.
 */
export function figuresMissing<M extends { stroke: 2 | 4; engines: number; traits?: KnownTraits | null | undefined }>(
  models: readonly M[],
): { model: M; words: string[]; weight: number }[] {
  return models
    .map((model) => {
      const missing = WANTED_FIGURES.filter(
        ({ trait }) => (model.stroke === 4 || !FOUR_STROKE_ONLY.has(trait)) && model.traits?.[trait] == null,
      );
      return {
        model,
        words: missing.map((m) => m.word),
        weight: model.engines * missing.reduce((sum, m) => sum + m.weight, 0),
      };
    })
    .filter((m) => m.weight > 0)
    .sort((a, b) => b.weight - a.weight);
}
