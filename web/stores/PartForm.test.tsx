import { afterEach, expect, jest, test } from '@jest/globals';
import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, page, refusal, signedIn } from '../test/page.tsx';
import { PartForm } from './PartForm.tsx';

afterEach(cleanup);
const models = { listModels: [] };

test('a part without a number is told at its field, nothing is sent; put right, it is sent by the contract', async () => {
  const asked = answer({ ...signedIn('stores'), ...models, addPart: { id: 7, version: 1 } });
  const close = jest.fn();
  await page(<PartForm onClose={close} />);
  const user = userEvent.setup();
  await user.type(screen.getByLabelText(/^What it is/), 'Oil filter');
  await user.click(screen.getByRole('button', { name: 'Add the part' }));
  expect(await screen.findByText(/is missing/)).toBeTruthy();
  expect(asked.filter((a) => a.name === 'addPart')).toEqual([]);
  await user.type(screen.getByLabelText(/^Part number/), 'F-9');
  await user.click(screen.getByRole('button', { name: 'Add the part' }));
  await waitFor(() => {
    expect(close).toHaveBeenCalled();
  });
  expect(asked.find((a) => a.name === 'addPart')!.body).toEqual({
    number: 'F-9',
    containers: [],
    contents: [],
    links: [],
    shelfLifeMonths: null,
    name: 'Oil filter',
    kind: 'oil filter',
    unit: 'each',
    make: null,
    priceMinor: null,
    fitments: [],
  });
});

test('what the book refuses stands in the form, and what was typed stays', async () => {
  answer({
    ...signedIn('stores'),
    ...models,
    addPart: () => refusal(409, 'F-9 is on the shelf list already. Open it instead.'),
  });
  const close = jest.fn();
  await page(<PartForm onClose={close} />);
  const user = userEvent.setup();
  await user.type(screen.getByLabelText(/^Part number/), 'F-9');
  await user.type(screen.getByLabelText(/^What it is/), 'Oil filter');
  await user.click(screen.getByRole('button', { name: 'Add the part' }));
  expect(await screen.findByText(/on the shelf list already/)).toBeTruthy();
  expect(close).not.toHaveBeenCalled();
  expect(screen.getByLabelText<HTMLInputElement>(/^Part number/).value).toBe('F-9');
});
