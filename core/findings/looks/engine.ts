import { type Look } from './look.ts';

/** What is seen under the cowl. */
export function underCowl({ choice, key, add }: Look): void {
  const seen = choice('under cowl');
  if (seen === 'fuel')
    add(
      'fuel under cowl',
      [key('under cowl')],
      'hold',
      'Fuel under the cowl.',
      'One spark, and it burns.',
      'Battery off, cowl open, nobody starts it. Hold it until the leak is mended.',
      [
        { kind: 'hold', checks: ['fuel-repair'] },
        { kind: 'follow-up', task: 'fuel-repair', when: 'now' },
      ],
    );
  if (seen === 'oil')
    add(
      'oil under cowl',
      [key('under cowl')],
      'watch',
      'Oil under the cowl.',
      'A seal or a joint weeps, or it was spilt.',
      'Wipe it off, find where it comes from, look again after the next outing.',
      [{ kind: 'follow-up', task: 'first-outing', when: 1 }],
    );
  if (seen === 'worn')
    add(
      'worn under cowl',
      [key('under cowl')],
      'act',
      'Belt, starter teeth or plug leads are worn.',
      'A belt that breaks bends valves; a starter that slips leaves the boat out.',
      'Renew it before long.',
      [{ kind: 'order', task: 'look-over', what: 'belt, starter gear or leads' }],
    );
}

/**
 * Volts of a rested twelve-volt battery: full at 12.6 and more, half at about 12.2, and below 11.8 hardly one that
 * comes back. Common practice, no source.
 */
const FULL_VOLTS = 12.4;
const HALF_VOLTS = 12.2;
const DEAD_VOLTS = 11.8;

/** The battery at rest. */
export function batteryRead({ at, key, add }: Look): void {
  const volts = at('battery volts');
  if (!volts || !('value' in volts) || volts.value >= FULL_VOLTS) return;
  if (volts.value < DEAD_VOLTS)
    add(
      'battery dead',
      [key('battery volts')],
      'act',
      `${volts.value} V at rest.`,
      'Flat: plates that stood so hardly come back.',
      'Charge it apart, read it again after a night; a new one if it falls.',
      [
        { kind: 'order', task: 'battery' },
        { kind: 'follow-up', task: 'battery', when: 1 },
      ],
    );
  else
    add(
      'battery low',
      [key('battery volts')],
      'watch',
      `${volts.value} V at rest.`,
      volts.value < HALF_VOLTS ? 'Less than half full.' : 'Not full.',
      'Charge it full now, and read it again in two weeks.',
      [{ kind: 'follow-up', task: 'battery', when: 14 }],
    );
}
