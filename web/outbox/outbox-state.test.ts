import { describe, expect, test } from '@jest/globals';
import type { CardAct } from '@diurna/core/visit';
import { added, answered, awayPut, filled, heard, outbox, takenBack } from './outbox-state.ts';
import type { Refused, Waiting } from './outbox.ts';

const { reducer } = outbox;
const act: CardAct = { kind: 'remark', text: 'x' };
const entry = (id: string): Waiting => ({ order: 1, jobId: 7, personId: 3, entry: { id, at: 0, act, seen: 0 } });
const finish = (id: string): Waiting => ({
  order: 2,
  jobId: 7,
  personId: 3,
  finish: { id, at: 0, boatName: 'Tern', body: { version: 1, tasks: [], hours: [], parts: [], remark: null } },
});
const refusal = (id: string): Refused => ({
  id,
  jobId: 7,
  personId: 3,
  because: 'no',
  entry: { id, at: 0, act, seen: 0 },
});
const empty = reducer(undefined, { type: 'nothing' });

describe('what the screen shows of the outbox', () => {
  test('nothing is known of it before the device was read; then all of it is', () => {
    expect(empty).toMatchObject({ waiting: [], refused: [], loaded: false });
    expect(reducer(empty, filled({ waiting: [entry('a')], refused: [refusal('r')] }))).toMatchObject({
      waiting: [entry('a')],
      refused: [refusal('r')],
      loaded: true,
    });
  });
  test('entries and the finish of a card wait in their order until each is answered', () => {
    const full = [entry('a'), entry('b'), finish('c')].reduce((s, w) => reducer(s, added(w)), empty);
    const half = reducer(full, answered({ ids: ['a', 'b'], refused: [] }));
    expect(half.waiting).toEqual([finish('c')]);
    expect(reducer(half, answered({ ids: ['c'], refused: [] })).waiting).toEqual([]);
  });
  test('what was not taken is kept with its reason, told once, and put away when it was read', () => {
    const told = [1, 2].reduce(
      (s) => reducer(s, answered({ ids: ['r'], refused: [refusal('r')] })),
      reducer(empty, added(entry('r'))),
    );
    expect(told).toMatchObject({ waiting: [], refused: [{ id: 'r', because: 'no' }] });
    expect(told.refused).toHaveLength(1);
    expect(reducer(told, awayPut('other')).refused).toHaveLength(1);
    expect(reducer(told, awayPut('r')).refused).toEqual([]);
  });
  test('a finish taken back is not sent; the entries before it are', () => {
    const full = [entry('a'), finish('c')].reduce((s, w) => reducer(s, added(w)), empty);
    expect(reducer(full, takenBack('c')).waiting).toEqual([entry('a')]);
  });
  test('signal comes and goes without touching what waits', () => {
    const gone = reducer(reducer(empty, added(entry('a'))), heard(false));
    expect(gone).toMatchObject({ signal: false, waiting: [entry('a')] });
    expect(reducer(gone, heard(true))).toMatchObject({ signal: true, waiting: [entry('a')] });
  });
});
