import { RUN_CAUTION } from './cautions.ts';
import { TASKS } from '../../service/index.ts';
import type { Template } from '../template.ts';

export const IMPELLER: Template = [
  {
    key: 'housing-off',
    text: 'Pump bolts out, housing up: did the wheel come with it or stay?',
    share: 6,
    after: ['lower unit off'],
    opens: ['water pump'],
  },
  {
    key: 'wheel-off',
    text: 'Old wheel out: vanes bent and staying bent, hard, cracked, a piece missing?',
    detail: 'Count the vanes. A missing piece sits further up.',
    share: 4,
    after: ['housing-off'],
    readings: ['impeller look'],
  },
  {
    key: 'metal',
    text: 'Liner, plate and housing: run a nail across. A groove? Scratches in the housing?',
    share: 4,
    after: ['housing-off'],
    readings: ['pump metal'],
  },
  {
    key: 'scrape',
    tools: ['plastic scraper'],
    text: 'Old gaskets off without a scratch, guide pins there and straight',
    share: 6,
    after: ['wheel-off', 'metal'],
  },
  {
    key: 'bed',
    text: 'Bottom gasket, plate, top gasket',
    share: 5,
    when: { pumpTurn: 'kit' },
    after: ['scrape'],
    parts: true,
  },
  {
    key: 'bed-marked',
    text: 'Plate and liner: a mark one can feel means a new one, the rest goes back; both gaskets new',
    detail: 'A marked housing too.',
    share: 5,
    when: { pumpTurn: 'marked' },
    after: ['scrape'],
    parts: true,
  },
  {
    key: 'bed-old',
    text: 'Plate back as it was; gaskets new where the old came off',
    share: 5,
    detail: 'A groove in plate, liner or housing: take the whole kit after all.',
    when: { pumpTurn: 'impeller' },
    after: ['scrape'],
    parts: true,
  },
  {
    key: 'key',
    text: 'Turn the shaft until the notch is up, key in',
    detail: 'Up, so that it does not fall out.',
    share: 3,
    after: ['bed', 'bed-marked', 'bed-old'],
  },
  {
    key: 'wheel',
    text: 'New wheel over the key, liner in its notch in the housing, housing down while the shaft turns clockwise',
    detail: 'A thin film of grease on the liner.',
    share: 12,
    when: { impeller: ['12 months or 200 h', '24 months', '300 h'] },
    after: ['key'],
  },
  {
    key: 'wheel-again',
    text: 'Vanes springy, whole and straight: the same wheel back; anything else: a new one. Housing down while the shaft turns clockwise',
    detail: 'Liner in its notch, a thin film of grease on it. Whether it is a new one goes into the parts used.',
    share: 12,
    when: { impeller: 'by inspection' },
    after: ['key'],
  },
  {
    key: 'bolts',
    text: 'Pump bolts with grease, crosswise',
    share: 5,
    after: ['wheel', 'wheel-again'],
    closes: ['water pump'],
    caution: 'Do not over-tighten into aluminium.',
  },
  {
    key: 'splines',
    text: 'Grease on splines, shift coupling and the end of the water tube',
    share: 5,
    after: ['bolts'],
  },
];

export const PASSAGES: Template = [
  {
    key: 'back',
    text: 'Blow back through the water tube with low pressure; catch what comes',
    share: 15,
    after: ['lower unit off'],
    caution: 'Eye protection.',
  },
  {
    key: 'count',
    text: 'Lay the pieces together: is a whole vane there?',
    share: 10,
    after: ['back'],
    closes: ['piece missing'],
    readings: ['pieces found'],
  },
  {
    key: 'thermostat',
    text: 'Thermostat out, look behind it for the rest, back in with its gasket',
    share: 15,
    unless: ['thermostat'],
    after: ['count', 'cowl off'],
    opens: ['thermostat'],
    closes: ['thermostat'],
    caution: 'Let the engine cool first.',
  },
];

export const THERMOSTAT: Template = [
  {
    key: 'off',
    text: 'Cover off, old thermostat and gasket out',
    share: 9,
    after: ['cowl off', 'warm up'],
    opens: ['thermostat'],
    caution: TASKS.thermostat.caution,
  },
  {
    key: 'look',
    text: 'Salt or rubber behind it? Did it open? Wash it out',
    share: 4,
    after: ['off', 'passages/count'],
    readings: ['thermostat look'],
  },
  {
    key: 'on',
    text: 'New thermostat the same way round, new gasket, bolts crosswise',
    share: 12,
    after: ['look'],
    closes: ['thermostat'],
    caution: 'Do not over-tighten into aluminium.',
    parts: true,
  },
];

export const FLUSH: Template = [
  {
    key: 'flush',
    text: 'Fresh water through it until it runs clear and cool',
    share: 8,
    wait: 'task',
    after: ['arrive'],
    turns: 'early',
    needs: ['cooling passages'],
    caution: 'Never without cooling water; whether it may run on the flush port is the model’s own matter.',
    readings: ['stream'],
  },
  { key: 'rinse', text: 'Rinse leg, bracket and steering; cavity and trailer too', share: 7, after: ['flush'] },
];

export const ANTIFREEZE: Template = [
  {
    key: 'hot',
    text: 'Run until the thermostat is open and hot',
    share: 6,
    after: ['engine-oil/level', 'flush/flush', 'run'],
    stance: 'level',
    turns: 'late',
    needs: ['cooling passages'],
    caution: RUN_CAUTION,
  },
  {
    key: 'draw',
    text: 'Draw antifreeze until it comes out coloured',
    share: 14,
    after: ['hot'],
    stance: 'level',
    turns: 'late',
    opens: ['cooling passages'],
    caution: 'Catch it: it is poison in the water.',
  },
];
