import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import { act, cleanup, screen, waitFor } from '@testing-library/react';
import 'fake-indexeddb/auto';
import { ANSWER_MS } from '../app/api.ts';
import { store } from '../app/store.ts';
import { answer, page, signedIn, type Asked } from '../test/page.tsx';
import { allWaiting, entryOf, put, type Waiting } from './outbox.ts';
import { added, heard } from './outbox-state.ts';
import { Signal } from './Signal.tsx';
import { useOutbox } from './useOutbox.ts';

/** The page's clocks run this much faster, so that what takes half a minute on the dock takes a moment here. */
const FASTER = 100;
let asked: Asked[];
beforeEach(() => {
  asked = answer({ ...signedIn('technician'), keepEntries: ({ body }) => taken(body) });
  const { setInterval: every, setTimeout: after } = globalThis;
  const wait = (f: () => void, ms?: number) => after(f, ms === ANSWER_MS ? ms / FASTER : ms);
  jest.spyOn(globalThis, 'setTimeout').mockImplementation(wait);
  const again = (f: () => void, ms?: number) => every(f, ms === 5_000 ? ms / FASTER : ms);
  jest.spyOn(globalThis, 'setInterval').mockImplementation(again);
});
afterEach(() => {
  cleanup();
  jest.restoreAllMocks();
});

/** The book's answer that it has them all. */
function taken(body: unknown) {
  const { entries } = body as { entries: object[] };
  return { kept: entries.map((e, i) => ({ ...e, seq: i + 1, by: 3, against: null })), refused: [] };
}

function Phone() {
  useOutbox();
  return <Signal />;
}

/** The phone with its store read and nothing under way. */
async function atRest() {
  await page(<Phone />);
  await act(() => new Promise((done) => setTimeout(done, 200)));
}

test('a connection that says nothing any more does not hold back what waits: it goes again on another', async () => {
  const working = globalThis.fetch;
  let dead = 0;
  globalThis.fetch = (input) => {
    const request = input as Request;
    if (!request.url.endsWith('/entries') || dead > 0) return working(input);
    dead += 1;
    return new Promise((_, reject) => {
      request.signal.addEventListener('abort', () => {
        reject(request.signal.reason as Error);
      });
    });
  };
  await put(5, 3, entryOf({ kind: 'remark', text: 'salt' }, 0));
  await page(<Phone />);
  await waitFor(() => {
    expect(asked.filter((a) => a.name === 'keepEntries')).toHaveLength(1);
  });
  expect(dead).toBe(1);
  await waitFor(() => {
    expect(screen.queryByRole('status', { name: 'Signal' })).toBeNull();
  });
  expect(await allWaiting()).toEqual([]);
});

test('"no signal" is looked at again though the device never says that it is back', async () => {
  await atRest();
  act(() => {
    store.dispatch(heard(false));
  });
  expect(screen.getByRole('status', { name: 'Signal' }).textContent).toContain('No signal.');
  await waitFor(() => {
    expect(screen.queryByRole('status', { name: 'Signal' })).toBeNull();
  });
});

test('what is shown is what the device holds: an entry the book has is not said to be on its way', async () => {
  await atRest();
  const gone: Waiting = {
    order: 9_999,
    jobId: 5,
    personId: 3,
    entry: entryOf({ kind: 'remark', text: 'there already' }, 0),
  };
  act(() => {
    store.dispatch(added(gone));
  });
  expect(screen.getByRole('status', { name: 'Signal' }).textContent).toContain('Sending 1 entry');
  await waitFor(() => {
    expect(screen.queryByRole('status', { name: 'Signal' })).toBeNull();
  });
  expect(asked.filter((a) => a.name === 'keepEntries')).toEqual([]);
});
