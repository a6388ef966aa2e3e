import { afterEach, expect, test } from '@jest/globals';
import { cleanup, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { BackgroundRow } from '@diurna/contract/background';
import type { Reply } from '../app/api.ts';
import { answer, DONE, page, refusal, signedIn } from '../test/page.tsx';
import { Background } from './Background.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const ID = '0d6a1c52-7f0e-4f59-8b1c-2f1c8f6f0a0';
const piece = (n: number, more: Partial<BackgroundRow>): BackgroundRow => ({
  id: `${ID}${n}`,
  kind: 'feed',
  title: 'Front desk',
  state: 'done',
  tries: 1,
  mostTries: 3,
  sent: '2026-04-15T09:00:00Z',
  began: '2026-04-15T09:00:01Z',
  ended: '2026-04-15T09:00:02.500Z',
  next: null,
  outcome: 'Read: 2 new.',
  ...more,
});
const list: Reply<'listBackground'> = {
  rows: [
    piece(1, {}),
    piece(2, { state: 'again', tries: 2, ended: null, next: '2026-04-15T10:01:00Z', outcome: 'cannot be read' }),
    piece(3, { kind: 'tidy', title: null, state: 'waiting', tries: 0, began: null, ended: null, outcome: null }),
  ],
  total: 3,
  page: 1,
  size: 50,
  counts: { waiting: 1, 'at work': 0, again: 1, done: 1, stopped: 0, failed: 0 },
};
const rowOf = (text: string | RegExp) => within(screen.getByText(text).closest('tr')!);

test('what ended can be repeated, what goes on can be stopped; each says how it stands and what came of it', async () => {
  const asked = answer({
    ...signedIn('administrator'),
    listBackground: list,
    stopBackground: DONE,
    repeatBackground: { id: `${ID}9` },
  });
  await page(<Background />);
  expect(await screen.findByText(/2 not done yet; 1 done within a week/)).toBeTruthy();
  expect(rowOf('Read: 2 new.').getByText('1.5 s')).toBeTruthy();
  expect(rowOf('cannot be read').getByText(/2 tries/)).toBeTruthy();
  await user.click(rowOf('Read: 2 new.').getByRole('button', { name: 'Repeat: Read a calendar: Front desk' }));
  expect(await screen.findByText('Put into the queue again.')).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Stop: Clear what is not needed any more' }));
  expect(await screen.findByText('Stopped.')).toBeTruthy();
  expect(asked.filter((a) => /^(stop|repeat)/.test(a.name)).map((a) => a.url.pathname)).toEqual([
    `/api/records/background/${ID}1/repeat`,
    `/api/records/background/${ID}3/stop`,
  ]);
});

test('what ended a moment before it was to be stopped is said at its line', async () => {
  answer({
    ...signedIn('administrator'),
    listBackground: list,
    stopBackground: () => refusal(409, 'This has ended already. Load the list again.'),
  });
  await page(<Background />);
  await user.click(await screen.findByRole('button', { name: 'Stop: Read a calendar: Front desk' }));
  expect((await rowOf('cannot be read').findByRole('alert')).textContent).toBe(
    'This has ended already. Load the list again.',
  );
});

test('a choice asks the book for that alone', async () => {
  const asked = answer({ ...signedIn('administrator'), listBackground: list });
  await page(<Background />);
  await user.selectOptions(await screen.findByLabelText('How it stands'), 'failed');
  await user.selectOptions(screen.getByLabelText('Work'), 'tidy');
  await screen.findByText('Read: 2 new.');
  expect(asked.filter((a) => a.name === 'listBackground').at(-1)!.url.search).toBe(
    '?page=1&size=50&kind=tidy&state=failed',
  );
});
