import { round } from '../../units/index.ts';
import { LOOK_AGAIN_DAYS, SOON_DAYS, type Look } from './look.ts';

/** Percent left. Common practice, no source. */
const ANODE_SPENT = 50;
const ANODE_FAST = 33;

/** What the gear lube looked like. */
export function gearLube({ choice, key, add }: Look): void {
  const lube = choice('lube look');
  if (lube === 'milky' || lube === 'water') {
    add(
      'water in lube',
      [key('lube look')],
      'hold',
      lube === 'milky' ? 'The gear lube is milky.' : 'Water ran out of the gear case first.',
      'Water has come past a seal; left in, it ruins the bearings and freezes the case.',
      'Hold it. Pressure test and seals, line at the shaft, then fresh lube. Never just refill.',
      [
        { kind: 'hold', checks: ['gear-seals', 'gear-lube'] },
        { kind: 'follow-up', task: 'prop-shaft', when: 'now' },
        { kind: 'follow-up', task: 'gear-seals', when: 'now' },
        { kind: 'follow-up', task: 'gear-lube', when: 'after the one before' },
      ],
    );
  }
  if (lube === 'grit')
    add(
      'grit in lube',
      [key('lube look')],
      'hold',
      'Grit in the gear lube, or more than fuzz on the magnet.',
      'Teeth, dogs or bearings are wearing.',
      'Hold it and look into the gears.',
      [
        { kind: 'hold', checks: ['gear-inspection'] },
        { kind: 'follow-up', task: 'gear-inspection', when: 'now' },
      ],
    );
}

/** Line round the propeller shaft. */
export function shaftLine({ choice, key, add }: Look): void {
  const line = choice('shaft line');
  if (line === 'line')
    add(
      'line at shaft',
      [key('shaft line')],
      'watch',
      'Line round the propeller shaft; the seal looks sound.',
      'The seal is at risk.',
      'It is off now. Look at the lube again in four weeks.',
      [{ kind: 'follow-up', task: 'gear-lube', when: LOOK_AGAIN_DAYS }],
    );
  if (line === 'seal')
    add(
      'line in seal',
      [key('shaft line')],
      'act',
      'Line has cut into the shaft’s seal.',
      'Water will come in.',
      'Pressure test and seals soon, then look at the lube.',
      [
        { kind: 'follow-up', task: 'gear-seals', when: SOON_DAYS },
        { kind: 'follow-up', task: 'gear-lube', when: 'after the one before' },
      ],
    );
}

/** How much of the anode is left. */
export function anodeLeft({ at, key, add }: Look): void {
  const anode = at('anode left');
  if (anode && 'value' in anode && anode.value < ANODE_SPENT) {
    const fast = anode.value < ANODE_FAST;
    add(
      'anode',
      [key('anode left')],
      fast ? 'act' : 'watch',
      `${round(anode.value, 0)} % of the anode is left.`,
      fast ? 'It goes faster than it should: bonding, or current in the water.' : 'It is spent.',
      fast ? 'A new one, bonding looked at, and this boat’s anodes sooner.' : 'A new one goes on.',
      [
        { kind: 'order', task: 'anodes' },
        ...(fast
          ? [
              { kind: 'follow-up' as const, task: 'bonding' as const, when: SOON_DAYS },
              { kind: 'shorten' as const, task: 'anodes' as const, percent: 50 },
            ]
          : []),
      ],
    );
  }
}
