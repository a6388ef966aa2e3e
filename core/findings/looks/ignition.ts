import { round } from '../../units/index.ts';
import { type Proposal } from '../finding.ts';
import {
  COMPRESSION_SPREAD,
  COMPRESSION_SPREAD_TEXT,
  compressionSpread,
  kilopascalsOf,
  percent,
  spreadPasses,
} from '../measures.ts';
import { LOOK_AGAIN_DAYS, SOON_DAYS, thenText, type Look } from './look.ts';

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

/** Lost since the last test by so much, a cylinder is worth a second look. Common practice, no source. */
const LOST = COMPRESSION_SPREAD;
/** One cylinder alone so far below the others, which agree: it is that cylinder. Common practice, no source. */
const ALONE = 0.25;

/** Compression, cylinder by cylinder, against each other, the model's least and the engine's own last test. */
export function compressionRead(look: Look): void {
  const { engine, add } = look;
  const pressures = pressuresRead(look);
  const spread = pressures.length < engine.cylinders ? null : compressionSpread(pressures.map((p) => p.kpa));
  const own = engine.traits.compressionFloorKpa;
  const floor = own ?? LEAST_KPA;
  const low = pressures.filter((p) => p.kpa < floor);
  const lost = pressures.filter((p) => p.lost !== null && p.lost > LOST + 1e-9).sort((a, b) => b.lost! - a.lost!);
  const apart = spread !== null && !spreadPasses(spread);
  if (!apart && low.length === 0 && lost.length === 0) return;
  const weakest = [...pressures].sort((a, b) => a.kpa - b.kpa)[0]!;
  const others = pressures.filter((p) => p !== weakest).map((p) => p.kpa);
  const alone =
    apart &&
    others.length >= 2 &&
    spreadPasses(compressionSpread(others)!) &&
    weakest.kpa < (1 - ALONE) * Math.min(...others);
  const severe = (spread ?? 0) > SEVERE_SPREAD || low.length > 0 || alone || (lost[0]?.lost ?? 0) > SEVERE_SPREAD;
  // All of them down alike: rather the gauge, a cold engine or a weak battery than all cylinders at once.
  const alike = !apart && low.length === 0 && lost.length === engine.cylinders && engine.cylinders > 1;
  add(
    'compression',
    pressures.map((p) => p.key),
    severe && !alike ? 'hold' : 'act',
    low.length > 0
      ? `Cylinder ${weakest.cylinder} makes ${weakest.value.value} ${weakest.value.unit}, below ${own === null ? 'what any engine runs on' : 'the model’s floor'}.`
      : alone
        ? `Cylinder ${weakest.cylinder} alone lies far below the others, which agree: ${percent(spread)} apart.`
        : apart
          ? `The cylinders lie ${percent(spread)} apart; cylinder ${weakest.cylinder} is the weakest. ${COMPRESSION_SPREAD_TEXT} is the most.`
          : alike
            ? `All cylinders have lost about ${percent(lost.at(-1)!.lost!)} since ${thenText(engine, lost[0]!.last!)}.`
            : `Cylinder ${lost[0]!.cylinder} has lost ${percent(lost[0]!.lost!)} since ${thenText(engine, lost[0]!.last!)}.`,
    alike
      ? 'All at once is rather a cold engine, a weak battery, another gauge or a shut throttle.'
      : 'A cylinder is worn or leaks: rings, valves or head gasket.',
    alike
      ? 'Test again warm, throttle open, battery full, same gauge.'
      : severe
        ? 'Hold it; test again and by leak-down.'
        : 'Test again warm, then by leak-down.',
    [
      ...(severe && !alike ? [{ kind: 'hold' as const, checks: ['leak-down' as const] }] : []),
      { kind: 'follow-up', task: 'compression', when: 'now' },
      ...(alike || engine.worked.has('leak-down')
        ? []
        : [{ kind: 'follow-up' as const, task: 'leak-down' as const, when: 'now' as const }]),
    ],
  );
}

/** The pressures read, with what each cylinder has lost since its last test, as a share. */
function pressuresRead({ all, before }: Look) {
  return all('compression').flatMap(({ key: k, part, value }) => {
    const kpa = 'value' in value ? kilopascalsOf(value) : null;
    if (kpa === null) return [];
    const last = before('compression', part).at(-1) ?? null;
    const was = last && 'value' in last.value ? kilopascalsOf(last.value) : null;
    return [
      {
        key: k,
        cylinder: Number(part),
        kpa,
        value: value as { value: number; unit: string },
        last,
        lost: was === null || was <= 0 ? null : 1 - kpa / was,
      },
    ];
  });
}

/** Loss of a cylinder under air; more is a leak to be found, far more is an engine to be opened. Common practice. */
const LEAK_MOST = 20;
const LEAK_SEVERE = 40;

/** Leak-down, cylinder by cylinder. */
export function leakDownRead({ all, add }: Look): void {
  const lossy = all('leak loss')
    .flatMap(({ key: k, part, value }) => ('value' in value ? [{ key: k, part, loss: value.value }] : []))
    .filter((r) => r.loss > LEAK_MOST)
    .sort((a, b) => b.loss - a.loss);
  const worst = lossy[0];
  if (!worst) return;
  const severe = worst.loss > LEAK_SEVERE;
  add(
    'leak-down',
    lossy.map((r) => r.key),
    severe ? 'hold' : 'act',
    `Cylinder ${worst.part} loses ${round(worst.loss, 0)} %.`,
    'Air at the oil cap: rings. At the intake or exhaust: valves. Bubbles in the water: head gasket.',
    severe ? 'Hold it until it is opened and mended.' : 'Measure again in the season; mend it at lay-up.',
    severe ? [{ kind: 'hold', checks: [] }] : [{ kind: 'follow-up', task: 'compression', when: LOOK_AGAIN_DAYS }],
  );
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
