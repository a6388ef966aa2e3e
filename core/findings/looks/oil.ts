import { toMillilitres, unitTrap, type PrintedVolume } from '../../units/index.ts';
import { millilitresOf, percent } from '../measures.ts';
import { asPrinted, shareOfBand } from '../oil-balance.ts';
import { SOON_DAYS, thenText, type Look } from './look.ts';

/** More out than in by this share: something got into the oil. Common practice, no source. */
const GAINED = 0.05;
/** A change of level by this share of the band is one. */
const MOVED = 0.5;

function gainOf(out: { value: number; unit: string }, label: PrintedVolume): string | null {
  const ml = millilitresOf(out);
  if (ml === null || unitTrap(out as PrintedVolume, label) !== null) return null;
  const share = ml / toMillilitres(label.value, label.unit) - 1;
  return share > GAINED ? percent(share) : null;
}

/** How the level moved since the last card left it, in shares of the band; null = one of the two is not known. */
function sinceLast({ choice, before }: Look, kind: 'oil level found' | 'oil level') {
  const last = before('oil level').at(-1);
  const then = last && 'choice' in last.value ? shareOfBand(last.value.choice) : null;
  const now = shareOfBand(choice(kind));
  return last && then !== null && now !== null ? { last, moved: now - then } : null;
}

/** The level as the engine came: as found before it was drained, else where nothing was filled in. */
const levelAsCame = ({ choice, at }: Look) =>
  choice('oil level found') !== null
    ? ('oil level found' as const)
    : at('oil in') === undefined && choice('oil level') !== null
      ? ('oil level' as const)
      : null;

/** Fuel in the oil: thin, more out than in, or risen since it was filled. */
export function fuelInOil(look: Look): void {
  const { engine, at, choice, key, add } = look;
  const oil = choice('oil look');
  const out = at('oil out');
  const label = engine.sump;
  const gained = out && 'value' in out && label ? gainOf(out, label) : null;
  const came = levelAsCame(look);
  const since = came && sinceLast(look, came);
  const above = came !== null && choice(came) === 'above' && oil !== 'milky';
  // Left above the mark by the last card, it has not risen since.
  const risen = above && !(since && since.moved < MOVED / 2);
  if (oil === 'thin' || gained !== null || risen) {
    const seen =
      oil === 'thin'
        ? 'The engine oil is thin and smells of fuel.'
        : gained !== null
          ? `${gained} more oil came out than the label says goes in.`
          : since
            ? `The oil has risen above the upper mark since ${thenText(engine, since.last)}.`
            : 'The oil level has risen since it was filled.';
    // What is being changed now needs no asking for.
    const now = engine.planned.has('engine-oil');
    add(
      'fuel in oil',
      [oil === 'thin' && key('oil look'), gained !== null && key('oil out'), risen && key(came)].filter(
        (k) => k !== false,
      ),
      'hold',
      seen,
      'Fuel gets into the sump: the oil no longer carries, and its vapour burns.',
      `Hold it. ${now ? 'M' : 'Change it now, m'}end the fuel system, and change it again after that.`,
      [
        { kind: 'hold', checks: ['fuel-repair', 'engine-oil'] },
        ...(now ? [] : [{ kind: 'follow-up' as const, task: 'engine-oil' as const, when: 'now' as const }]),
        { kind: 'follow-up', task: 'fuel-repair', when: now ? 'now' : 'after the one before' },
        { kind: 'follow-up', task: 'engine-oil', when: 'after the one before' },
      ],
    );
  } else if (came && above)
    add(
      'level high before',
      [key(came)],
      'watch',
      'The oil stood above the upper mark, where the last card left it.',
      'Too much foams and gets into the intake.',
      came === 'oil level' ? 'Draw some off and read again.' : 'Fill by the dipstick this time.',
    );
  else if (came && since && since.moved >= MOVED && oil !== 'milky')
    add(
      'level rising',
      [key(came)],
      'act',
      `The oil has risen${bandText(look, since.moved)} since ${thenText(engine, since.last)}.`,
      'Oil does not grow: fuel gets in, or water.',
      'Smell it and rub it between the fingers. Read it again in two weeks.',
      [{ kind: 'follow-up', task: 'oil-level', when: SOON_DAYS }],
    );
}

const bandText = ({ engine }: Look, moved: number) =>
  engine.traits.dipstickMl === null
    ? ''
    : `, by about ${asPrinted(Math.abs(moved) * engine.traits.dipstickMl, engine.sump)},`;

/** Oil that went: below the mark as found, or fallen since the last card. */
export function oilUsed(look: Look): void {
  const { engine, choice, key, add } = look;
  const came = levelAsCame(look);
  if (came === null) return;
  const low = choice(came) === 'below';
  if (low && engine.oilUnknown && !engine.planned.has('engine-oil')) {
    add(
      'no oil',
      [key(came)],
      'stop',
      'No oil on the dipstick, and nothing is known of this engine.',
      'Started without oil it seizes.',
      'Do not start it. Ask for its oil to be changed first.',
    );
    return;
  }
  const since = sinceLast(look, came);
  if ((!low || came === 'oil level') && !(since && since.moved <= -MOVED)) return;
  // Nothing is known of what it had before.
  if (engine.oilUnknown) return;
  add(
    'oil used',
    [key(came)],
    low ? 'act' : 'watch',
    since
      ? `The oil ${low ? 'stood below the lower mark' : 'has fallen'}${bandText(look, since.moved)} since ${thenText(engine, since.last)}.`
      : 'The oil stood below the lower mark.',
    'It uses oil, or loses it.',
    'Look for the leak and at the plugs; read the level again in two weeks and before long hires.',
    [{ kind: 'follow-up', task: 'oil-level', when: SOON_DAYS }],
  );
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

/** The oil-pressure light with the engine running. */
export function oilPressure({ choice, key, add }: Look): void {
  if (choice('oil light') === 'lit')
    add(
      'oil light',
      [key('oil light')],
      'hold',
      'The oil-pressure light stays lit with the engine running.',
      'No pressure: bearings go within minutes. Or its switch is broken, which nobody knows before it is measured.',
      'Stop it and hold it. Level first, then the pressure measured.',
      [
        { kind: 'hold', checks: ['oil-pressure'] },
        { kind: 'follow-up', task: 'oil-pressure', when: 'now' },
      ],
    );
}

/** The pressure as the gauge shows it, against the manual. */
export function oilPressureRead({ choice, key, add }: Look): void {
  if (choice('oil pressure look') === 'low')
    add(
      'oil pressure',
      [key('oil pressure look')],
      'hold',
      'The oil pressure is below what the manual wants.',
      'Oil pump, pick-up or bearings.',
      'Hold it until it is opened and mended.',
      [{ kind: 'hold', checks: ['oil-pressure'] }],
    );
}

/** What the cut filter shows. */
export function metalTraced({ choice, key, add }: Look): void {
  const kind = choice('metal kind');
  if (kind === 'steel' || kind === 'soft')
    add(
      'metal traced',
      [key('metal kind')],
      'hold',
      kind === 'soft' ? 'Soft, bright metal in the filter.' : 'Steel in the filter.',
      kind === 'soft' ? 'A plain bearing is going.' : 'Cam, timing or rings are wearing.',
      'Hold it until it is mended, and a person lets it go.',
      [{ kind: 'hold', checks: [] }],
    );
}
