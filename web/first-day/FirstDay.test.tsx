import { afterEach, beforeEach, expect, test } from '@jest/globals';
import type { Reply } from '../app/api.ts';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, page, signedIn } from '../test/page.tsx';
import { FirstDay } from './FirstDay.tsx';

beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);
const full: Reply<'firstDay'> = {
  bases: 1,
  models: 2,
  boats: 3,
  boatsBare: 0,
  engines: 4,
  unread: 0,
  meterless: 0,
  technicians: 1,
  lowerUnits: 1,
  hires: 1,
  parts: 1,
};
const open = async (counts: Partial<Reply<'firstDay'>>, role: Parameters<typeof signedIn>[0] = 'coordinator') => {
  answer({ ...signedIn(role), firstDay: { ...full, ...counts } });
  await page(<FirstDay />);
};
const guide = () => screen.findByRole('region', { name: 'Setting the book up' });

test('each step with what is missing and why it matters, the next one led to; what is done is ticked', async () => {
  await open({ unread: 3, hires: 0 });
  const steps = within(await guide());
  expect(steps.getByText('3 meters were never read')).toBeTruthy();
  expect(steps.getByRole('link', { name: 'What the meters show' }).getAttribute('href')).toBe('/day/hours');
  expect(steps.getByText(/what falls due is guessed from the calendar/)).toBeTruthy();
  expect(steps.queryByRole('link', { name: 'Engine models' })).toBeNull();
  // While something needed is missing it is not put away.
  expect(steps.queryByRole('button')).toBeNull();
});

test('with only hires and parts to come it can be put away, on this device for good', async () => {
  await open({ parts: 0 });
  await guide();
  await userEvent.setup().click(screen.getByRole('button', { name: 'We work without the rest for now' }));
  await waitFor(() => {
    expect(screen.queryByRole('region', { name: 'Setting the book up' })).toBeNull();
  });
});

test('a full book, and whoever does not set it up, see nothing of it', async () => {
  await open({});
  expect(screen.queryByRole('region', { name: 'Setting the book up' })).toBeNull();
  cleanup();
  await open({ models: 0 }, 'technician');
  expect(screen.queryByRole('region', { name: 'Setting the book up' })).toBeNull();
});
