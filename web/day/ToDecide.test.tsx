import { afterEach, beforeEach, expect, test } from '@jest/globals';
import type { Matter } from '@diurna/contract/day';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, page, refusal, signedIn } from '../test/page.tsx';
import { ToDecide } from './ToDecide.tsx';

beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);
const user = userEvent.setup();
const tasks = [{ engineId: 11, task: 'engine-oil' as const }];
const matter = (key: string, options: Matter['options'], weight: Matter['weight'] = 'now'): Matter => ({
  key,
  group: 'cards',
  waiting: null,
  weight,
  title: `Matter ${key}`,
  text: 'It runs out on Friday.',
  state: 'due',
  options,
});
const leave = { label: 'Leave it', cost: 120, act: { kind: 'leave' } as const };
const open = async (matters: Matter[], more: Parameters<typeof answer>[0] = {}) => {
  const asked = answer({ ...signedIn('coordinator'), ...more });
  await page(<ToDecide matters={matters} day="2026-04-15" currency="EUR" />);
  return asked;
};
const press = (name: string | RegExp) => user.click(screen.getByRole('button', { name }));

test.each([
  [
    'moves a card, with what it was read as',
    { kind: 'move', jobId: 7, version: 3, day: '2026-04-16', technicianId: 4, startMinute: 540, tasks } as const,
    'editJob',
    { version: 3, day: '2026-04-16', technicianId: 4, startMinute: 540, tasks },
  ],
  [
    'hands out new work',
    { kind: 'add', boatId: 2, day: '2026-04-16', technicianId: 4, startMinute: null, tasks } as const,
    'addJob',
    { boatId: 2, day: '2026-04-16', technicianId: 4, startMinute: null, tasks },
  ],
  [
    'calls a card off',
    { kind: 'call off', jobId: 7, version: 3 } as const,
    'cancelJob',
    { version: 3, reason: 'Decided on the day.' },
  ],
  [
    'orders what lacks',
    { kind: 'order', partId: 5, baseId: 1, quantity: 2, day: '2026-04-18' } as const,
    'addArrival',
    { partId: 5, baseId: 1, quantity: 2, day: '2026-04-18', note: 'ordered from the day' },
  ],
  [
    'gives a hire to another boat',
    { kind: 'stand in', hireId: 6, version: 2, boatId: 9 } as const,
    'giveHire',
    { version: 2, boatId: 9 },
  ],
])('one press %s', async (_what, act, route, body) => {
  const asked = await open([matter('a', [{ label: 'Do it', cost: 0, act }, leave])], {
    editJob: { id: 7, version: 4, changeId: 4 },
    addJob: { id: 8, version: 1, changeId: 4 },
    cancelJob: { changeId: 4 },
    addArrival: { id: 9 },
    giveHire: { id: 6, version: 3 },
  });
  // The cheapest is told as such, the dearer by how much.
  expect(screen.getByRole('button', { name: /^Do it/ }).textContent).toBe('Do itcheapest');
  expect(screen.getByRole('button', { name: /^Leave it/ }).textContent).toBe('Leave it+120 EUR');
  await press(/^Do it/);
  await waitFor(() => {
    expect(asked.find((a) => a.name === route)?.body).toEqual(body);
  });
  expect(await screen.findByText('Matter a: do it. Done.')).toBeTruthy();
});

test('what cannot be done says why and stays to be decided', async () => {
  await open(
    [matter('a', [{ label: 'Call it off', cost: null, act: { kind: 'call off', jobId: 7, version: 3 } }, leave])],
    { cancelJob: () => refusal(409, 'Sven has begun it meanwhile.') },
  );
  await press(/^Call it off/);
  expect((await screen.findByRole('alert')).textContent).toBe('Sven has begun it meanwhile.');
  expect(screen.queryByText(/Done\.$/)).toBeNull();
});

test('what something is against is done all the same for a reason, by the same press', async () => {
  const act = { kind: 'add', boatId: 2, day: '2026-04-16', technicianId: 4, startMinute: null, tasks } as const;
  let times = 0;
  const asked = await open([matter('a', [{ label: 'Fit it in', cost: 0, act }])], {
    addJob: () =>
      ++times === 1 ? refusal(422, 'Nobody else is on duty there.', { type: 'questioned' }) : { id: 8, version: 1 },
  });
  await press(/^Fit it in/);
  expect((await screen.findByRole('alert')).textContent).toBe('Nobody else is on duty there.');
  const again = screen.getByRole('button', { name: 'Do it all the same' });
  expect(again.hasAttribute('disabled')).toBe(true);
  await user.type(screen.getByLabelText('Why it is done all the same'), 'I hold it myself');
  await user.click(again);
  await waitFor(() => {
    expect(asked.filter((a) => a.name === 'addJob').at(-1)!.body).toMatchObject({ insist: 'I hold it myself' });
  });
  expect(await screen.findByText('Matter a: fit it in. Done.')).toBeTruthy();
});

test('left for today it is put away, on this device, and can be shown again', async () => {
  await open([matter('a', [leave]), matter('b', [leave], 'soon')]);
  expect(screen.getByText('1 now, 1 soon')).toBeTruthy();
  await user.click(screen.getAllByRole('button', { name: /^Leave it/ })[0]!);
  expect(screen.queryByText('Matter a')).toBeNull();
  cleanup();
  await open([matter('a', [leave]), matter('b', [leave], 'soon')]);
  expect(screen.queryByText('Matter a')).toBeNull();
  await press('show 1 matter put away');
  expect(screen.getByText('Matter a')).toBeTruthy();
});

test('a line each, the first open, by what they are about; one press opens another; where it is settled is a page', async () => {
  await open([
    { ...matter('a', [leave]), waiting: 120.4 },
    matter('b', [leave], 'soon'),
    { ...matter('c', [{ label: 'See the card', cost: null, act: { kind: 'look', to: '/jobs/7' } }]), group: 'held' },
  ]);
  expect(screen.getByText('120 EUR if left')).toBeTruthy();
  expect(screen.getAllByText('It runs out on Friday.')).toHaveLength(1);
  expect(screen.queryByRole('button', { name: 'See the card' })).toBeNull();
  expect(within(screen.getByRole('region', { name: 'Held' })).getByText('Matter c')).toBeTruthy();
  await press('Matter c');
  expect(screen.getByRole('button', { name: 'Matter a' }).getAttribute('aria-expanded')).toBe('false');
  await press('See the card');
  expect(await screen.findByText('another page')).toBeTruthy();
});

test('words for the hire desk can be copied, or go into a mail', async () => {
  const text = 'Fulmar cannot go out on Sat 18 at 16:00: it is held for a repair.';
  await open([matter('a', [{ label: 'Call the hire desk', cost: null, act: { kind: 'message', text } }])]);
  await press('Call the hire desk');
  const words = within(screen.getByRole('group', { name: 'For the hire desk' }));
  expect(words.getByText(text)).toBeTruthy();
  expect(words.getByRole('link', { name: 'Write it as a mail' }).getAttribute('href')).toBe(
    `mailto:?body=${encodeURIComponent(text)}`,
  );
  await user.click(words.getByRole('button', { name: 'Copy the words' }));
  expect(await words.findByRole('button', { name: 'Copied' })).toBeTruthy();
  expect(await navigator.clipboard.readText()).toBe(text);
});

test('where the book sends mail, the words go to the hire desk from here', async () => {
  const desk = {
    id: 4,
    name: 'Hire desk',
    address: 'desk@hire.example',
    baseId: null,
    hears: ['hires' as const],
    version: 1,
  };
  const asked = await open(
    [matter('a', [{ label: 'Call the hire desk', cost: null, act: { kind: 'message', text: 'Fulmar stays.' } }])],
    { listContacts: { mail: true, contacts: [desk] }, writeMessage: { sent: 1 } },
  );
  await press('Call the hire desk');
  await user.click(await screen.findByRole('button', { name: 'Send it by mail' }));
  await user.click(within(screen.getByRole('dialog')).getByRole('button', { name: 'Send it' }));
  await waitFor(() => {
    expect(asked.find((a) => a.name === 'writeMessage')?.body).toEqual({
      contactIds: [4],
      subject: 'Matter a',
      text: 'Fulmar stays.',
    });
  });
});

test('nothing to decide is said', async () => {
  await open([]);
  expect(screen.getByText(/Nothing needs you just now/)).toBeTruthy();
});
