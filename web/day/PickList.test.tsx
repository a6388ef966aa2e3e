import { afterEach, beforeEach, expect, test } from '@jest/globals';
import type { DayReply } from '@diurna/contract/day';
import { cleanup, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, page, signedIn } from '../test/page.tsx';
import { dayOf } from '../test/day.ts';
import { PickList } from './PickList.tsx';

beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);
const user = userEvent.setup();
const line = (partId: number, number: string, place: string, quantity: number, onHand: number) => ({
  ...{ partId, number, name: `Part ${number}`, unit: 'each' as const, place, quantity, onHand },
  ...{ open: [], sizes: [], instead: [], tasks: [] },
});
const kits: DayReply['kits'] = [
  {
    ...{ jobId: 4, boatName: 'Tern', baseId: 1, baseName: 'North Quay', technician: 'Ines', start: 480, unknown: [] },
    lines: [
      line(7, 'F1', 'A10', 1, 3),
      {
        ...line(8, 'P1', 'A2', 4, 1),
        instead: [{ partId: 9, number: 'P0', name: 'Old', onHand: 4, place: 'A3', why: 'older number: x (y)' }],
      },
    ],
  },
];
const open = async () => {
  answer({
    ...signedIn('stores'),
    readDay: dayOf({ kits }),
    readPart: { onHand: [{ baseId: 2, quantity: 5 }] } as never,
  });
  await page(<PickList />, { path: '/stores/picks', at: '/stores/picks?base=1' });
  await screen.findByText('2 of 2 to pick.');
};

test('walked along the shelves; ticked or scanned, and kept over a reload; what is not on it is said', async () => {
  await open();
  const lines = within(screen.getByRole('list', { name: 'To pick' })).getAllByRole('checkbox');
  expect(lines[0]!.closest('li')!.textContent).toMatch(/A2.*4 ×.*P1/);
  await user.click(lines[0]!);
  expect(screen.getByText('1 of 2 to pick.')).toBeTruthy();
  const scan = screen.getByLabelText('In the hand: scan or number');
  await user.type(scan, 'X9{Enter}');
  expect(screen.getByRole('alert').textContent).toBe('X9 is not on the list: put it back.');
  await user.type(scan, 'http://quay/stores/parts/7{Enter}');
  expect(screen.getByText('All of it is picked.')).toBeTruthy();
  cleanup();
  answer({ ...signedIn('stores'), readDay: dayOf({ kits }), readPart: { onHand: [] } as never });
  await page(<PickList />, { path: '/stores/picks', at: '/stores/picks?base=1' });
  expect(await screen.findByText('All of it is picked.')).toBeTruthy();
});

test('what is short says what can be done: another number, another base, an order, or the card', async () => {
  await open();
  const short = screen.getByRole('list', { name: 'P1 is short' });
  expect(short.textContent).toContain('Lacks 3.');
  expect(short.textContent).toContain('Take P0: 4 on the shelf at A3 older number: x (y)');
  expect((await within(short).findByRole('link', { name: 'Order it' })).getAttribute('href')).toBe(
    '/stores/orders?base=1',
  );
  expect(within(short).getByRole('link', { name: 'Tern' }).getAttribute('href')).toBe('/jobs/4');
});
