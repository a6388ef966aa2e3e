import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { act, cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import 'fake-indexeddb/auto';
import { rememberPerson } from '../app/device.ts';
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
  rememberPerson({ id: 4, name: 'Tadeo Lund' });
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
  expect(said).toContain('1 entry of Tadeo Lund wait here too.');
});

test('what the book did not take stands with its reason until it is thrown away', async () => {
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
  const user = userEvent.setup();
  await user.click(screen.getByRole('button', { name: 'throw it away' }));
  // Asked twice: it is nowhere else.
  expect(screen.getByText(/old salt/)).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'yes, throw it away' }));
  await waitFor(() => {
    expect(screen.queryByText(/old salt/)).toBeNull();
  });
});

test('pictures on their way say how much is to go; one that was not taken can be saved, tried again, thrown away', async () => {
  const picture = { jobId: 5, personId: 3, type: 'image/jpeg' as const, size: 2_000_000, sent: 500_000 };
  await page(<Signal />);
  act(() => {
    store.dispatch(heard(true));
    store.dispatch(
      filled({
        waiting: [],
        refused: [],
        pictures: [
          { ...picture, id: 'p' },
          { ...picture, id: 'q', because: 'The picture cannot be read. Take it again.' },
        ],
      }),
    );
  });
  const said = screen.getByRole('status').textContent;
  expect(said).toContain('Sending 1 picture, 1.5 MB to go …');
  expect(said).toContain('a picture of card 5. The picture cannot be read.');
  for (const name of ['try again', 'save to a file', 'throw it away'])
    expect(screen.getByRole('button', { name })).toBeTruthy();
});
