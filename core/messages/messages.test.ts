import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import type { DayBoat, DayPerson, DayVisit, Matter } from '../day/index.ts';
import {
  choicesOf,
  clipped,
  isMailAddress,
  isMorning,
  mailText,
  morningMail,
  subjectOf,
  triedAgainAt,
  type Morning,
} from './index.ts';

const MINUTE = 60_000;

describe('how a mail is written', () => {
  test('its subject fits into a line of a mail’s head (RFC 5322, 2.1.1: 78 signs), whatever was told', () => {
    fc.assert(
      fc.property(fc.array(fc.string({ unit: 'binary', maxLength: 300 }), { maxLength: 4 }), (texts) => {
        const subject = `Subject: ${subjectOf(texts.map((text) => ({ text, to: null })))}`;
        expect(subject.length).toBeLessThanOrEqual(78);
        // One line, and no half of a letter.
        expect(subject).not.toMatch(/[\r\n\0]/);
        expect(subject).not.toMatch(/\p{Surrogate}/u);
      }),
    );
  });
  test('it is cut between words, and says that it was', () => {
    expect(clipped('short enough')).toBe('short enough');
    expect(clipped('Sandpiper moved to Thursday morning', 20)).toBe('Sandpiper moved …');
    expect(clipped('x'.repeat(40), 20)).toBe(`${'x'.repeat(18)} …`);
  });
  test('lines with where they lead, parts with their heads, and why it came', () => {
    expect(
      mailText({
        name: 'Ines',
        address: 'https://book.example',
        closing: 'You chose it.',
        parts: [
          { head: null, words: 'As somebody wrote it.\nIn two lines.', lines: [] },
          { head: 'Your cards', lines: [{ text: 'Sandpiper', to: '/jobs/7' }] },
          { head: 'Nothing', lines: [] },
        ],
      }),
    ).toBe(
      'Hello Ines,\n\nAs somebody wrote it.\nIn two lines.\n\nYour cards\n\n- Sandpiper\n  https://book.example/jobs/7\n\nYou chose it.\n',
    );
  });
  test.each([
    ['ines@yard.example', true],
    ['ines.okoye+book@mail.yard.example', true],
    ['jörg@bücher.example', true],
    ['ines', false],
    ['ines@yard', false],
    ['ines@@yard.example', false],
    ['two people@yard.example', false],
    ['a@yard.example, b@yard.example', false],
    ['a@yard.example\r\nBcc: b@yard.example', false],
    ['Ines <ines@yard.example>', false],
    [`${'x'.repeat(65)}@yard.example`, false],
  ])('%j as an address of mail: %s (64 and 254 signs at most: RFC 5321, 4.5.3.1)', (text, is) => {
    expect(isMailAddress(text)).toBe(is);
  });
  test('who chose nothing is told what cannot wait at once', () => {
    expect(choicesOf({})).toMatchObject({ hires: 'mail', work: 'morning', card: 'book' });
    expect(choicesOf({ work: 'mail' })).toMatchObject({ hires: 'mail', work: 'mail' });
  });
});

describe('tried again', () => {
  const until = 2 * 1440 * MINUTE;
  test.each([500, 550, 553, 599])('a reply of %d is for good (RFC 5321, 4.2.1)', (reply) => {
    expect(triedAgainAt(1, { reply }, { now: 0, until })).toBeNull();
  });
  test.each([421, 450, 452, null])(
    '%s is not: twice in the first hour at least, then every two or three (RFC 5321, 4.5.4.1)',
    (reply) => {
      let now = 0;
      const waits: number[] = [];
      for (let tries = 1; ; tries++) {
        const at = triedAgainAt(tries, { reply }, { now, until });
        if (at === null) break;
        waits.push((at - now) / MINUTE);
        now = at;
      }
      expect(waits.filter((_, i) => waits.slice(0, i + 1).reduce((a, b) => a + b) <= 60).length).toBeGreaterThanOrEqual(
        2,
      );
      for (const wait of waits.slice(4)) expect(wait).toBe(120);
      expect(now).toBeLessThanOrEqual(until);
    },
  );
});

const visit = (more: Partial<DayVisit>): DayVisit => ({
  jobId: 7,
  version: 1,
  boatId: 1,
  boatName: 'Sandpiper',
  baseId: 1,
  baseName: 'North Quay',
  berth: 'A4',
  status: 'open',
  pinned: false,
  start: 540,
  worked: false,
  minutes: 125,
  pause: null,
  hands: 1,
  drain: null,
  needsLift: false,
  secondMinutes: 0,
  beside: [],
  tasks: [],
  works: [{ engineId: 1, position: 'port', word: '100 h service', key: '100' } as DayVisit['works'][number]],
  trouble: null,
  ...more,
});
const person = (id: number, name: string, visits: DayVisit[]): DayPerson => ({ id, name, visits });
const out = (boatId: number, boatName: string, at: number, more: Partial<DayBoat> = {}): DayBoat => ({
  boatId,
  boatName,
  baseId: 1,
  berth: null,
  way: 'out',
  at,
  state: 'fine',
  text: '',
  ...more,
});
const matter = (title: string, weight: Matter['weight']): Matter => ({
  key: title,
  group: 'held',
  waiting: null,
  weight,
  title,
  text: 'Why.',
  state: null,
  options: [],
});
const NOTHING = { own: false, yard: false, dock: false, shelf: false };
const morning = (more: Partial<Morning>): Morning => ({
  day: '2026-04-15',
  personId: 3,
  people: [],
  boats: [],
  kits: [],
  matters: null,
  told: [],
  wants: NOTHING,
  ...more,
});

describe('a morning’s mail', () => {
  const own = { ...NOTHING, own: true };
  test('a technician’s: cards in the order of the day with hours, place, and when the boat goes out', () => {
    const mail = morningMail(
      morning({
        wants: own,
        people: [
          person(3, 'Ines', [
            visit({ jobId: 9, boatId: 2, boatName: 'Dunlin', start: 720, minutes: 60, pause: { from: 740, to: 770 } }),
            visit({ trouble: 'The filter is out.' }),
            visit({ jobId: 8, status: 'done' }),
          ]),
          person(4, 'Tomasz', [visit({ jobId: 11 })]),
        ],
        boats: [out(1, 'Sandpiper', 840), out(2, 'Dunlin', 1440 + 540)],
      }),
    )!;
    expect(mail.subject).toBe('Wed 15 Apr: 2 cards');
    expect(mail.parts).toEqual([
      {
        head: 'Your cards today',
        lines: [
          {
            text: '9:00 to 11:05, Sandpiper; North Quay, berth A4: 100 h service; goes out 14:00; not as it stands: The filter is out.',
            to: '/jobs/7',
          },
          // The break is part of it: 12:00 to 13:30 for an hour of work.
          {
            text: '12:00 to 13:30, Dunlin; North Quay, berth A4: 100 h service; goes out 9:00 tomorrow',
            to: '/jobs/9',
          },
        ],
      },
    ]);
  });
  test('a coordinator’s: what is to be decided, and who works from when to when', () => {
    const mail = morningMail(
      morning({
        wants: { ...NOTHING, yard: true },
        matters: [matter('Fulmar is held', 'now'), matter('Plover ran hot', 'soon')],
        people: [
          person(4, 'Tomasz', [visit({}), visit({ start: 700 }), visit({ start: null })]),
          person(5, 'Reva', []),
        ],
      }),
    )!;
    expect(mail.subject).toBe('Wed 15 Apr: 1 to decide now');
    expect(mail.parts).toEqual([
      {
        head: 'To decide: 2',
        lines: [
          { text: 'now: Fulmar is held. Why.', to: null },
          { text: 'Plover ran hot. Why.', to: null },
        ],
      },
      { head: 'On the bench', lines: [{ text: 'Tomasz: 3 cards, 9:00 to 13:45, 1 without an hour', to: null }] },
    ]);
  });
  test('the dock’s: boats that may not go as they stand first, how many may', () => {
    const mail = morningMail(
      morning({
        wants: { ...NOTHING, dock: true },
        boats: [
          out(1, 'Sandpiper', 540),
          out(2, 'Fulmar', 600, { state: 'held', text: 'held for a repair' }),
          out(3, 'Plover', 660),
          out(4, 'Dunlin', 1440 + 60),
          out(5, 'Knot', 500, { way: 'back' }),
        ],
      }),
    )!;
    expect(mail.subject).toBe('Wed 15 Apr: 3 boats out');
    expect(mail.parts[0]!.lines.map((l) => l.text)).toEqual([
      '10:00, Fulmar: held for a repair',
      '2 boats with nothing against',
    ]);
  });
  test('the shelf’s: several cards share what lies there, the first of the day takes it', () => {
    const part = { number: 'F-1', name: 'Oil filter', quantity: 2, onHand: 3 };
    const kit = (jobId: number, boatName: string, start: number) => ({
      jobId,
      baseId: 1,
      boatName,
      technician: 'Ines',
      start,
      lines: [part],
    });
    const shelf = { ...NOTHING, shelf: true };
    const mail = morningMail(
      morning({ wants: shelf, kits: [kit(1, 'Later', 700), kit(2, 'First', 500), kit(3, 'Last', 900)] }),
    )!;
    expect(mail.parts).toEqual([
      {
        head: 'Kits to pick today: 3',
        lines: [
          { text: 'Later (Ines): 1 short of Oil filter, F-1', to: null },
          { text: 'Last (Ines): 2 short of Oil filter, F-1', to: null },
        ],
      },
    ]);
    expect(morningMail(morning({ wants: shelf, kits: [kit(1, 'One', 500)] }))!.parts[0]!.lines[0]!.text).toBe(
      'Everything they take is on the shelf.',
    );
  });
  test('what was told stands in it; of many lines the first, and how many more', () => {
    const told = Array.from({ length: 15 }, (_, i) => ({ text: `message ${i}`, to: null }));
    const mail = morningMail(morning({ told }))!;
    expect(mail.subject).toBe('Wed 15 Apr: 15 messages');
    expect(mail.parts[0]!.lines).toHaveLength(13);
    expect(mail.parts[0]!.lines.at(-1)).toEqual({ text: 'and 3 more', to: '/day' });
  });
  test('nothing to say is no mail', () => {
    expect(morningMail(morning({ wants: { own: true, yard: true, dock: true, shelf: true }, matters: [] }))).toBeNull();
  });
  test('from the yard’s minute on, for six hours', () => {
    expect([359, 360, 719, 720].map((minute) => isMorning(minute, 360))).toEqual([false, true, true, false]);
  });
});
