import { afterEach, beforeEach, expect, test } from '@jest/globals';
import type { JobRow } from '@diurna/contract/jobs';
import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import 'fake-indexeddb/auto';
import { store } from '../app/store.ts';
import { dayOf, personOn, visitOn } from '../test/day.ts';
import { answer, page, refusal, signedIn, type Asked } from '../test/page.tsx';
import { filled } from '../outbox/outbox-state.ts';
import { Jobs } from './Jobs.tsx';

beforeEach(() => {
  localStorage.clear();
  store.dispatch(filled({ waiting: [], refused: [] }));
});
afterEach(cleanup);
const user = userEvent.setup();
const job = (id: number, boatName: string, more: Partial<JobRow> = {}): JobRow => ({
  id,
  version: 2,
  boatId: id,
  boatName,
  berth: '5',
  baseId: 1,
  baseName: 'North Quay',
  technicianId: 4,
  technician: 'Sven Achterberg',
  day: '2026-04-15',
  status: 'open',
  startMinute: null,
  pinned: false,
  minutes: 75,
  savedMinutes: 0,
  tasks: [
    { engineId: 1, task: 'engine-oil', position: 'port', state: 'open' },
    { engineId: 1, task: 'oil-filter', position: 'port', state: 'open' },
  ],
  works: [{ engineId: 1, position: 'port', word: 'Engine oil, oil filter' }],
  progress: { done: 0, total: 12, waits: [], paused: null, unsettled: 0, lastAt: null, now: null },
  short: false,
  ...more,
});
const people = [
  { id: 3, name: 'Ines Okoye', role: 'technician' as const },
  { id: 4, name: 'Sven Achterberg', role: 'technician' as const },
  { id: 5, name: 'Tove Lind', role: 'dock' as const },
].map((p) => ({ ...p, version: 1, username: p.name, baseId: 1, active: true }));
const list = (rows: JobRow[]) => ({ rows, total: rows.length, page: 1, size: 50 });
const open = async (
  rows: JobRow[],
  more: Parameters<typeof answer>[0] = {},
  role: Parameters<typeof signedIn>[0] = 'coordinator',
) => {
  const asked = answer({ ...signedIn(role), listPeople: people, listJobs: list(rows), ...more });
  await page(<Jobs />);
  await screen.findByRole('heading', { level: 1 });
  return asked;
};

test('how far each card is, live: steps, the one at hand, a pause, what lacks, what contradicts', async () => {
  await open([
    job(1, 'Plover'),
    job(2, 'Razorbill', {
      short: true,
      progress: {
        done: 4,
        total: 12,
        waits: [],
        paused: { since: 0, why: 'the seal kit' },
        unsettled: 1,
        lastAt: Date.parse('2026-04-15T09:30:00Z'),
        now: 'Drain the oil',
      },
    }),
    job(3, 'Dunlin', { status: 'done' }),
    job(4, 'Knot', { status: 'cancelled' }),
  ]);
  const cards = (await screen.findAllByRole('link')).map((a) => a.textContent);
  expect(cards[0]).toMatch(/Plover port.*North Quay, berth 5.*Engine oil, oil filter.*1 h 15/);
  expect(cards[1]).toMatch(/Drain the oil.*4 of 12.*paused: the seal kit.*a part is missing.*contradict/);
  expect(screen.getByRole('img', { name: '4 of 12 steps' })).toBeTruthy();
  expect(cards[2]).toMatch(/✓ done/);
  // Called off today: not work of the day.
  expect(cards).toHaveLength(3);
});

test('the coordinator gives a card to somebody else from the list; refused, it stays where it was', async () => {
  let refuse = true;
  const asked = await open([job(1, 'Plover')], {
    handOver: () => (refuse ? refusal(409, 'The card was changed meanwhile.') : { id: 1, version: 3 }),
  });
  const who = await screen.findByLabelText<HTMLSelectElement>('Who works on Plover');
  await waitFor(() => {
    expect([...who.options].map((o) => o.text)).toEqual(['Ines', 'Sven']);
  });
  await user.selectOptions(who, 'Ines');
  expect((await screen.findByRole('alert')).textContent).toBe('The card was changed meanwhile.');
  expect(who.value).toBe('4');
  refuse = false;
  await user.selectOptions(who, 'Ines');
  expect(await screen.findByText('Plover is now with Ines.')).toBeTruthy();
  expect(asked.filter((a) => a.name === 'handOver').at(-1)!.body).toEqual({ version: 2, technicianId: 3, note: null });
});

test.each([
  ['All open', 'Open jobs', { status: 'open' }],
  ['Waiting', 'Waiting for something', { view: 'waiting' }],
  ['Finished', 'Finished jobs', { status: 'done', order: 'newest' }],
])('%s cards are asked of the book; none says where they come from', async (show, title, query) => {
  const asked = await open([]);
  await user.selectOptions(screen.getByLabelText('Show'), show);
  expect(await screen.findByRole('heading', { name: title })).toBeTruthy();
  expect(await screen.findByText('No job here.')).toBeTruthy();
  expect(Object.fromEntries(asked.filter((a) => a.name === 'listJobs').at(-1)!.url.searchParams)).toMatchObject(query);
});

test('a technician sees the own cards first, and everybody’s on demand', async () => {
  const asked = await open(
    [job(1, 'Plover', { technicianId: 3 })],
    { readJob: () => refusal(503, 'no') },
    'technician',
  );
  expect(await screen.findByText(/1 card of yours, 1 h 15 in all/)).toBeTruthy();
  const first = asked.find((a: Asked) => a.name === 'listJobs')!.url.searchParams;
  expect(first.get('technicianId')).toBe('3');
  await user.selectOptions(screen.getByLabelText('Whose'), 'Everybody’s');
  await waitFor(() => {
    expect(
      asked
        .filter((a) => a.name === 'listJobs')
        .at(-1)!
        .url.searchParams.get('technicianId'),
    ).toBeNull();
  });
  expect(screen.queryByLabelText('Who works on Plover')).toBeNull();
});

test('a technician sees the day in its order with times and when the boat goes out; cards of days before come first', async () => {
  const mine = (id: number, name: string) => job(id, name, { technicianId: 3, technician: 'Ines Okoye' });
  const day = dayOf({
    people: [
      personOn(3, 'Ines Okoye', [visitOn(1, { start: 780 }), visitOn(2, { start: 450, minutes: 90 })], {
        baseName: 'Outer Mole',
      }),
    ],
    boats: [
      { boatId: 2, boatName: 'Razorbill', baseId: 1, berth: null, way: 'out', at: 600, state: 'work first', text: '' },
    ],
  });
  await open(
    [],
    {
      readDay: day,
      listJobs: ({ url }: Asked) =>
        list(
          url.searchParams.get('to') === '2026-04-14'
            ? [job(9, 'Knot', { day: '2026-04-13', technicianId: 3 })]
            : [mine(1, 'Plover'), mine(2, 'Razorbill')],
        ),
    },
    'technician',
  );
  await screen.findByText(/goes out 10:00/);
  const cards = (await screen.findAllByRole('link')).map((a) => a.textContent);
  expect(cards[0]).toMatch(/^Knot/);
  expect(cards[1]).toMatch(/^Razorbill port7:30 to 9:00, North Quay, berth 5 goes out 10:00/);
  expect(cards[2]).toMatch(/^Plover port13:00 to 15:00/);
  expect(screen.getByText('You work at Outer Mole that day.')).toBeTruthy();
});
