import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { act, cleanup, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import 'fake-indexeddb/auto';
import { store } from '../app/store.ts';
import { answer, page, signedIn } from '../test/page.tsx';
import { filled, heard } from './outbox-state.ts';
import { Signal } from './Signal.tsx';

beforeEach(() => {
  answer(signedIn('technician'));
});
afterEach(cleanup);
const entry = (id: string, act: { kind: 'remark'; text: string }) => ({ id, at: 0, seen: 0, act });

test('without signal it says what waits, whose it is, and nothing where nothing does', async () => {
  await page(<Signal />);
  expect(screen.queryByRole('status')).toBeNull();
  act(() => {
    store.dispatch(
      filled({
        waiting: [
          { order: 1, jobId: 5, personId: 3, entry: entry('a', { kind: 'remark', text: 'salt' }) },
          { order: 2, jobId: 5, personId: 4, entry: entry('b', { kind: 'remark', text: 'sand' }) },
        ],
        refused: [],
      }),
    );
    store.dispatch(heard(false));
  });
  const said = screen.getByRole('status').textContent;
  expect(said).toContain('No signal. 1 entry kept on this phone, sent when signal is back.');
  expect(said).toContain('1 entry of a colleague wait here too.');
});

test('what the book did not take stands with its reason until it was read', async () => {
  await page(<Signal />);
  act(() => {
    store.dispatch(heard(true));
    store.dispatch(
      filled({
        waiting: [],
        refused: [
          {
            id: 'c',
            jobId: 5,
            personId: 3,
            entry: entry('c', { kind: 'remark', text: 'old salt' }),
            because: 'The card is finished.',
          },
        ],
      }),
    );
  });
  expect(screen.getByText(/the remark “old salt”/).textContent).toContain('The card is finished.');
  await userEvent.setup().click(screen.getByRole('button', { name: 'I have read it' }));
  expect(screen.queryByText(/old salt/)).toBeNull();
});
