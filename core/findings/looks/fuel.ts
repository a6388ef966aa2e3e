import { LOOK_AGAIN_DAYS, type Look } from './look.ts';

const TANK_WHEN_IN = 'Look at the tank when the boat is in anyway.';

/** Fuel filter and separator. */
export function fuelRead({ engine, choice, key, add }: Look): void {
  const tank = (when: 'now' | number) =>
    engine.worked.has('tank-check') ? [] : [{ kind: 'follow-up' as const, task: 'tank-check' as const, when }];
  const fuel = choice('fuel filter look');
  if (fuel === 'dark')
    add(
      'fuel dirty',
      [key('fuel filter look')],
      'watch',
      'The fuel filter is darker than a new one.',
      'Dirt comes with the fuel.',
      TANK_WHEN_IN,
      tank(LOOK_AGAIN_DAYS),
    );
  const water = [
    fuel === 'water' && key('fuel filter look'),
    choice('separator look') === 'water' && key('separator look'),
  ].filter((k) => k !== false);
  if (water.length > 0)
    add(
      'water in fuel',
      water,
      'act',
      'Water in the fuel.',
      'It stops the engine and rusts the injectors.',
      'Draw the tank’s bottom, look at cap and vent.',
      tank('now'),
    );
  if (choice('separator look') === 'dirt')
    add(
      'dirt in fuel',
      [key('separator look')],
      'watch',
      'Dirt in the separator.',
      'It comes from the tank.',
      TANK_WHEN_IN,
      tank(LOOK_AGAIN_DAYS),
    );
}

/** A glass from the bottom of the tank. */
export function tankSeen({ choice, key, add }: Look): void {
  const tank = choice('tank look');
  if (tank === 'water' || tank === 'dirt')
    add(
      'tank fouled',
      [key('tank look')],
      tank === 'water' ? 'act' : 'watch',
      tank === 'water' ? 'Water at the bottom of the tank.' : 'Dirt at the bottom of the tank.',
      'It goes on to the filters and on from there.',
      'Empty or clean it; new separator soon after.',
      [{ kind: 'follow-up', task: 'separator', when: LOOK_AGAIN_DAYS }],
    );
}

/** Leaks and sheens. */
export function leaksSeen({ choice, key, add }: Look): void {
  const leak = choice('leak');
  if (leak === 'leaks')
    add(
      'leak',
      [key('leak')],
      'hold',
      'It goes on leaking after it was tightened.',
      'A seal or a joint has failed.',
      'Hold it until it is dry.',
      [
        { kind: 'hold', checks: ['look-over'] },
        { kind: 'follow-up', task: 'look-over', when: 'now' },
      ],
    );
  else if (leak === 'sheen' || leak === 'drip')
    add(
      'drip',
      [key('leak')],
      'watch',
      leak === 'drip' ? 'It dripped and is dry now.' : 'A sheen on the water.',
      'Spilt oil runs off for a day; a leak goes on.',
      'Look again after the first outing; hold it if it goes on.',
      [{ kind: 'follow-up', task: 'first-outing', when: 1 }],
    );
  if (choice('sheen') === 'sheen')
    add(
      'sheen stays',
      [key('sheen')],
      'act',
      'The sheen is still there after the outing.',
      'It is no spilt oil: something leaks.',
      'Find the joint before the next hire.',
      [{ kind: 'follow-up', task: 'look-over', when: 'now' }],
    );
}
