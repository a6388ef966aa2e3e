import { type Look } from './look.ts';

/** The old impeller and the metal round it. */
export function pumpRead({ choice, key, add }: Look): void {
  const wheel = choice('impeller look');
  if (wheel === 'missing')
    add(
      'vane missing',
      [key('impeller look')],
      'hold',
      'A piece of the old impeller is missing.',
      'It sits further up and will block a passage.',
      'Hold it until the passages are searched; best before the unit goes back on.',
      [
        { kind: 'hold', checks: ['passages'] },
        { kind: 'follow-up', task: 'passages', when: 'now' },
      ],
    );
  else if (wheel === 'cracked' || wheel === 'set')
    add(
      'impeller worn',
      [key('impeller look')],
      'watch',
      wheel === 'set' ? 'The old vanes have set or are hard.' : 'The old vanes are cracked.',
      'It was due: it would not have pumped much longer.',
      'The new one is in; the interval is not to be stretched on this boat.',
    );
  const pump = choice('pump metal');
  if (pump === 'groove' || pump === 'housing') {
    add(
      'sand in pump',
      [key('pump metal')],
      'act',
      pump === 'groove' ? 'A groove in the pump’s liner or plate.' : 'The pump’s housing is scratched.',
      'Sand was in it, and the metal will eat the next impeller.',
      `${pump === 'groove' ? 'A whole kit' : 'A new housing and kit'} goes in, and this boat’s pump comes round sooner.`,
      [
        { kind: 'order', task: 'impeller' },
        { kind: 'shorten', task: 'impeller', percent: 50 },
      ],
    );
  }
}

/** The cooling stream and the shift test. */
export function coolingAndShift({ engine, choice, key, add }: Look): void {
  const stream = choice('stream');
  // The pump this card has put in is not what mends it.
  if ((stream === 'weak' || stream === 'none') && engine.worked.has('impeller'))
    add(
      'cooling',
      [key('stream')],
      'hold',
      stream === 'none'
        ? 'No cooling stream, with the pump just done.'
        : 'The stream is weak, with the pump just done.',
      'A passage is blocked, the pump draws air, or it was put together wrong.',
      'Hold it. Search the passages, and look at the pump again while the unit is off.',
      [
        { kind: 'hold', checks: ['passages'] },
        { kind: 'follow-up', task: 'passages', when: 'now' },
      ],
    );
  else if (stream === 'weak' || stream === 'none')
    add(
      'cooling',
      [key('stream')],
      'hold',
      stream === 'none' ? 'No cooling stream.' : 'The cooling stream is weak or late.',
      'The pump does not deliver: it overheats under load.',
      'Hold it. Pump now.',
      [
        { kind: 'hold', checks: ['impeller'] },
        { kind: 'follow-up', task: 'impeller', when: 'now' },
      ],
    );
  if (choice('shift') === 'wrong')
    add(
      'shift',
      [key('shift')],
      'hold',
      'Neutral, forward and reverse do not all work.',
      'The shift shaft is not joined right, or the dogs are worn.',
      'Hold it. Off with the unit, join it again, test again.',
      [
        { kind: 'hold', checks: ['gear-inspection'] },
        { kind: 'follow-up', task: 'gear-inspection', when: 'now' },
      ],
    );
}

/** What came out of the passages. */
export function passagesSearched({ choice, key, add }: Look): void {
  if (choice('pieces found') === 'some')
    add(
      'pieces missing',
      [key('pieces found')],
      'hold',
      'Pieces of the old impeller are still missing.',
      'They sit in the block and will stop the water when it is hot.',
      'Hold it. On up the passages: thermostat out, block flushed back.',
      [
        { kind: 'hold', checks: ['passages'] },
        { kind: 'follow-up', task: 'passages', when: 'now' },
      ],
    );
}

/** The old thermostat and what lay behind it. */
export function thermostatRead({ engine, choice, key, add }: Look): void {
  const seen = choice('thermostat look');
  if (seen === 'rubber')
    add(
      'rubber behind thermostat',
      [key('thermostat look')],
      'act',
      'Rubber behind the thermostat.',
      'A vane broke off some time, and more of it may sit in the block.',
      'Search the passages.',
      engine.worked.has('passages') ? [] : [{ kind: 'follow-up', task: 'passages', when: 'now' }],
    );
  if (seen === 'salt' || seen === 'stuck')
    add(
      'thermostat worn',
      [key('thermostat look')],
      'watch',
      seen === 'salt' ? 'Salt or scale behind the thermostat.' : 'The old thermostat was stuck.',
      seen === 'salt'
        ? 'It is not flushed often enough.'
        : 'It ran too cold or too hot: look at the plugs and the oil.',
      seen === 'salt' ? 'Wash it out, and flush this boat after every day in salt.' : 'The new one is in; look again.',
      seen === 'salt' ? [{ kind: 'shorten', task: 'thermostat', percent: 50 }] : [],
    );
}
