import type { ModelTraits } from '../fleet/index.ts';
import { answerTo, pumpTurn, sealsAgain, type SchoolChoices, type TaskKind, type TimesDone } from '../service/index.ts';
import type { Fitment, PartKind, PartMake } from './part.ts';

/** What decides which of several parts that fit is taken, and how many. */
export interface PartsBy {
  choices: SchoolChoices;
  times: TimesDone;
  traits: Pick<ModelTraits, 'gearScrews' | 'drainKind' | 'oilBy'> | null;
}
export const AS_USUAL: PartsBy = { choices: {}, times: null, traits: null };

/**
 * Of all parts that fit, those that this task takes this time: the steps of the card and its parts follow the same
 * answers. Common practice, no source.
 */
export function chooseParts(task: TaskKind, fitting: readonly Fitment[], by: PartsBy): Fitment[] {
  let left = withoutOlder(fitting);
  if (task === 'impeller') left = pumpParts(left, by);
  if (task === 'engine-oil' && noWasher(by)) left = left.filter((f) => f.kind !== 'washer');
  if (task === 'gear-lube') {
    const screws = by.traits?.gearScrews ?? null;
    left = sealsAgain('gear-lube', by.choices, by.times)
      ? left.filter((f) => f.kind !== 'gasket')
      : left.map((f) => (f.kind === 'gasket' && screws !== null ? { ...f, quantity: screws } : f));
  }
  left = byMake(left, by.choices);
  return oneOil(left, by.choices);
}

/** An older number gives way to the newer one where both fit: none is taken twice. */
export const withoutOlder = (fitting: readonly Fitment[]): Fitment[] =>
  fitting.filter((f) => f.newestId == null || !fitting.some((other) => other.partId === f.newestId));

/** A valve and a hose open no screw. */
const noWasher = ({ choices, times, traits }: PartsBy) =>
  traits?.drainKind === 'valve' || traits?.oilBy === 'extraction' || sealsAgain('engine-oil', choices, times);

/** Where both a wheel and a kit are on the list, one of them; a kit brings its own gaskets. */
function pumpParts(fitting: readonly Fitment[], { choices, times }: PartsBy): Fitment[] {
  const has = (kind: PartKind) => fitting.some((f) => f.kind === kind);
  if (!has('impeller') || !has('pump kit')) return [...fitting];
  const kit = pumpTurn(choices, times) === 'kit';
  return fitting.filter((f) => (kit ? f.kind !== 'impeller' && f.kind !== 'gasket' : f.kind !== 'pump kit'));
}

/** Whether the yard takes equivalents of a kind, or the maker's own part alone. */
export function equivalentsAllowed(kind: PartKind | null, choices: SchoolChoices): boolean {
  const { key } = answerTo('parts make', choices);
  const pump = kind === 'impeller' || kind === 'pump kit';
  return !(key === 'maker' || (key === 'maker impeller' && pump));
}

/** Where a kind comes from the maker and from others, the one the yard prefers. */
function byMake(fitting: readonly Fitment[], choices: SchoolChoices): Fitment[] {
  return fitting.filter((f) => {
    if (!f.make) return true;
    const wanted: PartMake = equivalentsAllowed(f.kind ?? null, choices) ? 'approved' : 'maker';
    return f.make === wanted || !fitting.some((other) => other.kind === f.kind && other.make === wanted);
  });
}

const FLUIDS: readonly PartKind[] = ['oil', 'gear lube'];

/** An engine is filled from one bottle: the one that most models take, or the cheapest. */
function oneOil(fitting: readonly Fitment[], choices: SchoolChoices): Fitment[] {
  const cheap = answerTo('oil make', choices).key === 'any';
  return fitting.filter((f) => {
    if (f.kind === undefined || !FLUIDS.includes(f.kind)) return true;
    const [best] = fitting
      .filter((other) => other.kind === f.kind)
      .sort(
        (a, b) =>
          (cheap ? (a.priceMinor ?? Infinity) - (b.priceMinor ?? Infinity) : (b.models ?? 0) - (a.models ?? 0)) ||
          a.partId - b.partId,
      );
    return best === f;
  });
}
