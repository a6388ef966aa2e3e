import { inBothUnits, toMillilitres, unitTrap, type PrintedVolume } from '../../units/index.ts';
import { millilitresOf, percent } from '../measures.ts';
import { asPrinted, oilBalance, type OilBalance } from '../oil-balance.ts';
import { type ReadingValue } from '../readings.ts';
import { type Look } from './look.ts';

/** Less than this share of the label out: it did not drain, or had gone before. Common practice, no source. */
const LITTLE_OUT = 0.8;
/** More in than the label by this share is too much. Common practice, no source. */
const MUCH_IN = 0.08;
/**
 * Less in than this share of the label, and yet it stands right: old oil is still inside. Common practice, no source.
 */
const LITTLE_IN = 0.85;
/** Out, in and dipstick have to agree within this share of the label: the new filter takes some. Common practice. */
const AGREES = 0.12;
/** Exactly at a limit it passes, whatever the unit was. */
const NEAR = 1e-9;
/** Less lube in than the label by this share: there is air in the case. Common practice, no source. */
const LESS_LUBE = 0.05;

/** A figure that fits the label in another unit. */
function inAnotherUnit(value: ReadingValue | undefined, label: PrintedVolume | null): string | null {
  return value && 'value' in value && label !== null && millilitresOf(value) !== null
    ? unitTrap(value as PrintedVolume, label)
    : null;
}

function wrongUnit(
  value: { value: number; unit: string },
  trap: string,
  label: PrintedVolume,
  code: string,
  from: string,
  add: Look['add'],
): void {
  add(
    `${code} unit`,
    [from],
    'act',
    `${value.value} ${value.unit} went in; the label says ${inBothUnits(label)}.`,
    `${value.value} looks like ${trap}, not ${value.unit}.`,
    'Look at the bottle and at the dipstick, and correct the figure or the filling.',
  );
}

/** Old gaskets: one left in the port leaks. Judged by the model's own count; no case has fewer than two screws. */
export function gasketsOut({ engine, at, key, add }: Look): void {
  const gaskets = at('gaskets out');
  const fitted = engine.traits.gearScrews ?? 2;
  if (gaskets && 'value' in gaskets && gaskets.value < fitted)
    add(
      'gasket stuck',
      [key('gaskets out')],
      'stop',
      `${gaskets.value} of ${engine.traits.gearScrews === null ? 'at least ' : ''}${fitted} old gaskets came out.`,
      'One is still in the port; a new one on top of it leaks.',
      'Stop and find it before new ones go on.',
    );
}

/** What went into the gear case: its label is for a drained case, and it has no dipstick. */
export function lubeIn({ engine, at, key, add }: Look): void {
  const label = engine.gearCase;
  const value = at('lube in');
  const ml = value && 'value' in value ? millilitresOf(value) : null;
  if (label === null || ml === null) return;
  const figure = value as { value: number; unit: string };
  const trap = inAnotherUnit(value, label);
  const share = ml / toMillilitres(label.value, label.unit) - 1;
  if (trap !== null) wrongUnit(figure, trap, label, 'lube in', key('lube in'), add);
  else if (share < -LESS_LUBE - NEAR)
    add(
      'air in case',
      [key('lube in')],
      'act',
      `${figure.value} ${figure.unit} went into the gear case, ${percent(-share)} less than the label.`,
      'Air is trapped in it, or it was not drained whole. Air at the top bearing burns it.',
      'Every vent open, wait two minutes, pump again until it comes without a bubble.',
    );
  else if (share > MUCH_IN + NEAR)
    add(
      'lube in much',
      [key('lube in')],
      'watch',
      `${figure.value} ${figure.unit} went into the gear case, ${percent(share)} more than the label.`,
      'The label is for a drained case: more does not fit.',
      'Count again what is left in the bottle.',
    );
}
/** Out, in, label and dipstick held against each other. */
export function oilSums(look: Look): void {
  const { engine, at, choice, key, add } = look;
  const label = engine.sump;
  const oil = oilBalance(engine, look.readings);
  const first = at('oil in');
  const trap = inAnotherUnit(first, label);
  if (trap !== null) {
    wrongUnit(first as { value: number; unit: string }, trap, label!, 'oil in', key('oil in'), add);
    return;
  }
  if (label === null || oil.label === null) return;
  const found = choice('oil level found');
  const left = choice('oil level');
  const outUnit = inAnotherUnit(at('oil out'), label) !== null;
  const from = [...(oil.out === null ? [] : [key('oil out')]), ...(oil.in === null ? [] : [key('oil in')])];
  if (
    oil.out !== null &&
    !outUnit &&
    oil.out < oil.label * (LITTLE_OUT - NEAR) &&
    found !== 'below' &&
    found !== 'lower'
  )
    add(
      'oil out little',
      [key('oil out')],
      'watch',
      `Only ${asPrinted(oil.out, label)} came out of ${inBothUnits(label)}.`,
      `About ${asPrinted(oil.label - oil.out, label)} is still inside, or had gone before.`,
      'Let it drain to the last drop; then fill by the dipstick, not by the label.',
    );
  if (oil.in === null) return;
  const over = oil.in / oil.label - 1;
  if (over > MUCH_IN + NEAR)
    add(
      'oil in much',
      [key('oil in')],
      'watch',
      `${asPrinted(oil.in, label)} went in altogether, ${percent(over)} more than the label.`,
      'Too much foams and gets into the intake.',
      'Read the level again before the boat goes.',
    );
  else if (oil.in < oil.label * (LITTLE_IN - NEAR) && (left === 'upper' || left === 'full'))
    add(
      'old oil stays',
      [key('oil in'), key('oil level')],
      'watch',
      `Only ${asPrinted(oil.in, label)} of ${inBothUnits(label)} went in, and it stands right.`,
      `About ${asPrinted(oil.label - oil.in, label)} of the old oil stayed inside.`,
      'Drain longer next time, or change it earlier.',
    );
  if (!outUnit) addsUp(look, oil, [...from, key('oil level found'), key('oil level')]);
}

/** Out, in and the dipstick have to agree. */
function addsUp({ engine, add }: Look, oil: OilBalance, from: string[]): void {
  const label = engine.sump;
  if (oil.out === null || oil.in === null || oil.label === null || oil.risen === null) return;
  const off = oil.in - oil.out - oil.risen;
  if (Math.abs(off) <= oil.label * AGREES) return;
  add(
    'oil does not add up',
    from,
    'watch',
    `Out ${asPrinted(oil.out, label)}, in ${asPrinted(oil.in, label)}, and the dipstick ${oil.risen >= 0 ? 'rose' : 'fell'} by ${asPrinted(Math.abs(oil.risen), label)}: ${asPrinted(Math.abs(off), label)} ${off > 0 ? 'too much went in for that' : 'is missing'}.`,
    'A pour was not written down, or a figure is wrong.',
    'Count the bottles again, and read the level once more.',
  );
}

/** The level that counts, after the run. */
export function levelLeft({ engine, at, choice, key, add }: Look): void {
  const band = engine.traits.dipstickMl;
  const amount = (share: number) => (band === null ? '' : `about ${asPrinted(share * band, engine.sump)} `);
  if (choice('oil level') === 'below')
    add(
      'level low',
      [key('oil level')],
      'act',
      `The oil stands below the lower mark ${at('oil in') === undefined ? 'as it was left' : 'after the run'}.`,
      'It runs dry in a turn.',
      `Top up ${amount(1)}to the upper half and read again.`,
    );
  if (choice('oil level') === 'above' && at('oil in') !== undefined)
    add(
      'level high',
      [key('oil level')],
      'act',
      'The oil stands above the upper mark after the run.',
      'Too much foams and gets into the intake.',
      `Draw ${band === null ? 'some' : amount(0.5).trim()} off and read again.`,
    );
}
