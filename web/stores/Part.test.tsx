import { afterEach, describe, expect, test } from '@jest/globals';
import type { Movement, PartPage } from '@diurna/contract/stores';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { orderBook } from '../test/ordering.ts';
import { answer, DONE, page, refusal, signedIn } from '../test/page.tsx';
import { Part } from './Part.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const seal: PartPage = {
  id: 21,
  version: 3,
  number: 'GS-60',
  name: 'Seal kit',
  kind: 'other',
  unit: 'each',
  priceMinor: 2450,
  fitments: [{ modelId: 2, task: 'gear-seals', quantity: 2, from: 'C60-100', to: null }],
  onHand: [{ baseId: 1, quantity: 3 }],
  places: [{ baseId: 1, place: 'rack 4' }],
  keptBack: [{ baseId: 1, quantity: 4 }],
  containers: [],
  shelfLifeMonths: null,
  contents: [],
  links: [],
  supersedes: [],
  kitModels: [],
  others: [],
  open: [],
  lots: [],
  worth: [],
};
const moved: Movement = {
  id: 1,
  at: '2026-04-14T10:00:00Z',
  baseId: 1,
  baseName: 'North Quay',
  quantity: -2,
  balance: -1,
  reason: 'used',
  jobId: 12,
  takenBy: null,
  by: 'Ines Okoye',
  note: null,
  belowZero: true,
  lot: null,
  expires: null,
  costMinor: null,
};
const open = async (
  more: Parameters<typeof answer>[0] = {},
  role: Parameters<typeof signedIn>[0] = 'stores',
  id = 21,
) => {
  const asked = answer({
    ...signedIn(role),
    readPart: seal,
    readOrderBook: { ...orderBook(), parts: [{ ...orderBook().parts[0]!, partId: 21 }] },
    listModels: [],
    listArrivals: [],
    ledger: { rows: [moved], total: 1, page: 1, size: 40 },
    ...more,
  });
  await page(<Part />, { path: '/stores/parts/:id', at: `/stores/parts/${id}` });
  await screen.findByRole('heading', { name: 'GS-60' });
  return asked;
};
const press = (name: string | RegExp) => user.click(screen.getByRole('button', { name }));
const acts = () => within(screen.getByRole('region', { name: 'Stock acts' }));

describe('a part', () => {
  test('what the shelf comes to: from when it is short, and who will take it', async () => {
    await open();
    const ahead = await screen.findByRole('region', { name: 'Ahead' });
    expect(await within(ahead).findByText(/Likely short from Mon 20 Apr on, without an order\./)).toBeTruthy();
    expect(ahead.textContent).toContain('1 card will take it, 4 engines likely due.');
    // The test's part is sold by nobody under its number: no reorder point.
    expect(ahead.textContent).not.toContain('reorder point');
    cleanup();
    const [f1] = orderBook().parts;
    await open({ readPart: { ...seal, id: 7 }, readOrderBook: { ...orderBook(), parts: [f1!] } }, 'stores', 7);
    expect(await screen.findByText(/By a reorder point instead/)).toBeTruthy();
    cleanup();
    await open({ readOrderBook: { ...orderBook(), parts: [] } });
    expect(await screen.findByText('Nothing here takes it within 42 days.')).toBeTruthy();
    cleanup();
    // Who does the work sees the shelf, not what is bought.
    await open({}, 'technician');
    expect(screen.queryByRole('region', { name: 'Ahead' })).toBeNull();
  });

  test('what is there, what cards will take, what is short; its ledger says what went below zero', async () => {
    await open();
    const here = screen.getByText('rack 4').closest('tr')!.textContent;
    expect(here).toMatch(/North Quay.*rack 4.*3.*4 kept back for open cards: 1 short/);
    expect(screen.getByText(/24\.50 each/)).toBeTruthy();
    expect((await screen.findByText('used on a job')).closest('tr')!.textContent).toMatch(
      /below zero, marked.*-?−?2.*Ines Okoye/,
    );
  });

  test.each([
    ['Receive', 'How many', '5', { act: 'receive', quantity: 5, lot: null, expires: null, costMinor: null }],
    ['Count', 'On the shelf', '0', { act: 'count', counted: 0, open: [] }],
  ])('%s: one figure, and the shelf says what it holds now', async (name, label, typed, body) => {
    const asked = await open({ moveStock: { onHand: 8 } });
    await press(name);
    await user.type(acts().getByLabelText(label), typed);
    await user.click(acts().getAllByRole('button', { name }).at(-1)!);
    expect(await screen.findByText('GS-60: 8 on hand now.')).toBeTruthy();
    expect(asked.find((a) => a.name === 'moveStock')!.body).toEqual({ ...body, partId: 21, baseId: 1, note: null });
  });

  test('receiving nothing is no act; writing off wants a reason; a refusal stays with what was typed', async () => {
    const asked = await open({ moveStock: () => refusal(409, 'Only 3 are there. Count the shelf first.') });
    await press('Receive');
    await user.type(acts().getByLabelText('How many'), '0');
    const receive = acts().getAllByRole<HTMLButtonElement>('button', { name: 'Receive' }).at(-1)!;
    expect(receive.disabled).toBe(true);
    await press('Write off');
    await user.type(acts().getByLabelText('How many'), '9');
    const off = acts().getAllByRole<HTMLButtonElement>('button', { name: 'Write off' }).at(-1)!;
    expect(off.disabled).toBe(true);
    await user.type(acts().getByLabelText('Why'), 'perished');
    await user.click(off);
    expect((await screen.findByRole('alert')).textContent).toBe('Only 3 are there. Count the shelf first.');
    expect(acts().getByLabelText<HTMLInputElement>('How many').value).toBe('9');
    expect(asked.find((a) => a.name === 'moveStock')!.body).toMatchObject({ act: 'write off', note: 'perished' });
  });

  test('handed to a person, and the ledger says to whom', async () => {
    const asked = await open({
      moveStock: { onHand: 8 },
      listPeople: [
        { id: 3, version: 1, name: 'Ines Okoye', username: 'ines', role: 'technician', baseId: 1, active: true },
        { id: 4, version: 1, name: 'Sven Achterberg', username: 'sven', role: 'technician', baseId: 1, active: false },
      ],
      ledger: {
        rows: [
          { ...moved, id: 3, quantity: 1, balance: 2, reason: 'returned', jobId: null, takenBy: 'Ines Okoye' },
          { ...moved, id: 2, jobId: null, takenBy: 'Ines Okoye', belowZero: false },
        ],
        total: 2,
        page: 1,
        size: 20,
      },
    });
    expect(await screen.findByText('brought back by Ines Okoye')).toBeTruthy();
    expect(screen.getByText('handed to Ines Okoye')).toBeTruthy();
    await press('Hand to a person');
    const person = acts().getByLabelText<HTMLSelectElement>('Person');
    await waitFor(() => {
      expect([...person.options].map((o) => o.text)).toEqual(['choose', 'Ines Okoye']);
    });
    await user.type(acts().getByLabelText('How many'), '2');
    const act = () => acts().getAllByRole<HTMLButtonElement>('button', { name: 'Hand to a person' }).at(-1)!;
    expect(act().disabled).toBe(true);
    await user.selectOptions(person, 'Ines Okoye');
    await user.click(act());
    expect(await screen.findByText('GS-60: 8 on hand now.')).toBeTruthy();
    expect(asked.find((a) => a.name === 'moveStock')!.body).toMatchObject({
      act: 'hand out',
      personId: 3,
      quantity: 2,
    });
  });

  test('its place is said in place; Esc leaves it', async () => {
    const asked = await open({ putPlace: DONE });
    await press('change: the place at North Quay');
    await user.keyboard('{Escape}');
    expect(screen.queryByLabelText('Place at North Quay')).toBeNull();
    await press('change: the place at North Quay');
    const field = screen.getByLabelText('Place at North Quay');
    await user.clear(field);
    await user.type(field, 'rack 7{Enter}');
    await waitFor(() => {
      expect(asked.find((a) => a.name === 'putPlace')?.body).toEqual({ baseId: 1, place: 'rack 7' });
    });
  });

  test('a technician reads it; one that is gone is said', async () => {
    await open({}, 'technician');
    expect(screen.queryByRole('button', { name: 'Edit the part' })).toBeNull();
    expect(screen.queryByRole('region', { name: 'Stock acts' })).toBeNull();
    cleanup();
    answer({ ...signedIn('stores'), listModels: [], readPart: () => refusal(404, 'There is no such part.') });
    await page(<Part />, { path: '/stores/parts/:id', at: '/stores/parts/9' });
    expect(await screen.findByText('There is no such part.')).toBeTruthy();
  });
});
