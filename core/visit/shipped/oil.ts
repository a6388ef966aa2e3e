import type { Template } from '../template.ts';

/** Steps of the engine's oil. Common practice, no source; the engine maker's manual outranks it. */
export const ENGINE_OIL: Template = [
  { key: 'warm', text: 'Warm it up: five minutes at idle on cooling water, then stop', share: 6, stance: 'level', when: { unknownHistory: false, oilBy: 'gravity' }, after: ['engine-oil/where'], caution: 'Never without cooling water, in the open, nobody near the propeller.', once: 'warm up' },
  { key: 'where', text: 'Nothing is known of this engine: look whether there is oil in it, and leave it cold', detail: 'No start before fresh oil is in.', share: 2, stance: 'level', when: { unknownHistory: true }, after: ['cowl off'] },
  { key: 'vent', text: 'Fill cap open, dipstick out, so that the sump can breathe', detail: 'Look at the rubber of the cap: cracked means a new one.', share: 1.5, after: ['cowl off', 'side cover off', 'warm up', 'where'] },
  { key: 'hose', text: 'Push the thin hose down the dipstick hole until it touches bottom, then pump', detail: 'Pump leads: plus to plus, and mind the arrow. By hand: ten strokes, then wait. Watch the hose for air.', share: 5, wait: 'task', stance: 'level', when: { oilBy: 'extraction' }, after: ['vent', 'compression/crank', 'leak-down/test'], caution: 'Hot oil: gloves.' },
  { key: 'hose-out', text: 'Hose out into a rag', share: 1, when: { oilBy: 'extraction' }, after: ['hose'] },
  { key: 'drain', text: 'Turn to the drain side, pan under it, drain screw out', detail: '{drainAt}. The stream starts far out and moves in: move the pan with it. Keep hold of the screw.', share: 4, wait: 'task', stance: 'tilted', warm: true, when: { oilBy: 'gravity' }, after: ['vent', 'compression/crank', 'leak-down/test'], caution: 'Hot oil: gloves. The right size of socket: 3/4 in is 1 mm too wide for 18 mm and rounds the head.' },
  { key: 'look', text: 'What came out? Rub it between two fingers, smell it, look at the screw', share: 1, after: ['drain', 'hose'], readings: ['oil look', 'oil out', 'screw'] },
  { key: 'screw', text: 'Clean the screw, swap its washer, wipe spout and seat', detail: 'The seat cannot be reached once the screw is in.', share: 1.5, when: { oilBy: 'gravity', washers: 'new' }, after: ['drain started'], parts: true },
  { key: 'screw-again', text: 'Clean the screw and look at its washer: a crushed or scored one is swapped', share: 1.5, when: { oilBy: 'gravity', washers: 'second' }, after: ['drain started'], parts: true },
  { key: 'plug', text: 'Drain screw in by hand, then {drainScrewNm}', share: 2, when: { oilBy: 'gravity' }, after: ['drain', 'screw', 'screw-again', 'look'], caution: 'Start the thread by hand; do not over-tighten into aluminium.', torque: 'drainScrewNm', readings: ['torque'] },
  { key: 'fill', text: 'Pour in {first} of {sump}', detail: '{fillAt}. {oil}. The rest comes after the run.', share: 5, when: { 'fill level': 'dipstick' }, after: ['plug', 'hose-out', 'oil-filter/on', 'look'], readings: ['oil in'], parts: true },
  { key: 'fill-label', text: 'Pour in {sump}', detail: '{fillAt}. {oil}.', share: 5, when: { 'fill level': 'label' }, after: ['plug', 'hose-out', 'oil-filter/on', 'look'], readings: ['oil in'], parts: true },
  { key: 'stand', text: 'Tilt it to trailer height for a quarter of an hour, so that the heads drain into the sump', share: 0.5, wait: 15, stance: 'tilted', when: { tiltBeforeLevel: true }, after: ['fill', 'fill-label'] },
  { key: 'read', text: 'Level the engine, wipe the dipstick, read, top up in small pours', detail: 'Not final: the new filter is still empty.', share: 2.5, stance: 'level', after: ['fill', 'fill-label', 'stand'], readings: ['oil level before'] },
  { key: 'level', text: 'Thirty seconds after the run: level the engine, read again, top up with {rest} at most', detail: 'Upper half of the band. It counts only after the run.', share: 3, stance: 'level', after: ['run'], gate: 'level after the run', readings: ['oil level', 'oil added'] },
];

export const OIL_FILTER: Template = [
  { key: 'off', text: 'Rag and tray under it, old filter off', detail: 'After a full drain hardly anything spills. Mind the wiring beside it. The old rubber must come off with it.', share: 4, after: ['cowl off', 'engine-oil/drain started', 'engine-oil/hose started'], caution: 'Punching or crushing a stuck filter is the last resort: sharp edges, hot oil.', readings: ['filter seat'] },
  { key: 'on', text: 'Wipe the seat, oil the new rubber, thread it on by hand, then {filterNm}', detail: 'Date on it.', share: 5, after: ['off'], when: { 'filter turn': 'model' }, caution: 'Start the thread by hand.', torque: 'filterNm', parts: true },
  { key: 'on-half', text: 'Wipe the seat, oil the new rubber, thread it on by hand to contact, then half a turn', detail: 'Date on it.', share: 5, after: ['off'], when: { 'filter turn': 'half' }, caution: 'Start the thread by hand.', parts: true },
  { key: 'on-more', text: 'Wipe the seat, oil the new rubber, thread it on by hand to contact, then three quarters of a turn', detail: 'Date on it.', share: 5, after: ['off'], when: { 'filter turn': 'three quarters' }, caution: 'Start the thread by hand.', parts: true },
  { key: 'tray', text: 'Tray, funnel and rag out from under the filter', share: 1, after: ['on', 'on-half', 'on-more'] },
];
