import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { act, cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import 'fake-indexeddb/auto';
import { answer, page, signedIn, type Asked } from '../test/page.tsx';
import { Shell } from './Shell.tsx';
import { say, store, turnTo } from './store.ts';

beforeEach(() => {
  localStorage.clear();
  store.dispatch(turnTo(null));
});
afterEach(cleanup);
const user = userEvent.setup();
const counts = { over: 7, due: 0, soon: 0, unknown: 0, fine: 0 };
const open = async (role: Parameters<typeof signedIn>[0], more: Parameters<typeof answer>[0] = {}) => {
  const asked = answer({
    ...signedIn(role),
    dueList: { rows: [], total: 0, page: 1, size: 1, counts, engines: 0 },
    ribbon: [],
    listNotices: [],
    ...more,
  });
  await page(<Shell />);
  await screen.findByRole('navigation', { name: 'Rooms' });
  return asked;
};
const rooms = () =>
  within(screen.getByRole('navigation', { name: 'Rooms' }))
    .getAllByRole('link')
    .map((a) => a.textContent);

describe('the open book', () => {
  test('each role has its own rooms; what is over is counted on the tab', async () => {
    await open('dock');
    expect(rooms()).not.toContain('Plan');
    cleanup();
    await open('coordinator');
    expect(rooms()).toEqual(expect.arrayContaining(['Plan', 'Stores', 'Records']));
    expect(await screen.findByLabelText(', 7 over')).toBeTruthy();
    expect(screen.getByText('North Quay')).toBeTruthy();
  });

  test('keys turn to rooms and to today, never while somebody types', async () => {
    await open('coordinator');
    act(() => {
      store.dispatch(turnTo('2026-05-01'));
    });
    await user.keyboard('.');
    expect(store.getState().book.day).toBeNull();
    await user.keyboard('?');
    const keys = within(await screen.findByRole('dialog'));
    expect(keys.getByText('Back to today')).toBeTruthy();
    await user.click(keys.getByRole('button', { name: 'Close' }));
    await waitFor(() => {
      expect(screen.queryByRole('dialog')).toBeNull();
    });
    await user.keyboard('2');
    expect(await screen.findByText('another page')).toBeTruthy();
  });

  test('found by a piece of its name, with the keyboard alone; nothing found is said', async () => {
    const asked = await open('technician', {
      search: ({ url }: Asked) =>
        url.searchParams.get('q') === 'raz'
          ? [
              { kind: 'boat', id: 4, title: 'Razorbill', detail: 'North Quay' },
              { kind: 'engine', id: 9, title: 'Razorbill port', detail: 'C60-1' },
            ]
          : [],
    });
    await user.keyboard('/');
    const field = await screen.findByRole('combobox', { name: /^Find a boat/ });
    await user.type(field, 'raz');
    expect(await screen.findAllByRole('option')).toHaveLength(2);
    // A digit typed here is no room.
    await user.type(field, '2');
    expect(await screen.findByText(/Nothing in the book is called “raz2”/)).toBeTruthy();
    await user.type(field, '{Backspace}');
    await screen.findAllByRole('option');
    await user.keyboard('{ArrowDown}');
    expect(screen.getByRole('option', { selected: true }).textContent).toMatch(/Razorbill port/);
    await user.keyboard('{Enter}');
    expect(await screen.findByText('another page')).toBeTruthy();
    expect(asked.filter((a) => a.name === 'search').length).toBeGreaterThan(1);
  });

  test('pages, rules and what the guides say are found too; a guide opens over the page', async () => {
    await open('coordinator', { search: () => [] });
    await user.keyboard('/');
    const field = await screen.findByRole('combobox', { name: /^Find a boat/ });
    await user.type(field, 'impeller');
    expect((await screen.findAllByRole('option'))[0]!.textContent).toMatch(/^ruleWhen is the pump impeller renewed\?/);
    await user.clear(field);
    await user.type(field, 'without signal');
    const found = await screen.findAllByRole('option', { name: /^guide/ });
    expect(found[0]!.textContent).toMatch(/^guideBoats back Without signal all of it is kept on this phone/);
    await user.click(found[0]!);
    const guide = within(await screen.findByRole('dialog', { name: 'Guide' }));
    expect(guide.getByRole('heading', { name: 'Boats back' })).toBeTruthy();
  });

  test('what was done is told with where to go next, and put away', async () => {
    await open('technician');
    act(() => {
      store.dispatch(say({ tone: 'wrong', text: 'It was refused.', link: { to: '/due', word: 'See what is due' } }));
    });
    expect(screen.getByRole('link', { name: 'See what is due' })).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Put this away' }));
    expect(screen.queryByRole('link', { name: 'See what is due' })).toBeNull();
  });

  test('the light goes round: paper, dark, sun, and is kept on the device', async () => {
    await open('technician');
    for (const next of ['Dark', 'Sun', 'Paper'])
      await user.click(screen.getByRole('button', { name: new RegExp(`Change to ${next}$`) }));
    expect(store.getState().book.mode).toBe('day');
    await user.click(screen.getByRole('button', { name: /Change to Dark$/ }));
    expect(JSON.stringify(localStorage)).toContain('dark');
    await user.click(screen.getByRole('button', { name: /Change to Sun$/ }));
    await user.click(screen.getByRole('button', { name: /Change to Paper$/ }));
  });
});
