import { afterEach, expect, test } from '@jest/globals';
import type { Override, RulePreview } from '@diurna/contract/rules';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, page, signedIn } from '../test/page.tsx';
import { OwnRules } from './OwnRules.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const own: Override = {
  id: 3,
  version: 2,
  scope: 'boat',
  scopeId: 1,
  scopeName: 'Plover',
  task: 'impeller',
  everyHours: 50,
  everyMonths: 12,
  reason: 'Works the sandbanks',
  by: 'Ilse Brandt',
  at: '2026-04-01T08:00:00Z',
};
const year = (services: number) => ({ services, minutes: services * 45, partsMinor: services * 2500 });
const preview = {
  engines: 2,
  moved: 2,
  earlier: 0,
  later: 2,
  newlyOver: 0,
  otherParts: 0,
  issued: 0,
  noLongerOver: 1,
  unpriced: 0,
  lastYear: { before: year(6), after: year(3) },
  comingYear: { before: year(8), after: year(4) },
  examples: [],
} as RulePreview;
const open = async (role: Parameters<typeof signedIn>[0], more: Parameters<typeof answer>[0] = {}) => {
  const asked = answer({
    ...signedIn(role),
    listOverrides: [own],
    previewRules: preview,
    listBoats: { rows: [], total: 0, page: 1, size: 20 },
    ...more,
  });
  await page(<OwnRules />);
  await screen.findByText('Works the sandbanks');
  return asked;
};

test('a rule of one’s own with its reason and who gave it', async () => {
  await open('technician');
  expect(screen.getByText('Works the sandbanks').closest('tr')!.textContent).toMatch(/Plover boat.*Impeller.*50.*Ilse/);
  expect(screen.queryByRole('button')).toBeNull();
});

test('before it is ended, what that would do to the fleet; then it is ended as it was read', async () => {
  const asked = await open('coordinator', { endOverride: { id: 3, version: 3 } });
  await user.click(screen.getByRole('button', { name: 'end it: the rule of Plover for impeller' }));
  expect((await screen.findByText(/2 due dates/)).parentElement!.textContent).toBe(
    '2 engines touched. 2 due dates move: 0 earlier, 2 later. 1 task would be over no more.',
  );
  expect(screen.getByRole('rowheader', { name: 'A year ahead' }).parentElement!.textContent).toMatch(/8 → 4/);
  expect(asked.find((a) => a.name === 'previewRules')!.body).toEqual({ endOverride: 3 });
  expect(asked.some((a) => a.name === 'endOverride')).toBe(false);
  await user.click(screen.getByRole('button', { name: 'End it' }));
  expect(await screen.findByText('Plover follows the fleet’s rule for impeller again.')).toBeTruthy();
  expect(asked.find((a) => a.name === 'endOverride')!.body).toEqual({ version: 2 });
});

test('a new one for a base: it wants an interval and a reason, is looked at first, then kept', async () => {
  const asked = await open('coordinator', { addOverride: { id: 4, version: 1 } });
  await user.selectOptions(screen.getByLabelText('For a'), 'base');
  await within(await screen.findByLabelText('Base')).findByRole('option', { name: 'North Quay' });
  await user.selectOptions(screen.getByLabelText('Base'), 'North Quay');
  await user.selectOptions(screen.getByLabelText('Task'), 'Anodes');
  const look = screen.getByRole<HTMLButtonElement>('button', { name: 'Work it out' });
  expect(look.disabled).toBe(true);
  await user.type(screen.getByLabelText(/^Every, months/), '3');
  await user.type(screen.getByLabelText(/^Because/), 'Stray current at the quay');
  await user.click(look);
  expect(await screen.findByText(/2 due dates/)).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Set it' }));
  await waitFor(() => {
    expect(asked.find((a) => a.name === 'addOverride')?.body).toEqual({
      scope: 'base',
      scopeId: 1,
      task: 'anodes',
      everyHours: null,
      everyMonths: 3,
      reason: 'Stray current at the quay',
    });
  });
});
