import type { Template } from '../template.ts';

const HANDS = 'Lanyard off and battery isolated before hands go near the propeller.';

export const GEAR_LUBE: Template = [
  {
    key: 'loosen',
    text: 'Break the {screws} screws loose while they are high',
    detail: 'Eye protection when a stuck screw has to be struck.',
    share: 2,
    stance: 'tilted',
    after: ['tilt', 'propeller off'],
    caution: `${HANDS} A knocked-out screw can fly.`,
    readings: ['screw'],
  },
  {
    key: 'drain',
    text: 'Leg fully down over the pan: bottom screw out, then the vent',
    share: 3,
    wait: 'task',
    stance: 'level',
    when: { unitOff: false },
    after: ['loosen'],
    caution: HANDS,
  },
  {
    key: 'drain-bench',
    text: 'On its stand over the pan: bottom screw out, then the vent',
    share: 3,
    wait: 'task',
    when: { unitOff: true },
    after: ['loosen', 'lower unit off'],
  },
  {
    key: 'look',
    text: 'What came out? Rub it between two fingers; look at the magnet',
    share: 1.5,
    after: ['drain started', 'drain-bench started'],
    readings: ['lube look'],
  },
  {
    key: 'gaskets',
    text: 'Count the old gaskets out: {screws} were in',
    detail: 'One left in the port gets doubled.',
    share: 1.5,
    after: ['drain', 'drain-bench'],
    readings: ['gaskets out'],
  },
  {
    key: 'magnet',
    text: 'Wipe the magnet clean, {screws} new gaskets on the screws',
    share: 1,
    when: { washers: 'new' },
    after: ['gaskets', 'look'],
    parts: true,
  },
  {
    key: 'magnet-again',
    text: 'Wipe the magnet clean; gaskets that spring back go on again, others are new',
    share: 1,
    when: { washers: 'second' },
    after: ['gaskets', 'look'],
    parts: true,
  },
  {
    key: 'fill',
    text: 'Pump {case} in from the bottom, vents open, until it shows clear at the vent',
    detail: '{lube}. Never from the top. The bottle can be changed with the pump still on.',
    share: 5,
    wait: 1.5,
    stance: 'level',
    after: ['magnet', 'magnet-again', 'lower unit on'],
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
    text: 'Swap those under half; metal to bright metal, no paint between',
    stance: 'tilted',
    share: 10,
    after: ['look'],
    parts: true,
  },
];

export const GEAR_SEALS: Template = [
  {
    key: 'pressure',
    text: 'Pressure on the empty case as the manual says, and wait: does it hold?',
    share: 18,
    wait: 5,
    after: ['propeller off', 'tilt'],
    caution: 'Let the pressure off before anything is opened.',
  },
  {
    key: 'seals',
    text: 'New seals where it leaks, lips greased, the right way round',
    share: 32,
    after: ['pressure'],
    caution: HANDS,
  },
  { key: 'again', text: 'Pressure again, then vacuum: both hold', share: 10, wait: 5, after: ['seals'] },
];

export const GEAR_INSPECTION: Template = [
  { key: 'open', text: 'Case open on the bench: teeth, dogs, bearings', share: 45, after: ['lower unit off'] },
  { key: 'shut', text: 'Worn parts renewed, shims as they were, closed with new seals', share: 30, after: ['open'] },
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
