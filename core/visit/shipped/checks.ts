import { RUN_CAUTION, SHIFT_TEST } from './cautions.ts';
import { TASKS } from '../../service/index.ts';
import type { Template, TemplateLine } from '../template.ts';

/** Before an engine nothing is known of is started for work that does not change its oil. */
export const OIL_LOOK: TemplateLine = {
  key: 'oil look',
  text: 'Nothing is known of this engine: dipstick out, is there clean oil on it? Back in',
  detail: 'None, milky, or a smell of petrol: it is not started, hold it.',
  share: 1,
  closes: ['sump oil'],
  // Where it stands: what came out is not to be said of oil that is still in, and none is below the mark.
  readings: ['oil level found'],
};

export const LOOK_OVER: Template = [
  {
    key: 'look',
    text: 'Belt, starter teeth, plug leads, hoses, clips; oil or fuel where none should be',
    share: 4,
    after: ['cowl off'],
    caution: TASKS['look-over'].caution,
    readings: ['under cowl'],
  },
  {
    key: 'spray',
    text: 'Corrosion spray where metal is bare',
    detail: 'Not on the belt.',
    share: 1,
    after: ['look', 'run'],
  },
];

export const FIRST_OUTING: Template = [
  {
    key: 'level',
    text: 'After its first outing: level the engine, read the oil',
    share: 2,
    stance: 'level',
    after: ['cowl off'],
    when: { stroke: 4 },
    readings: ['oil level'],
  },
  {
    key: 'seat',
    text: 'Filter, drain screw and every joint that was open: dry?',
    share: 2,
    after: ['cowl off'],
    readings: ['leak'],
  },
  { key: 'slick', text: 'Look at the water round the leg: a sheen?', share: 1, after: ['arrive'], readings: ['sheen'] },
];

export const OIL_LEVEL: Template = [
  {
    key: 'level',
    text: 'Level and cold: dipstick out, wiped, in and out again. Where does it stand?',
    share: 2,
    stance: 'level',
    // A change reads it before the drain; in spring it is read before anything is started.
    unless: ['engine-oil', 'spring-run'],
    after: ['arrive', 'run'],
    readings: ['oil level found'],
  },
  {
    key: 'top',
    text: 'Top up in small pours to the upper half, and note what went in; cap and dipstick back. Where does it stand now?',
    detail: '{oil}.',
    share: 2,
    stance: 'level',
    after: ['level', 'engine-oil/level', 'spring-run/level', 'run'],
    readings: ['oil added', 'oil level'],
  },
];

export const OIL_PRESSURE: Template = [
  {
    key: 'gauge',
    tools: ['oil-pressure gauge with its adapter'],
    text: 'Level looked at, sender out, gauge in its place, wires kept clear',
    share: 12,
    after: ['cowl off', 'engine-oil/level'],
    opens: ['oil filter'],
  },
  { key: 'tight', text: 'Gauge tight, nothing drips', share: 2, after: ['gauge'], closes: ['oil filter'] },
  {
    key: 'read',
    text: 'Warm, at idle and faster: what does it make, and what does the manual want?',
    detail:
      'Battery on, lanyard on, neutral, propeller clear of the ground; off again after. Stop it where none comes.',
    share: 8,
    stance: 'level',
    turns: 'late',
    needs: ['cooling passages'],
    after: ['tight'],
    caution: RUN_CAUTION,
    readings: ['oil pressure', 'oil pressure look'],
  },
  { key: 'back', text: 'Gauge out, sender in with its seal, dry', share: 8, after: ['read'] },
];

export const OIL_TRACE: Template = [
  {
    key: 'cut',
    text: 'Cut the old filter open, spread the paper on white',
    share: 15,
    after: ['cowl off', 'oil-filter/off'],
    caution: 'Sharp edges, hot oil: gloves.',
  },
  {
    key: 'magnet',
    text: 'A magnet through it: steel, or soft metal from a bearing?',
    share: 10,
    after: ['cut'],
    readings: ['metal kind'],
  },
  { key: 'trace', text: 'Follow it: bearings, cam, timing; note what was found', share: 20, after: ['magnet'] },
];

/** Where it stands on the boat; at lay-up it comes out. */
export const BATTERY_CHECK: Template = [
  {
    key: 'volts',
    tools: ['voltmeter'],
    text: 'Volts after an hour at rest',
    detail: 'About 12.7 V is full, 12.2 V half empty.',
    share: 3,
    after: ['arrive'],
    readings: ['battery volts'],
    caution: 'No spark near a battery.',
  },
  {
    key: 'terminals',
    tools: ['brush', 'terminal grease'],
    text: 'Terminals bright and tight, a film of grease; level where it can be seen; strap tight',
    share: 5,
    after: ['volts'],
  },
];

/** Part of an outing: the engine is new, and somebody stands at the wheel. */
export const RUNNING_IN: Template = [
  {
    key: 'told',
    text: 'Who takes it out is told: which hours they are, and what may not be done in them',
    detail:
      'First two hours: under load, another speed every minute, full throttle one minute in ten at most. Next eight: no speed for more than ten minutes.',
    share: 5,
    after: ['arrive'],
  },
  {
    key: 'log',
    text: 'Write the hours down on the engine’s page, by phone from the boat',
    detail: 'Stream, oil light, leaks, anything that sounds wrong.',
    share: 15,
    after: ['told'],
  },
];

/** The first run after months in store. */
export const SPRING_RUN: Template = [
  {
    key: 'level',
    text: 'Before it is started at all: level and cold, dipstick out, wiped, in and out again. Where does it stand?',
    detail: OIL_LOOK.detail!,
    share: 2,
    stance: 'level',
    when: { stroke: 4 },
    unless: ['engine-oil'],
    after: ['arrive'],
    closes: ['sump oil'],
    readings: ['oil level found'],
  },
  {
    key: 'fuel',
    text: 'Battery connected, fuel on, bulb primed: hoses, joints and filter looked at for drips',
    detail:
      'The card of its cover read, drain bungs in before it floats. Fuel older than 24 months is pumped out, not run.',
    share: 5,
    after: ['cowl off', 'level', 'battery-check/terminals', 'tank-check/clean', 'fuel-filter/dry'],
    caution: 'Fuel vapour: no flame, no spark, in the open.',
  },
  { key: 'shift', text: SHIFT_TEST.text, share: 3, after: ['fuel'], readings: ['shift'], caution: SHIFT_TEST.caution },
  {
    key: 'stream',
    text: 'After the run: the stream came at once and stayed; alarm lamp out, idles evenly',
    share: 4,
    after: ['run'],
    readings: ['stream'],
  },
];

export const BATTERY: Template = [
  {
    key: 'off',
    tools: ['voltmeter'],
    text: 'Isolated, negative off first, out and dry',
    share: 6,
    after: ['arrive'],
    opens: ['battery'],
    readings: ['battery volts'],
    caution: 'No spark near a battery on charge.',
  },
  {
    key: 'charge',
    text: 'Charged full, clean, date on it; next round in two to four weeks',
    share: 4,
    when: { battery: 'top up' },
    after: ['off'],
  },
  { key: 'charger', text: 'On its charger, lamp looked at', share: 4, when: { battery: 'charger' }, after: ['off'] },
];
