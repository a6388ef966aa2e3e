import type { TaskKind } from '../../service/index.ts';
import type { Template, TemplateLine } from '../template.ts';

const PRESSURE = 'Let the pressure off before anything is opened.';
const HANDS = 'Lanyard off and battery isolated before hands go near the propeller.';

export const GEAR_LUBE: Template = [
  {
    key: 'loosen',
    tools: ['screwdriver that fills the slot'],
    text: 'Break the {screws}screws loose while they are high',
    detail: 'Eye protection when a stuck screw has to be struck.',
    share: 2,
    stance: 'tilted',
    after: ['tilt', 'propeller off'],
    caution: `${HANDS} A knocked-out screw can fly.`,
    readings: ['screw'],
  },
  {
    key: 'drain',
    tools: ['drain pan'],
    text: 'Leg fully down over the pan: bottom screw out, then the vent',
    share: 3,
    wait: 'task',
    stance: 'level',
    when: { unitOff: false },
    after: ['loosen'],
    opens: ['gear oil'],
    caution: HANDS,
  },
  {
    key: 'drain-bench',
    tools: ['drain pan', 'stand for the unit'],
    text: 'On its stand over the pan: bottom screw out, then the vent',
    share: 3,
    wait: 'task',
    when: { unitOff: true },
    after: ['loosen', 'lower unit off'],
    opens: ['gear oil'],
  },
  {
    key: 'look',
    text: 'What came out? Rub it between two fingers; look at the magnet',
    share: 1.5,
    after: ['drain started', 'drain-bench started'],
    readings: ['lube look'],
  },
  {
    key: 'line',
    text: 'While it drains: line behind the propeller, oil or water at the seal?',
    share: 1,
    unless: ['prop-shaft'],
    after: ['drain started', 'drain-bench started'],
    caution: HANDS,
    readings: ['shaft line'],
  },
  {
    key: 'gaskets',
    text: 'Count the old gaskets out: {fitted}',
    detail: 'One left in the port gets doubled.',
    share: 1.5,
    after: ['drain', 'drain-bench'],
    readings: ['gaskets out'],
  },
  {
    key: 'magnet',
    text: 'Wipe the magnet clean, {screws}new gaskets on the screws',
    share: 1,
    when: { gasketsAgain: false },
    after: ['gaskets', 'look'],
    parts: true,
  },
  {
    key: 'magnet-again',
    text: 'Wipe the magnet clean; the gaskets go on a second time, those that do not spring back are new',
    share: 1,
    when: { gasketsAgain: true },
    after: ['gaskets', 'look'],
    parts: true,
  },
  {
    key: 'fill',
    tools: ['gear-lube pump with its adapter'],
    text: 'Pump {case} in from the bottom, vents open, until it shows clear at the vent',
    detail: '{lube}. Never from the top. The bottle can be changed with the pump still on.',
    share: 5,
    wait: 1.5,
    stance: 'level',
    after: ['magnet', 'magnet-again', 'lower unit on'],
    needs: ['gear seals', 'gears', 'water in case', 'wear in case'],
    caution: 'The pump’s plastic thread crosses easily: seat it by hand.',
    readings: ['lube in'],
    parts: true,
  },
  {
    key: 'close',
    text: 'Pump again until no bubble comes; vent screw first, then off with the pump and in with the bottom screw',
    share: 3,
    when: { gearScrews: 2 },
    after: ['fill'],
    caution: 'Air left at the top bearing burns it.',
  },
  {
    key: 'close-three',
    text: 'Pump again until no bubble comes; first vent in, a stroke more through the second, that one in, then the bottom screw',
    share: 3,
    when: { gearScrews: 3 },
    after: ['fill'],
    caution: 'Air left at the top bearing burns it.',
  },
  {
    key: 'tight',
    text: 'Tilt up, tighten the screws {gearScrewNm}, wipe the leg dry',
    detail: 'What stays on the leg ends in the water.',
    share: 2,
    stance: 'tilted',
    after: ['close', 'close-three'],
    closes: ['gear oil'],
    torque: 'gearScrewNm',
    caution: 'Do not over-tighten into aluminium.',
  },
];

export const PROP_SHAFT: Template = [
  {
    key: 'line',
    text: 'Line round the shaft? Look behind the thrust piece and at the seal',
    stance: 'tilted',
    share: 4,
    after: ['propeller off'],
    caution: HANDS,
    readings: ['shaft line'],
  },
  {
    key: 'hub',
    text: 'Hub and blades: cracks, chips, a hub that slips',
    stance: 'tilted',
    share: 3,
    after: ['propeller off'],
    readings: ['hub look'],
  },
  { key: 'grease', text: 'Old grease off the splines, new grease on', stance: 'tilted', share: 5, after: ['line'] },
];

export const ANODES: Template = [
  {
    key: 'look',
    text: 'Anodes: how much is left of each? Note the least',
    stance: 'tilted',
    share: 5,
    after: ['tilt'],
    caution: HANDS,
    readings: ['anode left'],
  },
  {
    key: 'swap',
    tools: ['wire brush'],
    text: 'Swap those under half; metal to bright metal, no paint between',
    stance: 'tilted',
    share: 10,
    after: ['look'],
    parts: true,
  },
];

/** Empties the case and fills it again where no other task of the card does. */
const emptied = (unless: TaskKind[]): { empty: TemplateLine; refill: TemplateLine } => ({
  empty: {
    key: 'empty',
    text: 'Pan under it, screws out, the case empty: what came out?',
    detail: 'Milky, or water first: write it down. Count the old gaskets out.',
    share: 8,
    wait: 15,
    unless,
    after: ['tilt', 'propeller off', 'lower unit off'],
    opens: ['gear oil'],
    caution: HANDS,
    readings: ['lube look'],
  },
  refill: {
    key: 'refill',
    text: 'Pump {case} in from the bottom until it shows clear at the vent; new gaskets, vent first, then the bottom screw',
    detail: '{lube}. Never from the top. Wait, pump again: air left at the top bearing burns it.',
    share: 8,
    wait: 1.5,
    unless,
    stance: 'level',
    after: ['empty', 'lower unit on'],
    closes: ['gear oil'],
    needs: ['gear seals', 'gears', 'water in case', 'wear in case'],
    caution: 'Do not over-tighten into aluminium.',
  },
});
const FOR_SEALS = emptied(['gear-lube']);
const FOR_GEARS = emptied(['gear-lube', 'gear-seals']);

export const GEAR_SEALS: Template = [
  FOR_SEALS.empty,
  {
    key: 'pressure',
    tools: ['pressure and vacuum tester'],
    text: 'Screws in over the empty case, pressure as the manual says, and wait: does it hold?',
    share: 18,
    wait: 5,
    after: ['propeller off', 'tilt', 'empty', 'gear-lube/drain', 'gear-lube/drain-bench', 'gear-lube/gaskets'],
    needs: ['gear oil open', 'gear seals', 'gears'],
    caution: PRESSURE,
    readings: ['seal pressure'],
  },
  {
    key: 'seals',
    text: 'New seals where it leaks, lips greased, the right way round',
    share: 32,
    after: ['pressure'],
    opens: ['gear seals'],
    needs: ['gear oil open'],
    caution: HANDS,
  },
  {
    key: 'again',
    text: 'Pressure again, then vacuum: both hold',
    share: 10,
    wait: 5,
    after: ['seals'],
    closes: ['gear seals', 'water in case'],
    needs: ['gear oil open', 'gears'],
    caution: PRESSURE,
    readings: ['seal pressure again'],
  },
  FOR_SEALS.refill,
];

export const GEAR_INSPECTION: Template = [
  FOR_GEARS.empty,
  {
    key: 'open',
    text: 'Case open on the bench: teeth, dogs, bearings',
    share: 45,
    after: ['lower unit off', 'empty', 'gear-lube/drain-bench', 'gear-lube/gaskets', 'gear-seals/empty'],
    opens: ['gears'],
    needs: ['gear oil open'],
    readings: ['gears look'],
  },
  {
    key: 'shut',
    text: 'Worn parts renewed, shims as they were, closed with new seals; pressure holds',
    share: 30,
    after: ['open'],
    closes: ['gears', 'wear in case', 'water in case'],
  },
  FOR_GEARS.refill,
];

export const STEERING_ROD: Template = [
  { key: 'clean', text: 'Old grease off the rod', share: 5, after: ['arrive'] },
  {
    key: 'grease',
    text: 'White grease on, rod drawn in so that the greased part is covered',
    share: 7,
    after: ['clean'],
  },
];

export const GREASE: Template = [
  {
    key: 'points',
    tools: ['grease gun'],
    text: 'Every fitting: pump until new grease pushes the old out',
    detail: 'Steering, tilt, swivel.',
    share: 7,
    after: ['arrive'],
  },
  { key: 'missed', text: 'Those that are missed: shifter, cables, throttle and linkage', share: 5, after: ['points'] },
];

export const BONDING: Template = [
  { key: 'wires', text: 'Bonding wires and earth: every one there, bright and tight', share: 12, after: ['arrive'] },
  {
    key: 'stray',
    text: 'Shore power and neighbours: anything that feeds current into the water?',
    share: 8,
    after: ['wires'],
  },
];
