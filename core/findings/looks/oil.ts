import { inBothUnits, toMillilitres, unitTrap, type PrintedVolume } from '../../units/index.ts';
import { type Weight } from '../finding.ts';
import { millilitresOf, percent } from '../measures.ts';
import { type ReadingValue } from '../readings.ts';
import { type Look } from './look.ts';

/** More out than in by this share: something got into the oil. Common practice, no source. */
const GAINED = 0.05;

function gainOf(out: { value: number; unit: string }, label: PrintedVolume): string | null {
  const ml = millilitresOf(out);
  if (ml === null || unitTrap(out as PrintedVolume, label) !== null) return null;
  const share = ml / toMillilitres(label.value, label.unit) - 1;
  return share > GAINED ? percent(share) : null;
}

function volumeFinding(
  value: ReadingValue | undefined,
  label: PrintedVolume | null,
  code: string,
  add: (code: string, from: string[], weight: Weight, seen: string, means: string, does: string) => void,
  from: string,
): void {
  if (!value || !('value' in value) || label === null || millilitresOf(value) === null) return;
  const trap = unitTrap(value as PrintedVolume, label);
  if (trap !== null) {
    add(
      `${code} unit`,
      [from],
      'act',
      `${value.value} ${value.unit} went in; the label says ${inBothUnits(label)}.`,
      `${value.value} looks like ${trap}, not ${value.unit}.`,
      'Look at the bottle and at the dipstick, and correct the figure or the filling.',
    );
    return;
  }
  const share = millilitresOf(value)! / toMillilitres(label.value, label.unit) - 1;
  if (share > 0.08)
    add(
      `${code} much`,
      [from],
      'watch',
      `${value.value} ${value.unit} went in, ${percent(share)} more than the label.`,
      code === 'oil in' ? 'Too much foams and gets into the intake.' : 'The label is for a drained case.',
      'Read the level again before the boat goes.',
    );
}

/** Fuel in the oil: thin, more out than in, or risen since it was filled. */
export function fuelInOil({ engine, at, choice, key, add }: Look): void {
  const oil = choice('oil look');
  const out = at('oil out');
  const label = engine.sump;
  const gained = out && 'value' in out && label ? gainOf(out, label) : null;
  const risen = choice('oil level') === 'above' && at('oil in') === undefined;
  if (oil === 'thin' || gained !== null || (risen && oil === null)) {
    const from = [
      oil === 'thin' && key('oil look'),
      gained !== null && key('oil out'),
      risen && oil === null && key('oil level'),
    ].filter((k) => k !== false);
    const seen =
      oil === 'thin'
        ? 'The engine oil is thin and smells of fuel.'
        : gained !== null
          ? `${gained} more oil came out than the label says goes in.`
          : 'The oil level has risen since it was filled.';
    add(
      'fuel in oil',
      from,
      'hold',
      seen,
      'Fuel gets into the sump: the oil no longer carries, and its vapour burns.',
      'Hold it. Change it now, mend the fuel system, and change it again after that.',
      [
        { kind: 'hold', checks: ['fuel-repair', 'engine-oil'] },
        { kind: 'follow-up', task: 'engine-oil', when: 'now' },
        { kind: 'follow-up', task: 'fuel-repair', when: 'after the one before' },
        { kind: 'follow-up', task: 'engine-oil', when: 'after the one before' },
      ],
    );
  }
}

/** Water in the oil. */
export function waterInOil({ choice, key, add }: Look): void {
  const oil = choice('oil look');
  if (oil === 'milky')
    add(
      'water in oil',
      [key('oil look')],
      'hold',
      'The engine oil is milky.',
      'Water in the sump: a head gasket, a cooler, or it was under water.',
      'Hold it until it is known where the water comes from, and change the oil again.',
      [
        { kind: 'hold', checks: ['leak-down', 'engine-oil'] },
        { kind: 'follow-up', task: 'leak-down', when: 'now' },
        { kind: 'follow-up', task: 'engine-oil', when: 'after the one before' },
      ],
    );
}

/** Metal in the oil or at the filter; a little is normal at the first change of a new engine. */
export function metalInOil({ engine, choice, key, add }: Look): void {
  const oil = choice('oil look');
  const metal = [oil === 'metal' && key('oil look'), choice('filter seat') === 'metal' && key('filter seat')].filter(
    (k) => k !== false,
  );
  if (metal.length > 0) {
    const seen =
      metal.length === 2
        ? 'Metal in the oil and at the filter.'
        : oil === 'metal'
          ? 'Metal in the oil or on the drain screw.'
          : 'Metal at the filter’s seat.';
    if (engine.firstOil)
      add(
        'swarf',
        metal,
        'watch',
        seen,
        'A little swarf is normal at the first change of a new engine.',
        'Nothing more now; look again at the next change.',
      );
    else
      add(
        'metal in oil',
        metal,
        'act',
        seen,
        'Something inside is wearing.',
        'Find out what before it runs hard again.',
        [{ kind: 'follow-up', task: 'oil-trace', when: 'now' }],
      );
  }
}

/** Gaskets, volumes put in, and the level after the run. */
export function fillAndLevel({ engine, at, choice, key, add }: Look): void {
  const gaskets = at('gaskets out');
  if (gaskets && 'value' in gaskets && gaskets.value < engine.traits.gearScrews) {
    add(
      'gasket stuck',
      [key('gaskets out')],
      'stop',
      `${gaskets.value} of ${engine.traits.gearScrews} old gaskets came out.`,
      'One is still in the port; a new one on top of it leaks.',
      'Stop and find it before new ones go on.',
    );
  }
  volumeFinding(at('oil in'), engine.sump, 'oil in', add, key('oil in'));
  volumeFinding(at('lube in'), engine.gearCase, 'lube in', add, key('lube in'));
  if (choice('oil level') === 'below')
    add(
      'level low',
      [key('oil level')],
      'act',
      'The oil stands below the lower mark after the run.',
      'It runs dry in a turn.',
      'Top up to the upper half and read again.',
    );
  if (choice('oil level') === 'above' && at('oil in') !== undefined)
    add(
      'level high',
      [key('oil level')],
      'act',
      'The oil stands above the upper mark after the run.',
      'Too much foams and gets into the intake.',
      'Draw some off and read again.',
    );
}
