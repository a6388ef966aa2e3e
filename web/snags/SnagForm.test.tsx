import { afterEach, beforeEach, expect, jest, test } from '@jest/globals';
import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import 'fake-indexeddb/auto';
import { allWaiting, closeOutbox, takeBack } from '../outbox/outbox.ts';
import { store } from '../app/store.ts';
import { answer, page, refusal, signedIn } from '../test/page.tsx';
import { SnagForm } from './SnagForm.tsx';

beforeEach(async () => {
  localStorage.clear();
  for (const w of await allWaiting()) await takeBack(w.order!);
});
afterEach(cleanup);
const form = (onDone = jest.fn()) => (
  <SnagForm
    boatId={4}
    boatName="Plover"
    engines={[
      { id: 8, word: 'port' },
      { id: 9, word: 'starboard' },
    ]}
    onDone={onDone}
  />
);

test('two taps report a trouble of an engine; without one or a few words there is nothing to report', async () => {
  const asked = answer({ ...signedIn('dock'), addSnag: { id: 1, version: 1 } });
  const done = jest.fn();
  await page(form(done));
  const user = userEvent.setup();
  const report = screen.getByRole('button', { name: 'Report it' });
  expect((report as HTMLButtonElement).disabled).toBe(true);
  const [first] = screen.getAllByRole('button', { pressed: false });
  await user.click(first!);
  await user.selectOptions(screen.getByLabelText('Which engine'), 'starboard');
  await user.click(report);
  await waitFor(() => {
    expect(done).toHaveBeenCalled();
  });
  await waitFor(() => {
    expect(asked.find((a) => a.name === 'addSnag')?.body).toMatchObject({
      boatId: 4,
      engineId: 9,
      text: '',
      photo: null,
      at: expect.any(String),
    });
  });
});

test('a trouble of a boat with two engines asks which; nobody may know, and then it is told of all', async () => {
  const asked = answer({ ...signedIn('dock'), addSnag: { id: 1, version: 1 } });
  const done = jest.fn();
  await page(form(done));
  const user = userEvent.setup();
  const report = screen.getByRole<HTMLButtonElement>('button', { name: 'Report it' });
  await user.click(screen.getByRole('button', { name: 'Touched ground, hit something' }));
  expect(report.disabled).toBe(true);
  await user.selectOptions(screen.getByLabelText('Which engine'), 'nobody knows: all of them');
  await user.click(report);
  await waitFor(() => {
    expect(done).toHaveBeenCalled();
  });
  await waitFor(() => {
    expect(asked.find((a) => a.name === 'addSnag')?.body).toMatchObject({ engineId: null, symptom: 'grounded' });
  });
});

test('what was typed and chosen survives leaving the page; told without an answer, it waits on the device', async () => {
  answer({ ...signedIn('dock'), addSnag: () => refusal(503, 'The database does not answer.') });
  const { unmount } = await page(form());
  const user = userEvent.setup();
  await user.type(screen.getByRole('textbox'), 'Cleat is loose');
  await user.selectOptions(screen.getByLabelText('Which engine'), 'starboard');
  unmount();
  const done = jest.fn();
  await page(form(done));
  expect(screen.getByRole<HTMLTextAreaElement>('textbox').value).toBe('Cleat is loose');
  expect(screen.getByLabelText<HTMLSelectElement>('Which engine').value).toBe('9');
  await user.click(screen.getByRole('button', { name: 'Report it' }));
  await waitFor(() => {
    expect(done).toHaveBeenCalled();
  });
  expect((await allWaiting()).at(-1)).toMatchObject({
    personId: 3,
    dock: { kind: 'snag', boatName: 'Plover', snag: { boatId: 4, engineId: 9, text: 'Cleat is loose' } },
  });
});

test('where the device keeps nothing it goes at once; not taken, what was typed stays', async () => {
  let dead = true;
  const asked = answer({
    ...signedIn('dock'),
    addSnag: () => (dead ? refusal(503, 'The database does not answer.') : { id: 1, version: 1 }),
  });
  await closeOutbox();
  const kept = globalThis.indexedDB;
  globalThis.indexedDB = {
    open: () => {
      throw new DOMException('not in a private window', 'SecurityError');
    },
  } as unknown as IDBFactory;
  try {
    const done = jest.fn();
    await page(form(done));
    const user = userEvent.setup();
    await user.type(screen.getByRole('textbox'), 'Cleat is loose');
    const report = screen.getByRole<HTMLButtonElement>('button', { name: 'Report it' });
    await user.click(report);
    await waitFor(() => {
      expect(store.getState().book.notice?.text).toMatch(/keeps nothing and the book does not answer/);
    });
    expect([done.mock.calls.length, screen.getByRole<HTMLTextAreaElement>('textbox').value]).toEqual([
      0,
      'Cleat is loose',
    ]);
    dead = false;
    await waitFor(() => {
      expect(report.disabled).toBe(false);
    });
    await user.dblClick(report);
    await waitFor(() => {
      expect(done).toHaveBeenCalled();
    });
    // The try that failed, and one more: tapped twice it is told once.
    expect(asked.filter((a) => a.name === 'addSnag')).toHaveLength(2);
  } finally {
    globalThis.indexedDB = kept;
  }
});
