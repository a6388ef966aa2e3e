import { afterEach, describe, expect, test } from '@jest/globals';
import type { DayBoat, DayReply, DayVisit } from '@diurna/contract/day';
import { cleanup, screen, within } from '@testing-library/react';
import type { ReactElement } from 'react';
import { dayOf, personOn as person, visitOn as visit } from '../test/day.ts';
import { answer, page, signedIn } from '../test/page.tsx';
import { DayLines } from './DayLines.tsx';
import { GoingBack } from './GoingBack.tsx';
import { Kits } from './Kits.tsx';

afterEach(cleanup);
const draw = async (element: ReactElement) => {
  answer(signedIn('coordinator'));
  await page(element);
};

describe('people by hours', () => {
  test('each visit says its hour, its engines and how far it is; what it takes to read is in its title', async () => {
    const tasks: DayVisit['tasks'] = [
      { engineId: 11, task: 'engine-oil', position: 'port', state: 'done' },
      { engineId: 12, task: 'impeller', position: 'starboard', state: 'open' },
    ];
    const works: DayVisit['works'] = [
      { engineId: 11, position: 'port', word: '100 h service' },
      { engineId: 12, position: 'starboard', word: 'Impeller' },
    ];
    await draw(
      <DayLines
        day={dayOf({
          people: [person(3, 'Ines Okoye', [visit(71, { tasks, works, needsLift: true, secondMinutes: 29 })])],
        })}
      />,
    );
    const block = screen.getByRole('link', { name: /Boat 71/ });
    expect(block.textContent).toMatch(/8:00 port \+ starboard · 1 of 2 ticked/);
    expect(block.textContent).toContain('needs the lift');
    expect(block.getAttribute('title')).toBe(
      'Boat 71, 8:00 to 10:00, 2 h 00: port: 100 h service; starboard: Impeller, two people for 29 min, nobody else is on the bench there that day',
    );
    expect(block.getAttribute('href')).toBe('/jobs/71');
  });

  test('what cannot be done says so, with why; what found no hour is named under its person', async () => {
    const people = [
      person(3, 'Ines Okoye', [visit(71, { trouble: 'The boat is out all day' }), visit(72, { start: null })]),
    ];
    await draw(<DayLines day={dayOf({ people })} />);
    expect(screen.getByRole('link', { name: /Boat 71/ }).textContent).toMatch(/cannot.*The boat is out all day/);
    expect(screen.getByText(/^No time for/).textContent).toBe('No time for Boat 72');
  });

  test('who is off, who has nothing, breaks and the hour it is are told', async () => {
    const people = [
      person(3, 'Ines Okoye', [], { skills: ['lower units'], pause: { from: 690, to: 720 } }),
      person(4, 'Sven Achterberg', [], { shift: null }),
    ];
    await draw(<DayLines day={dayOf({ people, now: 605 })} />);
    expect(screen.getByText('North Quay, lower units')).toBeTruthy();
    expect(screen.getByText('nothing handed out')).toBeTruthy();
    expect(screen.getByText('off today')).toBeTruthy();
    expect(screen.getByText('break 11:30 to 12:00')).toBeTruthy();
    expect(screen.getAllByText('now 10:05')).toHaveLength(2);
  });

  test('hours planned against hours there, and lift turns by base where there are several', async () => {
    const lifts = [
      { baseId: 1, baseName: 'North Quay', slots: 2, used: 3 },
      { baseId: 2, baseName: 'South Spit', slots: 1, used: 0 },
    ];
    await draw(<DayLines day={dayOf({ people: [person(3, 'Ines Okoye', [visit(71)])], lifts })} />);
    // 2 h of work in 8.5 h of shift; more turns used than there are is none left.
    expect(screen.getByText(/lift turns left/).textContent).toBe(
      '2.0 of 8.5 h planned; lift turns left: North Quay 0 of 2, South Spit 1 of 1',
    );
  });

  test('the line grows to hold what begins before the shift and ends after it', async () => {
    const early = visit(71, { start: 300, minutes: 60 });
    const late = visit(72, { start: 1140, minutes: 90 });
    await draw(<DayLines day={dayOf({ people: [person(3, 'Ines Okoye', [early, late])] })} />);
    // From 5:00 to 21:00: the first begins at the left edge, the second ends before the right one.
    expect(screen.getByRole('link', { name: /Boat 71/ }).style.left).toBe('0%');
    expect(screen.getByRole('link', { name: /Boat 72/ }).style.left).toBe('87.5%');
  });
});

describe('going out and coming back', () => {
  const boat = (id: number, more: Partial<DayBoat> = {}): DayBoat => ({
    boatId: id,
    boatName: `Boat ${id}`,
    baseId: 1,
    berth: null,
    way: 'out',
    at: 540,
    state: 'fine',
    text: 'nothing due',
    ...more,
  });
  test('each with its hour, its state in words, and why', async () => {
    const boats = [
      boat(1, { state: 'held', text: 'The gear lube came out milky.' }),
      boat(2, { way: 'back', at: 1980, state: 'hours wanted', text: 'hours wanted: port' }),
    ];
    await draw(<GoingBack day={dayOf({ boats })} />);
    const items = screen.getAllByRole('listitem').map((l) => l.textContent);
    expect(items[0]).toBe('Boat 1 out 9:00held: The gear lube came out milky.');
    // Beyond midnight it is tomorrow's.
    expect(items[1]).toMatch(/^Boat 2 back tomorrow 9:00hours wanted/);
  });
  test('of many the first twelve, and how many more: with nothing against them, or less pressing', async () => {
    const many = (state: DayBoat['state']) => Array.from({ length: 15 }, (_, i) => boat(i + 1, { state }));
    await draw(<GoingBack day={dayOf({ boats: many('fine'), boatsMore: 4 })} />);
    expect(screen.getAllByRole('listitem')).toHaveLength(12);
    expect(screen.getByText('and 7 more with nothing against them.')).toBeTruthy();
    cleanup();
    await draw(<GoingBack day={dayOf({ boats: many('over') })} />);
    expect(screen.getByText('and 3 more, less pressing.')).toBeTruthy();
    cleanup();
    await draw(<GoingBack day={dayOf()} />);
    expect(screen.getByText(/No boat goes out or comes back until tomorrow noon/)).toBeTruthy();
  });
});

describe('kits', () => {
  const line = (quantity: number, onHand: number) => ({
    partId: 7,
    number: 'C60-F1',
    name: 'Oil filter',
    unit: 'each' as const,
    quantity,
    onHand,
    open: [],
    sizes: [],
    instead: [],
    place: 'D1',
    tasks: [],
  });
  const kit = (jobId: number, start: number | null, quantity: number): DayReply['kits'][number] => ({
    jobId,
    boatName: `Boat ${jobId}`,
    baseId: 1,
    baseName: 'North Quay',
    technician: 'Ines Okoye',
    start,
    lines: [line(quantity, 3)],
    unknown: [],
  });
  test('the shelf serves the visits in the order of the day: the later one finds what is left', async () => {
    await draw(
      <Kits
        day={dayOf({ kits: [kit(71, 480, 2), kit(72, 600, 2), { ...kit(73, null, 1), unknown: ['impeller'] }] })}
      />,
    );
    const items = screen.getAllByRole('listitem');
    expect(items[0]!.textContent).toBe('Boat 71 8:00, Ines2 × Oil filter at D1');
    expect(items[1]!.textContent).toContain('(shelf has 1)');
    expect(within(items[2]!).getByText(/no part known for impeller/)).toBeTruthy();
    expect(items[2]!.textContent).toContain('(shelf has 0)');
  });
  test('two bases are counted from two shelves, each under its name', async () => {
    const south = { ...kit(72, 600, 2), baseId: 2, baseName: 'South Quay' };
    await draw(<Kits day={dayOf({ kits: [kit(71, 480, 2), south, kit(73, 660, 1)] })} />);
    const north = within(screen.getByRole('region', { name: 'Kits at North Quay' }));
    expect(north.getAllByRole('listitem').map((l) => l.textContent)).toEqual([
      'Boat 71 8:00, Ines2 × Oil filter at D1',
      'Boat 73 11:00, Ines1 × Oil filter at D1',
    ]);
    const there = within(screen.getByRole('region', { name: 'Kits at South Quay' }));
    expect(there.getByRole('heading', { name: 'South Quay' })).toBeTruthy();
    expect(there.getByRole('listitem').textContent).toBe('Boat 72 10:00, Ines2 × Oil filter at D1');
  });
  test('a day that takes nothing shows none', async () => {
    await draw(<Kits day={dayOf()} />);
    expect(screen.queryByRole('heading', { name: 'Kits to pick' })).toBeNull();
  });
});

test('a break inside a visit makes it that much longer, and is said; a shared first name is told whole', async () => {
  answer(signedIn('coordinator', { sharedNames: ['Ines'] }));
  await page(
    <DayLines
      day={dayOf({
        people: [
          person(3, 'Ines Okoye', [visit(7, { start: 660, minutes: 120, pause: { from: 690, to: 720 } })]),
          person(4, 'Sven Achterberg', []),
        ],
      })}
    />,
  );
  expect((await screen.findByRole('link', { name: /Boat 7/ })).title).toMatch(
    /^Boat 7, 11:00 to 13:30, 2 h 00 and a break from 11:30:/,
  );
  expect(await screen.findByText('Ines Okoye')).toBeTruthy();
  expect(screen.getByText('Sven')).toBeTruthy();
});
