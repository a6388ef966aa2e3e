import { afterEach, expect, test } from '@jest/globals';
import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { Reply } from '../app/api.ts';
import { typeDay } from '../test/day-field.ts';
import { answer, DONE, page, refusal, signedIn } from '../test/page.tsx';
import { UsedOil } from './UsedOil.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const waste: Reply<'listWaste'> = {
  rows: [
    {
      id: 1,
      day: '2026-04-14',
      baseName: 'North Quay',
      boatName: 'Plover',
      jobId: 12,
      stream: 'used oil',
      quantity: 5200,
      measured: false,
      by: 'Ines Okoye',
      note: null,
    },
  ],
  total: 1,
  page: 1,
  size: 50,
  totals: [{ baseId: 1, baseName: 'North Quay', stream: 'used oil', quantity: 45_200, unit: 'mL' }],
  store: [{ baseId: 1, baseName: 'North Quay', stream: 'used oil', quantity: 25_200, unit: 'mL' }],
};
const open = async (role: Parameters<typeof signedIn>[0], more: Parameters<typeof answer>[0] = {}) => {
  const asked = answer({ ...signedIn(role), listWaste: waste, ...more });
  await page(<UsedOil />);
  await screen.findByRole('heading', { name: 'Entries' });
  return asked;
};

test('what stands in the store is told apart from what was taken out, and measured from by the label', async () => {
  await open('manager');
  const block = (title: string) => screen.getByRole('heading', { name: title }).parentElement!.textContent;
  expect(block('In the store now')).toMatch(/25\.2 L/);
  expect(block('Taken out, all told')).toMatch(/45\.2 L/);
  expect(screen.getByText('Plover').closest('tr')!.textContent).toMatch(/5\.2 L by the label/);
  expect(screen.queryByRole('heading', { name: 'Collected' })).toBeNull();
});

test('days are asked of the book', async () => {
  const asked = await open('manager');
  await typeDay('From', '2026-04-01');
  await screen.findByRole('heading', { name: 'Taken out in these days' });
  await waitFor(() => {
    expect(
      asked
        .filter((a) => a.name === 'listWaste')
        .at(-1)!
        .url.searchParams.get('from'),
    ).toBe('2026-04-01');
  });
});

test('litres collected go in as millilitres, with the paper; more than there is is refused in words', async () => {
  let refuse = true;
  const asked = await open('stores', {
    takeWasteAway: () => (refuse ? refusal(409, 'Only 25.2 L of used oil stand there.') : DONE),
  });
  const write = screen.getByRole<HTMLButtonElement>('button', { name: 'Write it down' });
  await user.type(screen.getByLabelText('Litres'), '20,5');
  expect(write.disabled).toBe(true);
  await user.type(screen.getByLabelText('By whom, which paper'), 'Quay Waste, note 114');
  await user.click(write);
  expect((await screen.findByRole('alert')).textContent).toBe('Only 25.2 L of used oil stand there.');
  expect(screen.getByLabelText<HTMLInputElement>('Litres').value).toBe('20,5');
  refuse = false;
  await user.click(write);
  expect(await screen.findByText('Written down: collected.')).toBeTruthy();
  expect(asked.filter((a) => a.name === 'takeWasteAway').at(-1)!.body).toEqual({
    baseId: 1,
    stream: 'used oil',
    quantity: 20_500,
    note: 'Quay Waste, note 114',
  });
  // Filters are counted, not measured.
  await user.selectOptions(screen.getByLabelText('Stream'), 'filters');
  expect(screen.getByLabelText('Pieces')).toBeTruthy();
});
