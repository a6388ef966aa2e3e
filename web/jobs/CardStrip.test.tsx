import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import type { JobCard as Card } from '@diurna/contract/jobs';
import type { CardAct } from '@diurna/core/visit';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import 'fake-indexeddb/auto';
import { store } from '../app/store.ts';
import { cardOf } from '../test/card.ts';
import { answer, NOW, page, signedIn, type Asked } from '../test/page.tsx';
import { JobCard } from './JobCard.tsx';
import { filled, heard } from '../outbox/outbox-state.ts';

const user = userEvent.setup();
beforeEach(() => {
  localStorage.clear();
  store.dispatch(filled({ waiting: [], refused: [] }));
  store.dispatch(heard(true));
  // A phone's width.
  globalThis.matchMedia = (query) =>
    Object.assign(new EventTarget(), {
      matches: query === '(max-width: 760px)',
      media: query,
      onchange: null,
      addListener: () => undefined,
      removeListener: () => undefined,
    });
  globalThis.scrollTo = () => undefined;
  Element.prototype.scrollIntoView = () => undefined;
});
afterEach(async () => {
  // What one test wrote is in the book before the next one begins.
  await waitFor(() => {
    expect(store.getState().outbox.waiting).toEqual([]);
  });
  cleanup();
  Reflect.deleteProperty(globalThis, 'matchMedia');
});

const MINUTES = 60_000;
/** Entries of Ines, the last of them now many minutes ago. */
const did = (ago: number, ...acts: CardAct[]): Card['entries'] =>
  acts.map((act, i) => ({
    id: `00000000-0000-4000-8000-${String(i).padStart(12, '0')}`,
    seq: i + 1,
    by: 3,
    at: Date.parse(NOW) - (ago + acts.length - 1 - i) * MINUTES,
    act,
    seen: i,
    against: null,
  }));
const tick = (id: string): CardAct => ({ kind: 'tick', step: id, done: true });
const begun = ['arrive', '1 cowl off', '1 warm up', '1 engine-oil/vent', '1 engine-oil/drain'].map(tick);
const level: CardAct = { kind: 'read', key: '1 oil level found', value: { choice: 'upper' } };
const open = async (card: Card) => {
  const asked = answer({
    ...signedIn('technician'),
    listPeople: [],
    readJob: card,
    keepEntries: (a: Asked) => {
      const { entries } = a.body as { entries: object[] };
      return { kept: entries.map((e, i) => ({ ...e, seq: 100 + i, by: 3, against: null })), refused: [], lastSeq: 100 };
    },
  });
  await page(<JobCard />, { path: '/jobs/:id', at: '/jobs/12' });
  await screen.findByRole('region', { name: 'Steps in working order' });
  return asked;
};
const acts = (asked: Asked[]) =>
  asked
    .flatMap((a) => (a.name === 'keepEntries' ? (a.body as { entries: { act: CardAct }[] }).entries : []))
    .map((e) => e.act);
const strip = () => screen.getByRole('group', { name: 'Beside the step' });
const fold = () => within(strip()).getAllByRole('button')[0]!;
const atHand = () => within(screen.getByRole('group', { name: 'The step at hand' }));

describe('beside the step at hand, on a phone', () => {
  test('nothing stands there where nothing drains, is open or was found', async () => {
    await open(cardOf(['grease']));
    expect(screen.queryByRole('group', { name: 'Beside the step' })).toBeNull();
  });

  test('what drains is one line with the time it has left; the rest unfolds, and folds again', async () => {
    await open(cardOf(['engine-oil', 'oil-filter'], { entries: did(5, level, ...begun) }));
    expect(within(strip()).getByRole('timer').textContent).toMatch(/^1[45]:\d\d$/);
    expect(fold().textContent).toMatch(/the sump is empty · Turn to the drain side/);
    expect(fold().getAttribute('aria-expanded')).toBe('false');
    expect(screen.queryByRole('list', { name: 'Open now' })).toBeNull();
    await user.click(fold());
    expect(within(strip()).getByRole('list', { name: 'Open now' }).textContent).toMatch(/the sump is empty/);
    expect(within(strip()).getAllByRole('timer')).toHaveLength(1);
    await user.click(fold());
    expect(screen.queryByRole('list', { name: 'Open now' })).toBeNull();
  });

  test('what has to be decided first unfolds by itself', async () => {
    const milky: CardAct = { kind: 'read', key: '1 lube look', value: { choice: 'milky' } };
    await open(cardOf(['gear-lube'], { entries: did(1, tick('arrive'), milky) }));
    expect(fold().textContent).toMatch(/^1 to decide/);
    expect(fold().getAttribute('aria-expanded')).toBe('true');
    expect(within(strip()).getByRole('button', { name: /Hold the engine/ })).toBeTruthy();
  });

  test('the boat’s name has the way back; what the card is about opens on demand', async () => {
    await open(cardOf(['grease']));
    expect(screen.getByRole('link', { name: 'Jobs' }).getAttribute('href')).toBe('/jobs');
    const about = () => within(screen.getByRole('banner')).queryByText(/20 min planned/);
    expect(about()).toBeNull();
    await user.click(screen.getByRole('button', { name: 'About' }));
    expect(about()).toBeTruthy();
  });
});

describe('an answer on a phone', () => {
  const at = (id: string, acts: CardAct[]) => {
    const card = cardOf(['engine-oil', 'oil-filter']);
    const before = card.steps.slice(
      0,
      card.steps.findIndex((t) => t.step.id === id),
    );
    return { ...card, entries: did(60, ...acts, ...before.map((t) => tick(t.step.id))) };
  };

  test('that finds nothing is the tick, also of what one confirms', async () => {
    const asked = await open(at('1 engine-oil/level', [level]));
    expect(atHand().getByText('On your word it goes back on hire.')).toBeTruthy();
    await user.click(atHand().getByRole('radio', { name: 'upper half' }));
    await waitFor(() => {
      expect(acts(asked)).toEqual([
        { kind: 'read', key: '1 oil level', value: { choice: 'upper' } },
        tick('1 engine-oil/level'),
      ]);
    });
  });

  test('that finds something does not tick', async () => {
    const asked = await open(at('1 engine-oil/level', [level]));
    await user.click(atHand().getByRole('radio', { name: 'above the upper mark' }));
    await waitFor(() => {
      expect(acts(asked)).toHaveLength(1);
    });
    expect(await screen.findByRole('button', { name: /I confirm it|Settle it first/ })).toBeTruthy();
    expect(acts(asked)).toHaveLength(1);
  });

  test('of two is asked one at a time; given, it is a line that can be changed', async () => {
    const asked = await open(at('1 run', [level]));
    expect(atHand().getAllByRole('radiogroup')).toHaveLength(1);
    expect(atHand().getByText(/^then: /)).toBeTruthy();
    await user.click(atHand().getByRole('radio', { name: 'soon and strong' }));
    expect(await atHand().findByText('soon and strong', { selector: 'b' })).toBeTruthy();
    await user.click(atHand().getByRole('button', { name: /^Change / }));
    expect(atHand().getByRole('radio', { name: 'weak or late' })).toBeTruthy();
    await user.click(atHand().getByRole('radio', { name: 'out' }));
    await waitFor(() => {
      expect(acts(asked).at(-1)).toEqual(tick('1 run'));
    });
  });

  test('a figure that may be measured opens on demand; Enter keeps it and does not tick what is still asked', async () => {
    const asked = await open(at('1 engine-oil/look', [level]));
    await user.click(atHand().getByRole('button', { name: 'Oil out measured?' }));
    await user.type(atHand().getByRole('textbox'), '2.5{Enter}');
    await waitFor(() => {
      expect(acts(asked)).toEqual([{ kind: 'read', key: '1 oil out', value: { value: 2.5, unit: 'L' } }]);
    });
  });

  test('what is missing to the finish leads to its step', async () => {
    const card = cardOf(['engine-oil', 'oil-filter']);
    const asked = await open({ ...card, entries: did(60, level, ...card.steps.map((t) => tick(t.step.id))) });
    const missing = within(screen.getByRole('list', { name: 'Still wanted' }));
    await user.click(missing.getByRole('button', { name: /^read: filter seat/ }));
    await waitFor(() => {
      expect(acts(asked)).toEqual([{ kind: 'tick', step: '1 oil-filter/off', done: false }]);
    });
    expect(atHand().getByText(/old filter off/)).toBeTruthy();
  });
});
