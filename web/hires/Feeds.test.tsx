import { afterEach, expect, test } from '@jest/globals';
import type { HireFeed } from '@diurna/contract/hires';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, page, refusal, signedIn } from '../test/page.tsx';
import { Feeds } from './Feeds.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const feed: HireFeed = {
  id: 2,
  version: 3,
  name: 'Booking desk',
  url: 'https://desk.invalid/north.ics',
  baseId: 1,
  active: true,
  readAt: '2026-04-15T09:45:00Z',
  outcome: 'Read: 2 new.',
  failed: false,
  hires: 41,
};
const open = async (role: Parameters<typeof signedIn>[0], more: Parameters<typeof answer>[0] = {}) => {
  const asked = answer({ ...signedIn(role), listFeeds: [feed], ...more });
  await page(<Feeds />);
  await screen.findByText('Booking desk');
  return asked;
};

test('a coordinator reads a calendar now and is told what came of it; addresses are the administrator’s', async () => {
  const asked = await open('coordinator', {
    readFeed: { ok: true, outcome: 'The calendar cannot be read.', failed: true },
  });
  expect(screen.getByText('Booking desk').closest('tr')!.textContent).toMatch(/North Quay.*41.*Read: 2 new\./);
  expect(screen.queryByRole('button', { name: /^Edit/ })).toBeNull();
  await user.click(screen.getByRole('button', { name: 'Read now: Booking desk' }));
  expect(await screen.findByText('Booking desk. The calendar cannot be read.')).toBeTruthy();
  expect(asked.find((a) => a.name === 'readFeed')!.url.pathname).toBe('/api/hires/feeds/2/read');
});

test('following one: an address that is none is told at its field; a good one is read at once', async () => {
  const asked = await open('administrator', {
    addFeed: { id: 9, version: 1 },
    readFeed: { ok: true, outcome: 'Read: 12 new.', failed: false },
  });
  await user.click(screen.getByRole('button', { name: 'Follow a calendar' }));
  const sheet = within(await screen.findByRole('dialog'));
  await user.type(sheet.getByLabelText(/^Name/), 'Charter desk');
  await user.type(sheet.getByLabelText(/^Address/), 'desk/north.ics');
  await user.click(sheet.getByRole('button', { name: 'Follow it' }));
  expect(await sheet.findByText(/no web address/)).toBeTruthy();
  expect(asked.some((a) => a.name === 'addFeed')).toBe(false);
  await user.clear(sheet.getByLabelText(/^Address/));
  await user.type(sheet.getByLabelText(/^Address/), 'https://desk.invalid/all.ics');
  await user.click(sheet.getByRole('button', { name: 'Follow it' }));
  expect(await screen.findByText('Charter desk is followed. Read: 12 new.')).toBeTruthy();
  expect(asked.find((a) => a.name === 'addFeed')!.body).toEqual({
    name: 'Charter desk',
    url: 'https://desk.invalid/all.ics',
    baseId: 1,
    active: true,
  });
});

test('one that is no longer followed is not read; a refusal stays in the form', async () => {
  let refuse = true;
  const asked = await open('administrator', {
    editFeed: () => (refuse ? refusal(409, 'Somebody else changed this calendar.') : { id: 2, version: 4 }),
  });
  await user.click(screen.getByRole('button', { name: 'Edit Booking desk' }));
  const sheet = within(await screen.findByRole('dialog'));
  await user.selectOptions(sheet.getByLabelText('Followed'), 'not now');
  await user.click(sheet.getByRole('button', { name: 'Keep the changes' }));
  expect(await sheet.findByText('Somebody else changed this calendar.')).toBeTruthy();
  refuse = false;
  await user.click(sheet.getByRole('button', { name: 'Keep the changes' }));
  expect(await screen.findByText('Booking desk is not followed any more.')).toBeTruthy();
  expect(asked.filter((a) => a.name === 'editFeed').at(-1)!.body).toMatchObject({ version: 3, active: false });
  await waitFor(() => {
    expect(asked.some((a) => a.name === 'readFeed')).toBe(false);
  });
});
