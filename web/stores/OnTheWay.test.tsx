import { afterEach, expect, test } from '@jest/globals';
import type { Part } from '@diurna/contract/stores';
import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { Reply } from '../app/api.ts';
import { dayField, shownDay, typeDay } from '../test/day-field.ts';
import { answer, DONE, page, refusal, signedIn } from '../test/page.tsx';
import { OnTheWay } from './OnTheWay.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const oil: Part = {
  id: 7,
  version: 1,
  number: 'OIL-10W30',
  name: 'Engine oil 10W-30',
  kind: 'oil',
  unit: 'mL',
  priceMinor: 1200,
  fitments: [],
  onHand: [],
  places: [],
  keptBack: [],
};
const order = (more: Partial<Reply<'listArrivals'>[number]> = {}): Reply<'listArrivals'>[number] => ({
  id: 4,
  partId: 7,
  number: oil.number,
  name: oil.name,
  unit: 'mL',
  baseId: 1,
  day: '2026-04-13',
  quantity: 20_000,
  note: 'by truck',
  fromBaseId: null,
  ...more,
});
const open = async (more: Parameters<typeof answer>[0], mayKeep = true) => {
  const asked = answer({ ...signedIn('stores'), listArrivals: [order()], ...more });
  await page(<OnTheWay part={oil} mayKeep={mayKeep} />);
  await screen.findByText('by truck');
  return asked;
};

test('an order past its day is late; what came is put on the shelf as it came, not as ordered', async () => {
  const asked = await open({ closeArrival: DONE });
  expect(screen.getByText('by truck').closest('tr')!.textContent).toMatch(/late.*20 L/);
  await user.click(screen.getByRole('button', { name: 'it has come' }));
  const came = screen.getByLabelText<HTMLInputElement>('Came (mL)');
  expect(came.value).toBe('20000');
  await user.clear(came);
  const put = screen.getByRole<HTMLButtonElement>('button', { name: 'Put on the shelf' });
  expect(put.disabled).toBe(true);
  await user.type(came, '15000');
  await user.click(put);
  expect(await screen.findByText('15 L of OIL-10W30 put on the shelf.')).toBeTruthy();
  expect(asked.find((a) => a.name === 'closeArrival')).toMatchObject({
    url: { pathname: '/api/stores/arrivals/4/close' },
    body: { received: 15_000 },
  });
});

test('an order that will not come is closed with nothing; a refusal leaves it there', async () => {
  const asked = await open({ closeArrival: () => refusal(409, 'This order is closed already.') });
  await user.click(screen.getByRole('button', { name: 'it will not come' }));
  expect((await screen.findByRole('alert')).textContent).toBe('This order is closed already.');
  expect(asked.find((a) => a.name === 'closeArrival')!.body).toEqual({ received: 0 });
  expect(screen.getByText('by truck')).toBeTruthy();
});

test('a new order: a week ahead unless told otherwise, never before today, and only with an amount', async () => {
  const asked = await open({ addArrival: { id: 5 } });
  const note = screen.getByRole<HTMLButtonElement>('button', { name: 'Note the order' });
  const day = await dayField('Expected');
  expect([note.disabled, day.value]).toEqual([true, shownDay('2026-04-22')]);
  await user.type(screen.getByLabelText('Ordered (mL)'), 'some');
  expect(note.disabled).toBe(true);
  await user.clear(screen.getByLabelText('Ordered (mL)'));
  await user.type(screen.getByLabelText('Ordered (mL)'), '4000');
  await typeDay('Expected', '2026-04-20');
  await user.click(note);
  await waitFor(() => {
    expect(asked.find((a) => a.name === 'addArrival')?.body).toEqual({
      partId: 7,
      baseId: 1,
      day: '2026-04-20',
      quantity: 4000,
      note: null,
    });
  });
  expect(await screen.findByText(/4 L of OIL-10W30 expected on 20 Apr 2026: plans count on it/)).toBeTruthy();
});

test('who does not keep the shelf reads it', async () => {
  await open({}, false);
  expect(screen.queryByRole('button')).toBeNull();
});
