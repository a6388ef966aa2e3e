import { round } from '../../units/index.ts';
import { type Proposal } from '../finding.ts';
import { COMPRESSION_SPREAD_TEXT, compressionSpread, kilopascalsOf, percent, spreadPasses } from '../measures.ts';
import { SOON_DAYS, type Look } from './look.ts';

/** So far apart a cylinder is not to be trusted at sea. Common practice, no source. */
const SEVERE_SPREAD = 0.3;

const PLUGS: readonly (readonly [
  is: string,
  code: string,
  word: string,
  means: string,
  does: string,
  proposals: readonly Proposal[],
])[] = [
  ['sooty', 'plugs sooty', 'sooty', 'It runs rich.', 'Look at the fuel system if the next ones foul too.', []],
  [
    'oily',
    'plugs oily',
    'oily',
    'Oil gets past rings or guides.',
    'Measure compression.',
    [{ kind: 'follow-up', task: 'compression', when: SOON_DAYS }],
  ],
  [
    'white',
    'plugs white',
    'very white',
    'It runs lean or hot.',
    'Fuel filter and cooling looked at before it runs hard.',
    [
      { kind: 'follow-up', task: 'fuel-filter', when: SOON_DAYS },
      { kind: 'follow-up', task: 'thermostat', when: SOON_DAYS },
    ],
  ],
];

/**
 * No engine makes so little and runs: a cylinder below is worn out, whatever the others make. Common practice, no
 * source.
 */
const LEAST_KPA = 400;

/** Compression, cylinder by cylinder. */
export function compressionRead({ engine, all, add }: Look): void {
  const pressures = all('compression').flatMap(({ key: k, part, value }) => {
    const kpa = 'value' in value ? kilopascalsOf(value) : null;
    return kpa === null || kpa <= 0
      ? []
      : [{ key: k, cylinder: Number(part), kpa, value: value as { value: number; unit: string } }];
  });
  const spread = pressures.length < engine.cylinders ? null : compressionSpread(pressures.map((p) => p.kpa));
  const own = engine.traits.compressionFloorKpa;
  const floor = own ?? LEAST_KPA;
  const low = pressures.filter((p) => p.kpa < floor);
  if ((spread !== null && !spreadPasses(spread)) || low.length > 0) {
    const weakest = [...pressures].sort((a, b) => a.kpa - b.kpa)[0]!;
    const severe = (spread ?? 0) > SEVERE_SPREAD || low.length > 0;
    const seen =
      low.length > 0
        ? `Cylinder ${weakest.cylinder} makes ${weakest.value.value} ${weakest.value.unit}, below ${own === null ? 'what any engine runs on' : 'the model’s floor'}.`
        : `The cylinders lie ${percent(spread!)} apart; cylinder ${weakest.cylinder} is the weakest. ${COMPRESSION_SPREAD_TEXT} is the most.`;
    add(
      'compression',
      pressures.map((p) => p.key),
      severe ? 'hold' : 'act',
      seen,
      'A cylinder is worn or leaks: rings, valves or head gasket.',
      severe ? 'Hold it; test again and by leak-down.' : 'Test again warm, then by leak-down.',
      [
        ...(severe ? [{ kind: 'hold' as const, checks: ['leak-down' as const] }] : []),
        { kind: 'follow-up', task: 'compression', when: 'now' },
        { kind: 'follow-up', task: 'leak-down', when: 'now' },
      ],
    );
  }
}

/** Plugs and their gap. */
export function plugsRead({ engine, at, all, key, add }: Look): void {
  for (const [is, code, word, means, does, proposals] of PLUGS) {
    const plugs = all('plug look').filter(({ value }) => 'choice' in value && value.choice === is);
    if (plugs.length > 0)
      add(
        code,
        plugs.map((p) => p.key),
        is === 'sooty' ? 'watch' : 'act',
        `${plugs.length === engine.cylinders && plugs.length > 1 ? 'All plugs are' : `Plug ${plugs.map((p) => p.part).join(', ')} is`} ${word}.`,
        means,
        // What was measured on this card is not asked for once more.
        does,
        proposals.filter((p) => !('task' in p) || !engine.worked.has(p.task)),
      );
  }
  const gap = at('plug gap');
  if (gap && 'value' in gap && engine.traits.plugGapMm !== null) {
    const mm = gap.unit === 'in' ? gap.value * 25.4 : gap.value;
    if (Math.abs(mm - engine.traits.plugGapMm) > 0.1 + 1e-9)
      add(
        'plug gap',
        [key('plug gap')],
        'watch',
        `The gap is ${round(mm, 2)} mm; the model wants ${engine.traits.plugGapMm} mm.`,
        'It will misfire or start badly.',
        'Set it before the plug goes in.',
      );
  }
}
