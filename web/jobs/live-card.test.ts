import { valueText } from '@diurna/core/findings';
import { describe, expect, test } from '@jest/globals';
import {
  secondHands,
  stepAtHand,
  timersOf,
  visitSteps,
  workFacts,
  workingOrder,
  type CardAct,
  type CardEntry,
} from '@diurna/core/visit';
import { tagsOf } from '../app/live-tags.ts';
import { findingsOn, proposalText } from '../findings/finding-words.ts';
import { cardOf } from '../test/card.ts';
import { countdown, gatesOf, liveCard } from './live-card.ts';

const ME = { id: 3, name: 'Ines Okoye' };
const card = (entries: CardEntry[] = []) =>
  cardOf(['engine-oil', 'oil-filter'], {
    sump: { value: 2.7, unit: 'L' },
    entries,
    people: [{ id: 5, name: 'Reva Sand' }],
  });
const order = card();
let n = 0;
const entry = (act: CardAct, more: Partial<CardEntry> = {}): CardEntry => ({
  id: `e${++n}`,
  seq: n,
  by: 3,
  at: n,
  act,
  seen: 0,
  against: null,
  ...more,
});
const tick = (step: string, more: Partial<CardEntry> = {}) => entry({ kind: 'tick', step, done: true }, more);
const until = (last: string) =>
  order.steps.slice(0, order.steps.findIndex((t) => t.step.id === last) + 1).map((t) => tick(t.step.id, { at: 0 }));

describe('the card on the phone', () => {
  test('begins with the first step in working order and goes on by what is open and waits for nothing', () => {
    expect(stepAtHand(liveCard(card(), [], ME), 0).at!.step.id).toBe('arrive');
    const live = liveCard(card(until('1 engine-oil/drain')), [], ME);
    expect(live.byId.get(stepAtHand(live, 60_000).at!.step.id)!.step.after).not.toContain('1 engine-oil/drain');
  });
  test('when only waiting is left it says how long; over, it goes on by itself', () => {
    const live = liveCard(card(until('1 oil-filter/tray')), [], ME);
    const soon = stepAtHand(live, 5 * 60_000);
    expect([soon.at!.step.id, soon.waits]).toEqual(['1 engine-oil/look', 15 * 60_000]);
    expect(stepAtHand(live, 20 * 60_000)).toMatchObject({ waits: 0 });
  });
  test('an engine is not moved while its sump drains: what wants it level waits, the move is told as it stands', () => {
    const step = (id: string, stance: 'level' | 'tilted' | null, wait = 0, after: string[] = ['arrive']) => ({
      ...order.steps[0]!.step,
      id,
      engineId: 1,
      task: null,
      stance,
      wait,
      after,
    });
    const steps = [
      order.steps[0]!,
      ...[step('drain', 'tilted', 20), step('read', 'level'), step('look', null), step('grease', 'tilted')].map(
        (s, i) => ({ step: s, start: i, end: i + 1, move: s.stance }),
      ),
    ];
    const at = (entries: CardEntry[], now: number) => stepAtHand(liveCard({ ...card(entries), steps }, [], ME), now);
    const drained = [tick('arrive', { at: 0 }), tick('drain', { at: 0 })];
    expect(at([tick('arrive', { at: 0 })], 0).at).toMatchObject({ step: { id: 'drain' }, move: 'tilted' });
    expect(at(drained, 60_000).at).toMatchObject({ step: { id: 'look' }, move: null });
    expect(at([...drained, tick('look', { at: 1 })], 60_000).at).toMatchObject({ step: { id: 'grease' }, move: null });
    expect(at([...drained, tick('look', { at: 1 }), tick('grease', { at: 2 })], 60_000)).toMatchObject({
      at: { step: { id: 'read' }, move: 'level' },
      waits: 19 * 60_000,
    });
    expect(at(drained, 20 * 60_000).at).toMatchObject({ step: { id: 'read' }, move: 'level' });
  });
  test('when a second person is wanted, and how long: off and on again of a heavy lower unit', () => {
    const heavy = workFacts({ powerHp: 200, stroke: 4, cylinders: 6 });
    const own = workingOrder(
      visitSteps([
        { engineId: 1, task: 'impeller', cylinders: 6, engine: { facts: heavy, sump: null, gearCase: null } },
      ]),
    );
    const live = liveCard({ ...card(), steps: own.steps }, [], ME);
    const [off, on] = ['1 lower unit off', '1 lower unit on'].map((id) => own.steps.find((t) => t.step.id === id)!);
    expect(secondHands(live, own.steps[0]!)).toEqual([
      { from: off!.start, minutes: off!.end - off!.start },
      { from: on!.start, minutes: on!.end - on!.start },
    ]);
    const later = liveCard({ ...card([tick('1 lower unit off')]), steps: own.steps }, [], ME);
    expect(secondHands(later, off!)).toEqual([{ from: on!.start - off!.start, minutes: on!.end - on!.start }]);
    expect(secondHands(liveCard(card(), [], ME), order.steps[0]!)).toEqual([]);
  });
  test('a drain is counted from its tick, stays to be seen when it is over, and is gone once gone on with', () => {
    const drained = liveCard(card(until('1 engine-oil/drain')), [], ME);
    expect(timersOf(drained, 5 * 60_000)).toMatchObject([{ until: 20 * 60_000, over: false }]);
    expect(timersOf(drained, 25 * 60_000)).toMatchObject([{ over: true }]);
    expect(
      timersOf(liveCard(card([...until('1 engine-oil/drain'), tick('1 engine-oil/look')]), [], ME), 25 * 60_000),
    ).toEqual([]);
  });
  test('what waits on the phone counts at once, and not twice when the book has it', () => {
    const own = tick('arrive', { id: 'mine', seq: null });
    const waiting = liveCard(card(), [own], ME);
    expect([waiting.state.ticks.has('arrive'), waiting.waiting]).toEqual([true, 1]);
    const kept = liveCard(card([{ ...own, seq: 9 }]), [own], ME);
    expect([kept.state.ticks.size, kept.waiting]).toEqual([1, 0]);
  });
  test('tasks follow their steps', () => {
    const live = liveCard(
      card(order.steps.filter((t) => t.step.task === 'oil-filter').map((t) => tick(t.step.id))),
      [],
      ME,
    );
    expect(live.tasks.map((t) => t.state)).toEqual(['open', 'done']);
    expect(live.nameOf(5)).toBe('Reva');
    expect(live.nameOf(99)).toBe('a colleague');
  });
  test('gates are those of the work that is done', () => {
    expect(gatesOf(liveCard(card(), [], ME))).toEqual([]);
    const oil = liveCard(card([entry({ kind: 'task', engineId: 1, task: 'engine-oil', done: true })]), [], ME);
    expect(
      gatesOf(oil)
        .map((g) => g.gate)
        .sort(),
    ).toEqual(['cooling stream', 'cowl on', 'level after the run', 'no leaks', 'rags and trays out', 'waste booked']);
  });
  test('findings are judged without signal, and a decision waits with them', () => {
    const read = entry({ kind: 'read', key: '1 oil look', value: { choice: 'thin' } }, { seq: null });
    expect(findingsOn(liveCard(card(), [read], ME))).toMatchObject([{ key: '1 fuel in oil', state: 'open' }]);
    const decided = entry({ kind: 'decide', finding: '1 fuel in oil', take: false, reason: 'spilt' }, { seq: null });
    expect(findingsOn(liveCard(card(), [read, decided], ME))).toMatchObject([{ state: 'overridden', reason: 'spilt' }]);
  });
});

describe('words', () => {
  test('countdowns, readings, proposals', () => {
    expect([countdown(61_000), countdown(59_999), countdown(20 * 60_000)]).toEqual(['1:01', '0:59', '20:00']);
    expect(valueText('1 oil look', { choice: 'thin' })).toBe('thin, smells of fuel');
    expect(valueText('1 compression#2', { value: 110, unit: 'psi' })).toBe('110 psi');
    expect(valueText('1 oil look', null)).toBe('taken back');
    expect(proposalText({ kind: 'hold', checks: ['gear-seals', 'gear-lube'] })).toBe(
      'the engine is held until gear-case seals, then gear lube are in the log and a coordinator lets it go',
    );
    expect(proposalText({ kind: 'follow-up', task: 'gear-lube', when: 28 })).toBe('gear lube in 28 days');
  });
  test('what a message of the book makes old', () => {
    expect(tagsOf('card 12')).toEqual([{ type: 'Card', id: 12 }, 'Progress']);
    expect(tagsOf('engine 3')).toContain('Condition');
    expect(tagsOf('nonsense')).toEqual([]);
  });
});
