import { afterEach, expect, test } from '@jest/globals';
import type { JobRow } from '@diurna/contract/jobs';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, page, refusal, signedIn, type Asked } from '../test/page.tsx';
import { ShiftCards } from './ShiftCards.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const ines = {
  id: 3,
  version: 1,
  name: 'Ines Okoye',
  username: 'ines',
  role: 'technician' as const,
  baseId: 1,
  active: true,
};
const job = (id: number, boatName: string, day: string, more: Partial<JobRow> = {}): JobRow => ({
  id,
  version: id + 10,
  boatId: id,
  boatName,
  berth: null,
  baseId: 1,
  baseName: 'North Quay',
  technicianId: 3,
  technician: 'Ines Okoye',
  day,
  status: 'open',
  startMinute: null,
  pinned: false,
  tasks: [],
  works: [],
  minutes: 60,
  savedMinutes: 0,
  progress: null,
  short: false,
  ...more,
});
const begun = { done: 2, total: 9, waits: [], paused: null, unsettled: 0, lastAt: null, now: null };
const OFF = { bar: 'person off', text: 'Ines is off that day.', frees: 'She is there on Thu 23 Apr.' };
const moves = (a: Asked) => (a.body as { moves: { jobId: number; version: number; day: string }[] }).moves;

const open = async (more: Parameters<typeof answer>[0] = {}) => {
  const asked = answer({
    ...signedIn('coordinator'),
    listPeople: [ines],
    listJobs: {
      rows: [
        job(1, 'Avocet', '2026-04-15'),
        job(2, 'Brent', '2026-04-16'),
        job(3, 'Curlew', '2026-04-15', { progress: begun }),
      ],
      total: 3,
      page: 1,
      size: 100,
    },
    lookAtSeveral: (a: Asked) =>
      moves(a).map((m) => ({ minutes: 60, against: m.jobId === 2 && m.day === '2026-04-23' ? [OFF] : [] })),
    decideSeveral: (a: Asked) => ({ changeId: 7, cards: moves(a).length }),
    ...more,
  });
  await page(<ShiftCards from="2026-04-15" onClose={() => undefined} />);
  await screen.findByText('Avocet');
  return asked;
};
const sheet = () => within(screen.getByRole('dialog'));

test('cards of a week go a week on but those that were begun; what is against one is told, and wants a reason', async () => {
  const asked = await open();
  expect(await sheet().findByText(/2 chosen, 2 h 00 in all, 1 has something against/)).toBeTruthy();
  expect(sheet().getByText('Ines is off that day.')).toBeTruthy();
  expect(sheet().getByText('1 card begun already stays where it is.')).toBeTruthy();
  expect(sheet().queryByText('Curlew')).toBeNull();
  const act = sheet().getByRole<HTMLButtonElement>('button', { name: 'Move 2 cards' });
  expect(act.disabled).toBe(true);
  await user.type(sheet().getByLabelText('Why it is done all the same'), 'the crane is out');
  await user.click(act);
  await waitFor(() => {
    expect(asked.find((a) => a.name === 'decideSeveral')?.body).toEqual({
      cards: [],
      moves: [
        { jobId: 1, version: 11, technicianId: 3, day: '2026-04-22' },
        { jobId: 2, version: 12, technicianId: 3, day: '2026-04-23' },
      ],
      insist: 'the crane is out',
    });
  });
  expect(await screen.findByText('2 cards moved a week later.')).toBeTruthy();
});

test('what is taken out stays, and is not looked at', async () => {
  const asked = await open();
  await user.click(sheet().getByRole('checkbox', { name: /Brent/ }));
  await user.click(await sheet().findByRole('button', { name: 'Move 1 card' }));
  await waitFor(() => {
    expect(asked.find((a) => a.name === 'decideSeveral')?.body).toEqual({
      cards: [],
      moves: [{ jobId: 1, version: 11, technicianId: 3, day: '2026-04-22' }],
    });
  });
  expect(sheet().queryByLabelText('Why it is done all the same')).toBeNull();
});

test('by other days it is looked at anew; a card somebody changed meanwhile is told and nothing is lost', async () => {
  await open({ decideSeveral: () => refusal(409, 'Somebody changed this meanwhile. Load it again.') });
  await user.selectOptions(sheet().getByLabelText('Go'), 'a day later');
  expect(await sheet().findByText(/2 chosen, 2 h 00 in all$/)).toBeTruthy();
  await user.click(sheet().getByRole('button', { name: 'Move 2 cards' }));
  expect(await sheet().findByText('Somebody changed this meanwhile. Load it again.')).toBeTruthy();
  expect(sheet().getByRole('checkbox', { name: /Avocet/ })).toBeTruthy();
});
