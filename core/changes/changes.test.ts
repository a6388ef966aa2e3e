import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import {
  cardTaskKey,
  changeKind,
  groupedChanges,
  matchCards,
  toldOf,
  visitsBack,
  type CardChange,
  type CardStand,
} from './index.ts';

const card = (more: Partial<CardStand> = {}): CardStand => ({
  technicianId: 3,
  day: '2026-04-15',
  startMinute: 480,
  pinned: false,
  open: true,
  remark: null,
  insisted: null,
  tasks: [{ engineId: 11, task: 'engine-oil', state: 'open', templateVersion: 1 }],
  ...more,
});
const change = (before: CardStand | null, after: CardStand, boatId = 1): CardChange => ({ boatId, before, after });
const names = { boat: (id: number) => `Boat ${id}`, person: (id: number) => ({ 3: 'Ines', 4: 'Sven' })[id] ?? '?' };
const oil = card().tasks[0]!;

describe('what a change is to people', () => {
  test.each([
    ['new', null, card()],
    ['new', card({ open: false }), card()],
    ['called off', card(), card({ open: false })],
    ['given', card(), card({ technicianId: 4, day: '2026-04-17' })],
    ['moved', card(), card({ day: '2026-04-17' })],
    ['work', card(), card({ tasks: [oil, { ...oil, task: 'gear-lube' }] })],
    ['hour', card(), card({ startMinute: 600 })],
    ['hour', card(), card({ pinned: true })],
    ['none', card(), card()],
    // What is ticked meanwhile is not other work.
    ['none', card(), card({ tasks: [oil, { ...oil, task: 'gear-lube', state: 'done' }] })],
  ] as const)('%s', (kind, before, after) => {
    expect(changeKind({ before, after })).toBe(kind);
  });

  test('of a kind, by day and hour', () => {
    const at = (day: string, startMinute: number | null) => change(null, card({ day, startMinute }));
    const [group] = groupedChanges([at('2026-04-16', 700), at('2026-04-16', 90), at('2026-04-15', null)]);
    expect(group!.changes.map((c) => [c.after.day, c.after.startMinute])).toEqual([
      ['2026-04-15', null],
      ['2026-04-16', 90],
      ['2026-04-16', 700],
    ]);
  });
});

describe('who is told', () => {
  test('the one a card goes from and the one it goes to, each once; of another hour nobody', () => {
    const told = toldOf(
      [
        change(card(), card({ technicianId: 4, day: '2026-04-17' })),
        change(card({ day: '2026-04-20' }), card({ day: '2026-04-21' }), 2),
        change(card(), card({ startMinute: 600 }), 3),
      ],
      names,
      'The plan',
    );
    expect(Object.fromEntries(told)).toEqual({
      3: 'The plan: Boat 1 on Wed 15 Apr goes to Sven. Boat 2 moves from Mon 20 Apr to Tue 21 Apr.',
      4: 'The plan: Boat 1 on Fri 17 Apr: engine oil.',
    });
  });

  test('of many cards the number is told', () => {
    const told = toldOf(
      Array.from({ length: 21 }, (_, i) => change(null, card(), i + 1)),
      names,
    );
    expect(told.get(3)).toMatch(
      /^Boat 1 on .*Boat 6 on Wed 15 Apr: engine oil\. And 15 more cards of yours: see Jobs\.$/,
    );
  });
});

/** Cards and visits over the same few tasks, each task once. */
const parted = fc
  .array(fc.integer({ min: 0, max: 6 }), { minLength: 12, maxLength: 12 })
  .map((group) =>
    [...new Set(group)]
      .filter((g) => g > 0)
      .map((g) => ({
        tasks: group.flatMap((x, i) => (x === g ? [{ engineId: i, task: 'engine-oil' as const }] : [])),
      })),
  );

describe('cards of a plan', () => {
  test('every visit and every card stands in it once; a card goes to a visit it shares work with', () => {
    fc.assert(
      fc.property(parted, parted, (visits, cards) => {
        const pairs = matchCards(visits, cards);
        expect(pairs.flatMap((p) => p.visit ?? [])).toHaveLength(visits.length);
        expect(new Set(pairs.flatMap((p) => p.visit ?? [])).size).toBe(visits.length);
        expect(new Set(pairs.flatMap((p) => p.card ?? [])).size).toBe(cards.length);
        expect(pairs.flatMap((p) => p.card ?? [])).toHaveLength(cards.length);
        for (const { visit, card: c } of pairs) {
          expect(visit ?? c).not.toBeNull();
          if (visit && c) {
            const own = new Set(c.tasks.map(cardTaskKey));
            expect(visit.tasks.some((t) => own.has(cardTaskKey(t)))).toBe(true);
          }
        }
        // The same cards again are the same cards.
        expect(matchCards(cards, cards).every((p) => p.visit === p.card)).toBe(true);
      }),
    );
  });

  test('put back in a plan: what can go back stands where it stood, what cannot stays, no task twice', () => {
    const visit = (boat: string, day: number, jobId: number, task: string) => ({
      boat,
      day,
      technician: '4',
      start: 600,
      elapsed: 60,
      tasks: [task],
      jobId,
    });
    const standing = [
      visit('1', 2, 71, '11 engine-oil'),
      visit('2', 2, 72, '12 engine-oil'),
      visit('3', 1, 73, '13 anodes'),
    ];
    const of = (engineId: number) => [{ ...oil, engineId }];
    const there = { technicianId: 4, day: '2026-04-17' };
    const back = visitsBack(
      standing,
      [
        { ...change(card({ tasks: of(11) }), card({ ...there, tasks: of(11) })), jobId: 71, against: null },
        { ...change(card({ tasks: of(12) }), card({ ...there, tasks: of(12) }), 2), jobId: 72, against: 'worked on' },
        // Made by the decision: it goes.
        { ...change(null, card({ day: '2026-04-16', tasks: of(13) }), 3), jobId: 73, against: null },
        // Before the plan's first day: not this plan's to move.
        { ...change(card({ day: '2026-04-10', tasks: of(14) }), card({ tasks: of(14) }), 4), jobId: 74, against: null },
      ],
      { firstDay: '2026-04-15', days: 14 },
    );
    expect(back).toEqual([
      expect.objectContaining({ boat: '2', day: 2, technician: '4' }),
      expect.objectContaining({ boat: '1', day: 0, technician: '3', start: 480, tasks: ['11 engine-oil'] }),
    ]);
  });
});
