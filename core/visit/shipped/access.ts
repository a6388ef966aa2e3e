import type { AccessTemplate, Template } from '../template.ts';

const HANDS = 'Key out, lanyard off, battery isolated before hands go near the propeller.';
const WRONG_ORDER = 'Washers in the wrong order let nut and propeller come off. Do not ding the threads.';

/**
 * What opens and, marked `closing`, closes each access, in steps with their shares of its minutes; and what every
 * visit begins and ends with, whose minutes are fixed. Common practice, no source.
 */
export const SHIPPED_ACCESS: Record<AccessTemplate, Template> = {
  cowl: [
    { key: 'cowl off', text: 'Cowl off, where nobody steps on it', detail: 'Tilt it up first where it is big: one person reaches it then.', share: 4, when: { recoil: false }, after: ['arrive'] },
    { key: 'cowl off by rope', once: 'cowl off', text: 'Cowl off: pass the starter rope back through its hole', share: 4, when: { recoil: true }, after: ['arrive'] },
    { key: 'cowl on', closing: true, text: 'Cowl on, latches looked at', share: 4, gate: 'cowl on' },
  ],
  'side cover': [
    { key: 'side cover off', text: 'Side cover off', detail: 'About six screws, one hidden, straight down; the longest goes back in its own hole.', share: 7, after: ['cowl off'] },
    { key: 'side cover on', closing: true, text: 'Pegs through their rubbers, side cover on, the longest screw in its own hole', share: 8 },
  ],
  tilt: [
    { key: 'tilt', text: 'Tilt it up, supports set, pan ready', share: 2.5, stance: 'tilted', after: ['arrive'], caution: 'Support it before working under it.' },
    { key: 'leg back', closing: true, text: 'Supports away, leg back where it was', share: 2.5 },
  ],
  propeller: [
    { key: 'propeller off', text: 'Wood between blade and plate, pin out, nut off; lay the washers down in their order', share: 5, when: { propNut: 'cotter pin' }, stance: 'tilted', after: ['arrive'], caution: HANDS },
    { key: 'propeller off by tab', once: 'propeller off', text: 'Wood between blade and plate, nut off; lay the washers down in their order, thick, bevelled, thick', share: 5, when: { propNut: 'bevelled washer' }, stance: 'tilted', after: ['arrive'], caution: HANDS },
    { key: 'propeller on', closing: true, text: 'Propeller on, washers in their order, nut by hand, then {propNutNm}, new pin', share: 7, when: { propNut: 'cotter pin' }, stance: 'tilted', torque: 'propNutNm', caution: WRONG_ORDER },
    { key: 'propeller on by tab', once: 'propeller on', closing: true, text: 'Propeller on, washers in their order, nut by hand, then {propNutNm}, tab bent', share: 7, when: { propNut: 'bevelled washer' }, stance: 'tilted', torque: 'propNutNm', caution: WRONG_ORDER },
  ],
  'lower unit': [
    { key: 'neutral', text: 'Shift to neutral, part the shift shaft', detail: 'Some models want forward gear: see the manual.', share: 4, stance: 'tilted', after: ['tilt'] },
    { key: 'trim tab', text: 'Mark the angle of the trim tab, take it off: a bolt hides under it', share: 3, stance: 'tilted', when: { boltUnderTab: true }, after: ['tilt'] },
    { key: 'speed tube', text: 'Part the speed pickup’s tube at its joint, not with a knife', share: 2, stance: 'tilted', when: { speedTube: true }, after: ['tilt'] },
    { key: 'lower unit off', text: 'All bolts loose together, all out but one, hold it, last bolt, wiggle it down', share: 11, stance: 'tilted', twoPeople: 'heavy unit', after: ['neutral', 'trim tab', 'speed tube', 'gear-lube/loosen'], caution: 'A two-person lift. One bolt stays in until it is held; support it before working under it.' },
    { key: 'lower unit on', closing: true, text: 'Lift: shift shaft, speed tube, water tube and splines meet; first bolt holds it, rest crosswise', detail: 'Turn the shaft until the splines find each other. Anti-seize on every bolt. Allow time.', share: 18, stance: 'tilted', twoPeople: 'heavy unit', caution: 'A two-person lift. Fingers out of the gap.' },
    { key: 'tab back', closing: true, text: 'Trim tab to its mark, speed tube joined, shift shaft joined', share: 4, stance: 'tilted', after: ['lower unit on'] },
    { key: 'shift test', closing: true, text: 'Neutral spins free, forward takes, reverse takes', share: 3, after: ['tab back'], gate: 'shift test', readings: ['shift'], caution: 'By hand, engine off; nobody else near the propeller.' },
  ],
  visit: [
    { key: 'arrive', text: 'Tools and pans laid out; key out, lanyard off, battery isolated', share: 6, caution: 'Kill-switch lanyard off and battery isolated before hands go near propeller or plugs.' },
    { key: 'run', text: 'Run it five minutes on cooling water, cowl off: the stream soon and strong, filter and drain screw dry', detail: 'No stream within half a minute: stop it.', share: 5, gate: 'cooling stream', readings: ['stream'], caution: 'Never without cooling water, in the open: exhaust gas kills. Nobody near the propeller.' },
    { key: 'leaks', text: 'No leaks: filter, screws, joints, the leg and the water round it', share: 1.5, gate: 'no leaks', readings: ['leak'] },
    { key: 'rags', text: 'Rags, trays and tools out and counted; leg and deck wiped', share: 3, gate: 'rags and trays out' },
    { key: 'waste', text: 'Waste to its streams, and booked', share: 3, gate: 'waste booked', readings: ['waste'], caution: 'Oil, fuel, filters and rags each to their own waste.' },
    { key: 'leave', text: 'Hours and parts written down, the card finished', share: 3 },
  ],
};
