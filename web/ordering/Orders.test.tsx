import { afterEach, beforeEach, expect, test } from '@jest/globals';
import type { Purchase } from '@diurna/contract/ordering';
import { act, cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, DONE, page, refusal, signedIn } from '../test/page.tsx';
import { orderBook as book } from '../test/ordering.ts';
import { planWorkers } from '../test/workers.ts';
import { store } from '../app/store.ts';
import { orderingApi } from './api.ts';
import { Orders } from './Orders.tsx';

const onOrder = (received: number | null = null): Purchase => ({
  id: 12,
  supplierId: 1,
  supplier: 'Tern Parts',
  baseId: 1,
  day: '2026-04-10',
  carriageMinor: 900,
  service: null,
  serviceSays: null,
  by: 'Sten',
  at: '2026-04-10T10:00:00Z',
  lines: [
    {
      arrivalId: 31,
      partId: 8,
      number: 'OIL',
      name: 'Oil',
      unit: 'mL',
      packs: 2,
      packQuantity: 4000,
      quantity: 8000,
      priceMinor: 6200,
      expected: '2026-04-13',
      answer: null,
      received,
    },
  ],
});

const user = userEvent.setup();
const was = globalThis.Worker;
beforeEach(planWorkers);
afterEach(() => {
  cleanup();
  globalThis.Worker = was;
});
const open = async (role: 'stores' | 'manager' = 'stores', more: Parameters<typeof answer>[0] = {}) => {
  const asked = answer({ ...signedIn(role), readOrderBook: book(), listPurchases: [onOrder()], ...more });
  await page(<Orders />);
  return asked;
};
const proposed = () => screen.findByRole('button', { name: 'Order it' });

test('what to order today, in whole packs, with what would be short without it; ordered by a press', async () => {
  const asked = await open('stores', { placeOrder: { id: 13, expected: '2026-04-18' } });
  const button = (await proposed()) as HTMLButtonElement;
  await waitFor(() => {
    expect(button.disabled).toBe(false);
  });
  const order = screen.getByRole('region', { name: /Tern Parts, Wed 15 Apr/ });
  expect(within(order).getByRole('heading').textContent).toContain('Today from Tern Parts here Sat 18 Apr');
  // 6 wanted, 2 there: two packs of two, for lack of which four would be owed before the next order.
  const row = within(order).getByRole('row', { name: /F1/ });
  expect(within(row).getByLabelText<HTMLInputElement>('Packs of F1').value).toBe('2');
  expect(row.textContent).toContain('Without it 4 short from Mon 20 Apr; the next order would be here on Sat 25 Apr.');
  expect(order.textContent).toContain('€40.00 goods, €9.00 carriage');
  await user.click(within(order).getByLabelText('send it by mail too'));
  await user.click(button);
  expect(await screen.findByText('Ordered from Tern Parts; expected 18 Apr 2026.')).toBeTruthy();
  expect(document.activeElement).toBe(screen.getByRole('heading', { name: 'What to order' }));
  expect(asked.find((a) => a.name === 'placeOrder')!.body).toEqual({
    baseId: 1,
    supplierId: 1,
    lines: [{ offerId: 1, packs: 2 }],
    mail: true,
    service: false,
  });
});

test('packs changed by hand show what that costs; what is none is said and cannot be ordered', async () => {
  await open();
  const button = (await proposed()) as HTMLButtonElement;
  await waitFor(() => {
    expect(button.disabled).toBe(false);
  });
  const packs = screen.getAllByLabelText<HTMLInputElement>('Packs of F1')[0]!;
  await user.type(packs, '{Backspace}3');
  expect(screen.getAllByRole('status').some((s) => /As changed it costs €[\d.]+ more/.test(s.textContent))).toBe(true);
  await user.type(packs, '{Backspace}');
  expect(screen.getByText(/0 packs of offer 1: whole packs are sold, from 1 on/)).toBeTruthy();
  expect(button.disabled).toBe(true);
});

test('the day and the house of an order are changed by hand, with the price of it', async () => {
  const two = book();
  two.problem.suppliers.push({ ...two.problem.suppliers[0]!, id: 'supplier 2', leadDays: 1, carriage: 4 });
  two.problem.offers.push({
    ...two.problem.offers[0]!,
    id: 'offer 3',
    supplier: 'supplier 2',
    pack: 1,
    breaks: [{ packs: 1, price: 30 }],
  });
  two.names.suppliers['supplier 2'] = { name: 'Skerry Stores', contactId: null, service: false };
  two.names.offers['offer 3'] = two.names.offers['offer 1']!;
  await open('stores', { readOrderBook: two });
  const button = (await proposed()) as HTMLButtonElement;
  await waitFor(() => {
    expect(button.disabled).toBe(false);
  });
  const first = () => within(screen.getAllByRole('region', { name: /^Tern Parts,/ })[0]!);
  const day = first().getByLabelText<HTMLSelectElement>('Order on');
  expect([...day.options].slice(0, 3).map((o) => o.text)).toEqual(['today', 'Wed 22 Apr', 'Wed 29 Apr']);
  await user.selectOptions(day, 'Wed 22 Apr');
  // Here on the 25th, what is wanted on the 20th is short for days.
  expect(screen.getAllByRole('status').some((s) => /As changed it costs €[\d.]+ more/.test(s.textContent))).toBe(true);
  await user.selectOptions(first().getAllByLabelText('Whom F1 is bought from')[0]!, 'from Skerry Stores');
  const other = within(screen.getByRole('region', { name: /^Skerry Stores,/ }));
  // Two packs of two are four of one.
  expect(other.getByLabelText<HTMLInputElement>('Packs of F1').value).toBe('4');
});

test('news while packs are changed by hand takes nothing away: it is said, and planned anew by a press', async () => {
  await open();
  const button = (await proposed()) as HTMLButtonElement;
  await waitFor(() => {
    expect(button.disabled).toBe(false);
  });
  await user.type(screen.getAllByLabelText('Packs of F1')[0]!, '{Backspace}5');
  const less = book();
  less.problem.items[0]!.onHand = 8;
  answer({ ...signedIn('stores'), readOrderBook: less, listPurchases: [] });
  act(() => {
    store.dispatch(orderingApi.util.invalidateTags(['Stores']));
  });
  await user.click(await screen.findByRole('button', { name: 'Plan anew' }));
  await waitFor(() => {
    expect(screen.queryByText(/As changed it costs/)).toBeNull();
  });
  expect(screen.queryByRole('button', { name: 'Plan anew' })).toBeNull();
});

test('what runs short says since when and who wants it; what nobody sells is named', async () => {
  await open();
  const table = await screen.findByRole('table', { name: 'Parts that run short' });
  const [, first, second] = within(table).getAllByRole('row');
  expect(first!.textContent).toMatch(/F1.*2.*10.*Mon 20 Apr.*Turnstone Mon 20 Apr; 4 engines likely due/);
  expect(second!.textContent).toMatch(/PK-1.*nobody sells it/);
});

test('what has come is put on the shelf as it came; it may be less', async () => {
  const asked = await open('stores', { closeArrival: DONE });
  const came = await screen.findByLabelText('Came of OIL, mL');
  expect(screen.getByRole('table', { name: 'Order 12' }).textContent).toContain('late');
  await user.clear(came);
  await user.type(came, '7000');
  await user.click(screen.getByRole('button', { name: 'It has come' }));
  expect(await screen.findByText('7 L of OIL on the shelf, 1 L less than ordered.')).toBeTruthy();
  expect(asked.find((a) => a.name === 'closeArrival')).toMatchObject({ body: { received: 7000 } });
});

test('who only looks cannot order; what is refused stands beside the order', async () => {
  await open('manager');
  await screen.findByRole('table', { name: 'Parts that run short' });
  expect(screen.queryByRole('button', { name: 'Order it' })).toBeNull();
  cleanup();
  await open('stores', {
    placeOrder: () => refusal(409, 'Tern Parts takes no orders today. Order on one of their days.'),
  });
  const button = (await proposed()) as HTMLButtonElement;
  await waitFor(() => {
    expect(button.disabled).toBe(false);
  });
  await user.click(button);
  expect((await screen.findByRole('alert')).textContent).toContain('takes no orders today');
});

test('without offers the page says what is missing', async () => {
  const none = book();
  await open('stores', {
    readOrderBook: { ...none, problem: { ...none.problem, offers: [], suppliers: [] } },
    listPurchases: [],
  });
  expect(await screen.findByText('Nobody sells anything yet.')).toBeTruthy();
  expect(screen.getByText('Nothing is on order with a supplier.')).toBeTruthy();
});

test('an order goes to the supplier’s service unless one says no; what they say stands at it, and is asked for again', async () => {
  const kept = book();
  kept.names.suppliers['supplier 1']!.service = true;
  const order = onOrder();
  const asked = await open('stores', {
    readOrderBook: kept,
    placeOrder: { id: 13, expected: '2026-04-18' },
    askSupplier: DONE,
    listPurchases: [
      { ...order, service: 'failed', serviceSays: 'The supplier’s service cannot be reached.' },
      {
        ...order,
        ...{ id: 14, service: 'answered', serviceSays: 'Tern Parts: OIL: 1 of 2 packs.' },
        lines: [{ ...order.lines[0]!, answer: '1 of 2 packs; the last we have' }],
      },
    ],
  });
  expect(await screen.findByText(/cannot be reached/)).toBeTruthy();
  const answered = screen.getByRole('region', { name: /Order 14/ });
  expect(answered.textContent).toContain('1 of 2 packs; the last we have');
  expect(within(answered).queryByRole('button', { name: 'ask them now' })).toBeNull();
  await user.click(screen.getByRole('button', { name: 'ask them now' }));
  await waitFor(() => {
    expect(asked.find((a) => a.name === 'askSupplier')!.url.pathname).toBe('/api/ordering/purchases/12/ask');
  });
  const button = (await proposed()) as HTMLButtonElement;
  await waitFor(() => {
    expect(button.disabled).toBe(false);
  });
  await user.click(button);
  await waitFor(() => {
    expect(asked.find((a) => a.name === 'placeOrder')!.body).toMatchObject({ service: true, mail: false });
  });
});
