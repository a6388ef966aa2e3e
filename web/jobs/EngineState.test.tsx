import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import type { FinishBody, JobCard as Card } from '@diurna/contract/jobs';
import type { CardAct } from '@diurna/core/visit';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import 'fake-indexeddb/auto';
import { store } from '../app/store.ts';
import { cardOf } from '../test/card.ts';
import { answer, page, signedIn, type Asked } from '../test/page.tsx';
import { JobCard } from './JobCard.tsx';
import { filled, heard } from '../outbox/outbox-state.ts';

beforeEach(() => {
  localStorage.clear();
  store.dispatch(filled({ waiting: [], refused: [] }));
  store.dispatch(heard(true));
});
afterEach(cleanup);
const user = userEvent.setup();

/** Entries of somebody who ticked and read these, in this order. */
const did = (...acts: CardAct[]): Card['entries'] =>
  acts.map((act, i) => ({
    id: `00000000-0000-4000-8000-${String(i).padStart(12, '0')}`,
    seq: i + 1,
    by: 3,
    at: Date.parse('2026-04-15T09:00:00Z') + i * 60_000,
    act,
    seen: i,
    against: null,
  }));
const tick = (id: string): CardAct => ({ kind: 'tick', step: `1 ${id}`, done: true });
const open = async (card: Card, replies: Parameters<typeof answer>[0] = {}) => {
  const asked = answer({
    ...signedIn('technician'),
    listPeople: [],
    readJob: card,
    keepEntries: (a: Asked) => {
      const { entries } = a.body as { entries: object[] };
      return { kept: entries.map((e, i) => ({ ...e, seq: 100 + i, by: 3, against: null })), refused: [], lastSeq: 100 };
    },
    ...replies,
  });
  await page(<JobCard />, { path: '/jobs/:id', at: '/jobs/12' });
  await screen.findByRole('group', { name: 'The step at hand' });
  return asked;
};
const ticks = (asked: Asked[]) =>
  asked
    .flatMap((a) => (a.name === 'keepEntries' ? (a.body as { entries: { act: CardAct }[] }).entries : []))
    .map((e) => e.act);
const all = () => user.click(screen.getByRole('button', { name: /^All \d+ steps/ }));
const pick = async (text: RegExp) => {
  await user.click(
    within(screen.getByRole('region', { name: 'Steps in working order' })).getByRole('checkbox', { name: text }),
  );
};
const atHand = () => within(screen.getByRole('group', { name: 'The step at hand' }));

describe('a step out of order', () => {
  const tasks = ['engine-oil', 'spark-plugs'] as const;
  test('a run with the plugs out is not to be ticked; it says what is open, and the way back', async () => {
    const asked = await open(cardOf(tasks, { entries: did(tick('cowl off'), tick('plugs out')) }));
    expect(within(screen.getByRole('list', { name: 'Open now' })).getByText('plugs are out')).toBeTruthy();
    await all();
    await pick(/^Run it five minutes/);
    expect(atHand().getByText(/out of order/)).toBeTruthy();
    expect(atHand().getByRole('alert').textContent).toMatch(/Not now\. Plugs are out\. It is not started like this/);
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Not now' }).disabled).toBe(true);
    await user.click(atHand().getByRole('button', { name: 'Back to the order' }));
    expect(atHand().queryByRole('alert')).toBeNull();
    expect(ticks(asked)).toEqual([]);
  });
  test('what does not wreck the engine is ticked for a reason', async () => {
    const asked = await open(cardOf(tasks, { entries: did(tick('engine-oil/vent'), tick('engine-oil/drain')) }));
    await all();
    await pick(/^Pour in/);
    expect(atHand().getByRole('alert').textContent).toMatch(/Look first\. The drain screw is out\./);
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Say why' }).disabled).toBe(true);
    await user.type(screen.getByLabelText('Why it is done all the same'), 'the screw is in');
    await user.click(screen.getByRole('button', { name: 'Tick and next' }));
    await waitFor(() => {
      expect(ticks(asked)).toEqual([{ ...tick('engine-oil/fill'), why: 'the screw is in' }]);
    });
    expect(atHand().queryByText(/out of order/)).toBeNull();
  });
  test('one that asks for what was seen comes up to be asked; another is ticked where it stands', async () => {
    const asked = await open(cardOf(tasks));
    await all();
    await pick(/^What came out\?/);
    expect(atHand().getByText(/out of order/)).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Say what you saw' }).disabled).toBe(true);
    await pick(/^Clean the screw/);
    await waitFor(() => {
      expect(ticks(asked)).toEqual([tick('engine-oil/screw')]);
    });
  });
  test('nothing is known of the engine: it is open from the beginning whether there is oil in it', async () => {
    const card = cardOf(['thermostat']);
    await open({ ...card, engines: card.engines.map((e) => ({ ...e, oilUnknown: true })) });
    await all();
    await pick(/^Run it five minutes/);
    expect(atHand().getByRole('alert').textContent).toMatch(/Nobody knows yet that there is oil in it/);
  });
});

test('what stops the work is settled before the next step is ticked', async () => {
  const out = (value: number): CardAct => ({ kind: 'read', key: '1 gaskets out', value: { value, unit: 'pieces' } });
  await open(cardOf(['gear-lube'], { entries: did(tick('gear-lube/drain'), out(1)) }));
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Settle it first' }).disabled).toBe(true);
  cleanup();
  // Found and counted again.
  await open(cardOf(['gear-lube'], { entries: did(tick('gear-lube/drain'), out(1), out(2)) }));
  expect(screen.queryByRole('button', { name: 'Settle it first' })).toBeNull();
});

describe('the finish', () => {
  const tasks = ['thermostat'] as const;
  const gates = () => within(screen.getByRole('region', { name: 'Before it goes back on hire' }));
  const whole: CardAct[] = [
    tick('cowl off'),
    tick('thermostat/off'),
    { kind: 'read', key: '1 thermostat look', value: { choice: 'shut' } },
    tick('thermostat/look'),
    tick('thermostat/on'),
    { kind: 'read', key: '1 stream', value: { choice: 'strong' } },
    { kind: 'read', key: '1 oil light', value: { choice: 'out' } },
    tick('run'),
    { kind: 'read', key: '1 leak', value: { choice: 'dry' } },
    tick('leaks'),
    tick('cowl on'),
    { kind: 'tick', step: 'rags', done: true },
  ];
  const bar = () => within(screen.getByRole('group', { name: 'Finish' }));

  test('a gate that asks for what was seen comes up with its question, and is not ticked unseen', async () => {
    const asked = await open(cardOf(tasks, { entries: did(...whole.slice(0, 5)) }));
    await user.click(gates().getByRole('checkbox', { name: /^Run it five minutes/ }));
    expect(atHand().getByRole('heading').textContent).toMatch(/^Run it five minutes/);
    expect(ticks(asked)).toEqual([]);
  });
  test('a run ticked before the housing was on again is wanted again', async () => {
    const early = [whole[0]!, ...whole.slice(5, 8), ...whole.slice(1, 5), ...whole.slice(8)];
    await open(cardOf(tasks, { entries: did(...early) }));
    const run = gates().getByRole('checkbox', { name: /^Run it five minutes/ });
    expect(run.getAttribute('aria-checked')).toBe('false');
    expect(gates().getByText(/Again: “New thermostat the same way round/)).toBeTruthy();
    expect(bar().getByRole<HTMLButtonElement>('button', { name: 'Finish the job' }).disabled).toBe(true);
  });
  test('what stands open is told, and can be left so on purpose, with a reason: the engine is held', async () => {
    const asked = await open(cardOf(['thermostat', 'spark-plugs'], { entries: did(...whole, tick('plugs out')) }), {
      finishJob: { id: 12, version: 4 },
    });
    expect(bar().getByText(/1 of 2 ticked; what is not ticked stays due; 1 still open/)).toBeTruthy();
    await user.click(bar().getByRole('button', { name: 'Leave it open, on purpose' }));
    const sheet = within(screen.getByRole('dialog'));
    expect(sheet.getByText(/Still open: plugs are out\. The engine is held and must not go out/)).toBeTruthy();
    await user.type(sheet.getByRole('textbox'), 'the new plugs come tomorrow');
    await user.click(sheet.getByRole('button', { name: 'Leave it open and hold it' }));
    await waitFor(() => {
      expect(asked.some((a) => a.name === 'finishJob')).toBe(true);
    });
    expect((asked.find((a) => a.name === 'finishJob')!.body as FinishBody).leftOpen).toEqual([
      { engineId: 1, why: 'the new plugs come tomorrow' },
    ]);
  });
  test('whole and seen, it is finished without further words', async () => {
    const asked = await open(cardOf(tasks, { entries: did(...whole) }), { finishJob: { id: 12, version: 4 } });
    await user.click(bar().getByRole('button', { name: 'Finish the job' }));
    await waitFor(() => {
      expect(asked.some((a) => a.name === 'finishJob')).toBe(true);
    });
    expect((asked.find((a) => a.name === 'finishJob')!.body as FinishBody).leftOpen).toEqual([]);
  });
});
