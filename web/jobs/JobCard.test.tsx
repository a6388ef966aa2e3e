import { afterEach, beforeEach, expect, test } from '@jest/globals';
import type { JobCard as Card } from '@diurna/contract/jobs';
import { QueryStatus } from '@reduxjs/toolkit/query';
import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import 'fake-indexeddb/auto';
import { api } from '../app/api.ts';
import { store } from '../app/store.ts';
import { cardOf } from '../test/card.ts';
import { answer, page, refusal, signedIn, type Asked } from '../test/page.tsx';
import { JobCard } from './JobCard.tsx';
import { filled, heard } from '../outbox/outbox-state.ts';

const card = (more: Partial<Card> = {}) => cardOf(['grease'], more);
const { steps } = card();

beforeEach(() => {
  localStorage.clear();
  store.dispatch(filled({ waiting: [], refused: [] }));
  store.dispatch(heard(true));
});
afterEach(cleanup);

const open = (replies: Parameters<typeof answer>[0]) => {
  const asked = answer({ ...signedIn('technician'), listPeople: [], ...replies });
  return page(<JobCard />, { path: '/jobs/:id', at: '/jobs/12' }).then(() => asked);
};
const entriesOf = (asked: Asked[]) =>
  asked.flatMap((a) => (a.name === 'keepEntries' ? (a.body as { entries: { act: unknown }[] }).entries : []));

test('the first step stands large; ticked, it goes to the book and the next one stands there', async () => {
  const asked = await open({
    readJob: card(),
    keepEntries: (a: Asked) => ({
      kept: (a.body as { entries: object[] }).entries.map((e, i) => ({ ...e, seq: i + 1, by: 3, against: null })),
      refused: [],
      lastSeq: 1,
    }),
  });
  const first = steps[0]!.step;
  expect((await screen.findAllByText(first.text)).length).toBeGreaterThan(0);
  await userEvent.setup().click(screen.getAllByRole('button', { name: /Done|Next|Tick/ })[0]!);
  await waitFor(() => {
    expect(entriesOf(asked).map((e) => e.act)).toEqual([{ kind: 'tick', step: first.id, done: true }]);
  });
  const second = steps[1]!.step;
  expect((await screen.findAllByText(second.text)).length).toBeGreaterThan(0);
  expect(screen.getByText(`1 of ${steps.length} steps`)).toBeTruthy();
});

test('an answer that was on its way before a tick was taken takes nothing back, nor what is being typed', async () => {
  const kept: object[] = [];
  let reads = 0;
  await open({
    // What the book had before the tick; only the third look sees more.
    readJob: () => (reads++ < 2 ? card() : card({ entries: kept as Card['entries'] })),
    keepEntries: (a: Asked) => {
      kept.push(...(a.body as { entries: object[] }).entries.map((e) => ({ ...e, seq: 1, by: 3, against: null })));
      return { kept, refused: [], lastSeq: 1 };
    },
  });
  const [first, second] = steps.map((s) => s.step);
  await screen.findByRole('heading', { name: first!.text });
  const shown: string[] = [];
  const group = screen.getByRole('group', { name: 'The step at hand' });
  const watch = new MutationObserver(() => shown.push(group.querySelector('h2')!.textContent));
  watch.observe(group, { subtree: true, childList: true, characterData: true });
  await userEvent.setup().click(screen.getByRole('button', { name: /Tick and next|Done/ }));
  await screen.findByRole('heading', { name: second!.text });
  await waitFor(() => {
    expect(kept).toHaveLength(1);
    expect(store.getState().outbox.waiting).toEqual([]);
  });
  for (let look = 2; look <= 3; look++) {
    store.dispatch(api.util.invalidateTags([{ type: 'Card', id: 12 }]));
    await waitFor(() => {
      expect(reads).toBeGreaterThanOrEqual(look);
    });
    await waitFor(() => {
      expect(Object.values(store.getState().api.queries).every((q) => q?.status !== QueryStatus.pending)).toBe(true);
    });
  }
  watch.disconnect();
  expect(new Set(shown)).toEqual(new Set([second!.text]));
  expect(screen.getByText(`1 of ${steps.length} steps`)).toBeTruthy();
});

test('kept by a server that died before it answered, a tick is asked for anew and nobody has to send it again', async () => {
  let times = 0;
  const asked = await open({
    readJob: card(),
    keepEntries: (a: Asked) => {
      if (times++ === 0) return refusal(409, 'This was done already, and its answer is gone.', { type: 'already' });
      const { entries } = a.body as { entries: object[] };
      return { kept: entries.map((e) => ({ ...e, seq: 1, by: 3, against: null })), refused: [], lastSeq: 1 };
    },
  });
  await screen.findByRole('heading', { name: steps[0]!.step.text });
  await userEvent.setup().click(screen.getByRole('button', { name: /Tick and next|Done/ }));
  await waitFor(() => {
    expect(asked.filter((a) => a.name === 'keepEntries')).toHaveLength(2);
    expect(store.getState().outbox.waiting).toEqual([]);
  });
  expect(store.getState().outbox.refused).toEqual([]);
  expect(entriesOf(asked)[0]).toEqual(entriesOf(asked)[1]);
});

test('a held engine is told above all else, with what lets it go', async () => {
  await open({
    readJob: card({
      holds: [
        {
          id: 1,
          version: 1,
          engineId: 1,
          boatId: 1,
          boatName: 'Razorbill',
          position: 'single',
          why: 'The gear lube came out milky.',
          checks: ['gear-seals'],
          missing: ['gear-seals'],
          at: '2026-04-14T10:00:00Z',
          by: 'Ilse',
          released: null,
        },
      ],
    }),
  });
  expect((await screen.findByText(/The gear lube came out milky/)).textContent).toContain(
    'Wanted first: gear-case seals.',
  );
});

test('a card that is gone says where to look; a colleague’s card can be read, not worked', async () => {
  await open({ readJob: () => refusal(404, 'There is no such job.') });
  expect(await screen.findByText('There is no such job.')).toBeTruthy();
  cleanup();
  await open({ readJob: card({ technicianId: 8, technician: 'Reva Sand' }) });
  expect(await screen.findByText('This card belongs to a colleague.')).toBeTruthy();
  expect(screen.queryByRole('button', { name: 'Finish the job' })).toBeNull();
});

test('where the shelf has too little, another number that may be fitted is offered, and is used at a tap', async () => {
  const plug = { partId: 9, number: 'PL-1', name: 'Plug', unit: 'each' as const, quantity: 2, place: null };
  await open({
    readJob: card({
      tasks: [{ engineId: 1, task: 'grease', position: 'single', state: 'done' }],
      parts: [
        {
          ...plug,
          ...{ onHand: 1, open: [], sizes: [], tasks: [{ engineId: 1, task: 'grease' }] },
          instead: [
            { partId: 8, number: 'PL-0', name: 'Plug', onHand: 1, place: 'B3', why: 'older number: bulletin 7 (Tern)' },
            { partId: 7, number: 'PL-X', name: 'Plug X', onHand: 6, place: 'B4', why: 'equivalent: a letter (Ilse)' },
          ],
        },
      ],
    }),
    keepEntries: { kept: [], refused: [], lastSeq: 1 },
  });
  // Of the older number there is one, and two are wanted.
  expect(screen.queryByRole('button', { name: /PL-0 went in instead/ })).toBeNull();
  await userEvent.setup().click(await screen.findByRole('button', { name: /PL-X went in instead/ }));
  const used = (name: string) => screen.getByLabelText<HTMLInputElement>(`Used: ${name}`).value;
  await waitFor(() => {
    expect([used('Plug'), used('Plug X')]).toEqual(['0', '2']);
  });
});
