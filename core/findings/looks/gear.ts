import { LOOK_AGAIN_DAYS, SOON_DAYS, type Look } from './look.ts';

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

/** The case under pressure, before and after new seals. */
export function caseUnderPressure({ choice, key, add }: Look): void {
  if (choice('seal pressure again') === 'falls')
    add(
      'seals leak',
      [key('seal pressure again')],
      'hold',
      'The gear case does not hold with its new seals.',
      'A lip is turned or a seat is scored: water comes in again.',
      'Hold it. Seals again before any lube goes in.',
      [
        { kind: 'hold', checks: ['gear-seals', 'gear-lube'] },
        { kind: 'follow-up', task: 'gear-seals', when: 'now' },
        { kind: 'follow-up', task: 'gear-lube', when: 'after the one before' },
      ],
    );
  else if (choice('seal pressure') === 'falls')
    add(
      'seals due',
      [key('seal pressure')],
      'watch',
      'The empty case does not hold pressure.',
      'A seal leaks: propeller shaft, drive shaft or shift shaft.',
      'New ones where it leaks, then pressure and vacuum again.',
    );
}

/** Teeth, dogs and bearings in the open case. */
export function gearsSeen({ choice, key, add }: Look): void {
  if (choice('gears look') === 'broken')
    add(
      'gears broken',
      [key('gears look')],
      'hold',
      'Gears, dogs or bearings are broken and not mended.',
      'It will stop under way, or come out of gear.',
      'Hold it until they are renewed.',
      [
        { kind: 'hold', checks: ['gear-inspection'] },
        { kind: 'order', task: 'gear-inspection' },
      ],
    );
}

/** Propeller and hub. */
export function hubSeen({ choice, key, add }: Look): void {
  const hub = choice('hub look');
  if (hub === 'slips')
    add(
      'hub slips',
      [key('hub look')],
      'act',
      'The hub is cracked or slips.',
      'It will not push under load.',
      'Another propeller or a new hub before it goes out.',
      [
        { kind: 'order', task: 'prop-shaft', what: 'hub or propeller' },
        { kind: 'follow-up', task: 'prop-shaft', when: 'now' },
      ],
    );
  if (hub === 'chipped')
    add(
      'blade chipped',
      [key('hub look')],
      'watch',
      'Chips, or a bent blade.',
      'It shakes, and shaking wears seals and bearings.',
      'File it smooth, or have it mended when the boat is in.',
    );
}
