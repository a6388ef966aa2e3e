import { afterEach, expect, test } from '@jest/globals';
import type { Gateway } from '@diurna/contract/gateway';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, page, refusal, signedIn } from '../test/page.tsx';
import { Boxes } from './Boxes.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const box: Gateway = {
  id: 4,
  version: 2,
  name: 'Box 1',
  boatId: 1,
  boatName: 'Razorbill',
  active: true,
  heardAt: '2026-04-15T09:55:00Z',
  tally: { taken: 120, repeated: 3, late: 2, refused: 1, other: 40 },
  clockOff: true,
  engines: [{ engineId: 11, engineName: 'Razorbill', hours: 412.3, at: '2026-04-15T09:55:00Z' }],
};
const open = async (role: Parameters<typeof signedIn>[0], more: Parameters<typeof answer>[0] = {}) => {
  const asked = answer({ ...signedIn(role), listGateways: [box], ...more });
  await page(<Boxes />);
  await screen.findByText('Box 1');
  return asked;
};

test('what was heard of a box, that its clock is wrong, and why a message was refused', async () => {
  await open('technician', {
    listRefusals: [{ at: '2026-04-15T08:00:00Z', text: '{"n2k":"x"}', why: 'The hours run backwards.' }],
  });
  expect(screen.getByText('Box 1').closest('tr')!.textContent).toMatch(/412\.3 h.*its clock is wrong.*120.*5.*1/);
  await user.click(screen.getByRole('button', { name: /1 refused of Box 1/ }));
  expect(await screen.findByText('The hours run backwards.')).toBeTruthy();
  expect(screen.queryByRole('button', { name: 'Add a box' })).toBeNull();
});

test('a new key is shown this once, with where it is sent; the old one is told to be void', async () => {
  const asked = await open('administrator', { renewGatewayKey: { id: 4, version: 3, key: 'k-secret' } });
  await user.click(screen.getByRole('button', { name: 'Edit Box 1' }));
  const sheet = within(await screen.findByRole('dialog'));
  expect(sheet.getByText('The old key is void at once.')).toBeTruthy();
  await user.click(sheet.getByRole('button', { name: 'Give it a new key' }));
  expect(await screen.findByText('k-secret')).toBeTruthy();
  expect(asked.find((a) => a.name === 'renewGatewayKey')!.body).toEqual({ version: 2 });
  await user.click(screen.getByRole('button', { name: 'It is copied' }));
  await waitFor(() => {
    expect(screen.queryByText('k-secret')).toBeNull();
  });
});

test('a box wants its boat; what the book refuses stays in the form', async () => {
  const asked = await open('administrator', {
    listBoats: { rows: [], total: 0, page: 1, size: 20 },
    search: [],
    editGateway: () => refusal(409, 'Somebody else changed this box.'),
  });
  await user.click(screen.getByRole('button', { name: 'Add a box' }));
  const sheet = within(await screen.findByRole('dialog'));
  await user.type(sheet.getByLabelText(/^Name/), 'Box 2');
  await user.click(sheet.getByRole('button', { name: 'Add the box' }));
  expect(await sheet.findByText('Choose a boat')).toBeTruthy();
  expect(asked.some((a) => a.name === 'addGateway')).toBe(false);
  cleanup();
  await page(<Boxes />);
  await user.click(await screen.findByRole('button', { name: 'Edit Box 1' }));
  const edit = within(await screen.findByRole('dialog'));
  await user.click(edit.getByRole('button', { name: 'Keep the changes' }));
  expect((await edit.findByRole('alert')).textContent).toBe('Somebody else changed this box.');
});

test('a yard without boxes is told who adds one', async () => {
  answer({ ...signedIn('technician'), listGateways: [] });
  await page(<Boxes />);
  expect(await screen.findByText(/An administrator can add one/)).toBeTruthy();
});
