import { TASKS } from '../../service/index.ts';
import type { Template } from '../template.ts';

const NO_SPARK = 'Lanyard off: no spark while plugs are out.';

export const SPARK_PLUGS: Template = [
  {
    key: 'out',
    size: 'plugSocketMm',
    text: 'Covers and coils or caps off, plugs out, laid in order',
    detail: 'A deep socket of the right size, pulled straight.',
    share: 2,
    after: ['cowl off'],
    caution: NO_SPARK,
    once: 'plugs out',
    opens: ['cylinders'],
  },
  {
    key: 'look',
    text: 'Look at each: light and dry, sooty, oily, very white?',
    share: 0.6,
    after: ['plugs out'],
    readings: ['plug look'],
  },
  {
    key: 'gap',
    tools: ['feeler gauge'],
    text: 'Gap {gap} on each new one, gauged, even when they come set',
    share: 0.6,
    after: ['look'],
    readings: ['plug gap'],
    parts: true,
  },
  {
    key: 'in',
    text: 'New plugs in by hand, then {plugNm}; contact grease in the caps, leads on',
    detail: 'Anti-seize on the coil bolt, not where the maker forbids it on the plug.',
    share: 1.8,
    after: ['gap', 'compression/crank', 'leak-down/test', 'fogging/fog'],
    caution: 'Start threads by hand; do not over-tighten into aluminium.',
    closes: ['cylinders'],
    torque: 'plugNm',
  },
];

export const COMPRESSION: Template = [
  {
    key: 'out',
    size: 'plugSocketMm',
    text: 'All plugs out, leads off, throttle open',
    share: 2,
    after: ['cowl off'],
    caution: NO_SPARK,
    once: 'plugs out',
    opens: ['cylinders'],
  },
  {
    key: 'crank',
    tools: ['compression gauge'],
    text: 'Gauge in, lanyard off, crank until it stops rising; each cylinder in turn',
    detail:
      'Battery on for it, off again after. All plugs out, same number of turns each. The spread is (highest - lowest) of the highest.',
    share: 3,
    after: ['plugs out', 'warm up'],
    turns: 'crank',
    warm: true,
    twoPeople: 'heavy unit',
    caution: 'Lanyard off. Do not crank longer than the maker allows.',
    readings: ['compression'],
  },
  {
    key: 'back',
    text: 'The same plugs back by hand, then {plugNm}; leads on',
    share: 1,
    unless: ['spark-plugs', 'fogging'],
    after: ['crank', 'leak-down/test'],
    closes: ['cylinders'],
    caution: 'Start threads by hand.',
    torque: 'plugNm',
  },
];

export const LEAK_DOWN: Template = [
  {
    key: 'out',
    size: 'plugSocketMm',
    text: 'All plugs out, each cylinder to its top in turn',
    share: 2,
    after: ['cowl off'],
    caution: TASKS['leak-down'].caution,
    once: 'plugs out',
    opens: ['cylinders'],
  },
  {
    key: 'test',
    tools: ['leak-down tester and air'],
    needs: ['cylinders open'],
    text: 'Air on, read the loss, listen where it goes',
    share: 6,
    after: ['plugs out'],
    caution: 'The crank can turn under air pressure: nobody near the propeller.',
    readings: ['leak loss'],
  },
  {
    key: 'back',
    text: 'Plugs back by hand, then {plugNm}; leads on',
    share: 2,
    unless: ['spark-plugs', 'compression', 'fogging'],
    after: ['test'],
    closes: ['cylinders'],
    caution: 'Start threads by hand.',
    torque: 'plugNm',
  },
];

export const FOGGING: Template = [
  {
    key: 'out',
    size: 'plugSocketMm',
    text: 'Plugs out',
    share: 3,
    after: ['cowl off'],
    caution: NO_SPARK,
    once: 'plugs out',
    opens: ['cylinders'],
  },
  {
    key: 'fog',
    text: 'Fogging oil into each bore, turn it over by hand',
    detail: 'After its last run: a run would burn it off.',
    share: 6,
    after: ['plugs out', 'compression/crank', 'leak-down/test'],
    opens: ['bores'],
    needs: ['cylinders open'],
  },
  {
    key: 'back',
    text: 'Plugs and leads straight back, to keep moisture out',
    share: 6,
    unless: ['spark-plugs'],
    after: ['fog'],
    closes: ['cylinders'],
    caution: 'Start threads by hand.',
  },
];
