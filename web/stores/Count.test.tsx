import { afterEach, expect, test } from '@jest/globals';
import type { CountLine } from '@diurna/contract/counts';
import { cleanup, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, page, refusal, signedIn } from '../test/page.tsx';
import { Count } from './Count.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const line = (id: number, number: string, said: number): CountLine => ({
  ...{ id, number, name: `Part ${number}`, unit: 'each', place: `A${id}`, said, counted: '2026-04-01' },
  since: { received: 4, used: -6, moved: 0, writtenOff: 0 },
});
const open = async (more: Parameters<typeof answer>[0] = {}) => {
  const asked = answer({ ...signedIn('stores'), countSheet: [line(1, 'F1', 10), line(2, 'F2', 3)], ...more });
  await page(<Count />, { path: '/stores/count', at: '/stores/count?base=1&shelf=A' });
  await screen.findByText('F1');
  return asked;
};
const type = (number: string, text: string) => user.type(screen.getByLabelText(`Is there: ${number}`), text);
const book = () => screen.getByRole<HTMLButtonElement>('button', { name: /^Book/ });

test('what is off is explained by the ledger; a large difference is counted twice before it is booked', async () => {
  const asked = await open({ countShelf: { booked: 2, right: 1 } });
  expect(book().disabled).toBe(true);
  await type('F1', '4');
  await type('F2', '3');
  expect(screen.getByText('F1').closest('tr')!.textContent).toMatch(
    /−6.*Counted on 1 Apr 2026; since then 4 received, 6 used\./,
  );
  expect(screen.getByText('right')).toBeTruthy();
  expect(screen.getByRole('status').textContent).toBe('1 part to count a second time.');
  expect(book().disabled).toBe(true);
  await user.click(screen.getByRole('checkbox', { name: 'counted a second time' }));
  await user.click(book());
  expect(asked.at(-2)!.body).toEqual({
    baseId: 1,
    lines: [
      { partId: 1, counted: 4, said: 10, again: true },
      { partId: 2, counted: 3, said: 3, again: false },
    ],
  });
  expect(await screen.findByText('2 parts counted: 1 set right.')).toBeTruthy();
});

test('blind: what should be there is not seen; a refusal stands at its line, and what was typed stays', async () => {
  await open({
    countShelf: () =>
      refusal(409, 'F2 changed.', { faults: [{ path: 'lines.0.counted', text: 'F2: count it again.' }] }),
  });
  await user.click(screen.getByRole('checkbox', { name: 'without seeing what should be there' }));
  expect(screen.queryByText('Should be')).toBeNull();
  await type('F2', '2');
  expect(screen.getByText('F2').closest('tr')!.textContent).not.toContain('−1');
  await user.click(book());
  expect(await screen.findByText('F2: count it again.')).toBeTruthy();
  expect(screen.getByLabelText<HTMLInputElement>('Is there: F2').value).toBe('2');
});
