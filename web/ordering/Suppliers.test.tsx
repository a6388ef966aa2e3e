import { afterEach, expect, test } from '@jest/globals';
import type { Supplier } from '@diurna/contract/ordering';
import { cleanup, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, DONE, page, signedIn } from '../test/page.tsx';
import { Suppliers } from './Suppliers.tsx';
import { weekdaysText } from './words.ts';

afterEach(cleanup);
const user = userEvent.setup();
const tern: Supplier = {
  id: 1,
  version: 4,
  name: 'Tern Parts',
  contactId: null,
  leadDays: 3,
  weekdays: [1, 3],
  carriageMinor: 900,
  freeFromMinor: 6000,
  leastMinor: 0,
  offers: [
    {
      id: 5,
      partId: 7,
      number: 'T-77',
      part: 'F1',
      partName: 'Filter',
      unit: 'each',
      packQuantity: 1,
      breaks: [{ packs: 1, priceMinor: 980 }],
    },
  ],
  learned: { orders: 8, days: 4.6, late: 3 },
};
const oil = {
  id: 8,
  version: 1,
  number: 'OIL',
  name: 'Oil',
  kind: 'oil' as const,
  unit: 'mL' as const,
  priceMinor: 820,
  fitments: [],
  onHand: [],
  places: [],
  keptBack: [],
};
const open = async (role: 'stores' | 'manager' = 'stores', more: Parameters<typeof answer>[0] = {}) => {
  const asked = answer({
    ...signedIn(role),
    listSuppliers: [tern],
    listContacts: { mail: true, contacts: [] },
    listParts: { rows: [oil], total: 1, page: 1, size: 20 },
    ...more,
  });
  await page(<Suppliers />);
  await screen.findByText('Tern Parts');
  return asked;
};

test('says when they take orders, and how long they really take beside what they say', async () => {
  await open('manager');
  const row = screen.getByRole('row', { name: /Tern Parts/ });
  expect(row.textContent).toMatch(
    /Mon, Wed.*3 days really 4\.6 over 8 lines, 3 late.*€9\.00 free from €60\.00.*1 offer/,
  );
  expect(screen.queryByRole('button', { name: 'Add a supplier' })).toBeNull();
});

test('an offer is added by its part, a break by a press; what is kept is what was shown', async () => {
  const asked = await open('stores', { editSupplier: { id: 1, version: 5 } });
  await user.click(screen.getByRole('button', { name: 'Edit Tern Parts' }));
  const form = await screen.findByRole('dialog');
  await user.click(within(form).getByRole('button', { name: 'cheaper from' }));
  await user.click(within(form).getByLabelText('Friday'));
  await user.type(within(form).getByLabelText('Add what they sell'), 'oi');
  await user.click(await screen.findByRole('option', { name: 'OIL, Oil' }));
  await user.click(within(form).getByRole('button', { name: 'Keep the changes' }));
  expect(await screen.findByText(/Tern Parts: 2 offers kept/)).toBeTruthy();
  expect(asked.find((a) => a.name === 'editSupplier')!.body).toMatchObject({
    version: 4,
    weekdays: [1, 3, 5],
    offers: [
      {
        partId: 7,
        number: 'T-77',
        packQuantity: 1,
        breaks: [
          { packs: 1, priceMinor: 980 },
          { packs: 6, priceMinor: 980 },
        ],
      },
      { partId: 8, number: null, packQuantity: 1000, breaks: [{ packs: 1, priceMinor: 820 }] },
    ],
  });
});

test('faults stand at their field and nothing is sent; one may stop ordering there', async () => {
  const asked = await open('stores', { retireSupplier: DONE });
  await user.click(screen.getByRole('button', { name: 'Edit Tern Parts' }));
  const form = await screen.findByRole('dialog');
  for (const day of ['Monday', 'Wednesday']) await user.click(within(form).getByLabelText(day));
  await user.click(within(form).getByRole('button', { name: 'Keep the changes' }));
  expect(await within(form).findByText('Choose one day at least.')).toBeTruthy();
  expect(asked.some((a) => a.name === 'editSupplier')).toBe(false);
  await user.click(within(form).getByRole('button', { name: /Order nothing from Tern Parts/ }));
  expect(await screen.findByText('Nothing is ordered from Tern Parts any more.')).toBeTruthy();
});

test('days of the week in words', () => {
  expect([[1, 2, 3, 4, 5], [2, 4], [1, 2, 3, 4, 5, 6, 7], [6]].map(weekdaysText)).toEqual([
    'Mon to Fri',
    'Tue, Thu',
    'every day',
    'Sat',
  ]);
});
