import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, DONE, page, signedIn } from '../test/page.tsx';
import { Told } from './Told.tsx';

beforeEach(() => {
  localStorage.clear();
  sessionStorage.clear();
});
afterEach(cleanup);
const user = userEvent.setup();
const notice = (id: number, text: string) => ({
  id,
  at: '2026-04-15T09:00:00Z',
  kind: 'work' as const,
  text,
  jobId: null,
});
const FIRST = notice(1, 'Sandpiper moved.');
const SECOND = notice(2, 'Dunlin given to you.');
const open = async (...told: (typeof FIRST)[]) => {
  const asked = answer({ ...signedIn('technician'), listNotices: told, readNotices: DONE });
  await page(<Told />);
  return asked;
};

test('the latest in one line, the rest on demand; put away, the book knows up to which', async () => {
  const asked = await open(FIRST, SECOND);
  expect(await screen.findByText('Dunlin given to you.')).toBeTruthy();
  expect(screen.queryByText('Sandpiper moved.')).toBeNull();
  await user.click(screen.getByRole('button', { name: 'and 1 more' }));
  expect(screen.getByText('Sandpiper moved.')).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Seen' }));
  await waitFor(() => {
    expect(asked.find((a) => a.name === 'readNotices')?.body).toEqual({ upTo: 2 });
  });
});

test('put off, it folds into the corner with its count, stays so, and opens again', async () => {
  await open(FIRST);
  await user.click(await screen.findByRole('button', { name: 'later' }));
  expect(screen.queryByText('Sandpiper moved.')).toBeNull();
  cleanup();
  await open(FIRST);
  await user.click(await screen.findByRole('button', { name: '1 message' }));
  expect(screen.getByText('Sandpiper moved.')).toBeTruthy();
});

test('what is told after that unfolds it by itself', async () => {
  await open(FIRST);
  await user.click(await screen.findByRole('button', { name: 'later' }));
  cleanup();
  await open(FIRST, SECOND);
  expect(await screen.findByText('Dunlin given to you.')).toBeTruthy();
  expect(screen.getByRole('button', { name: 'and 1 more' })).toBeTruthy();
});
