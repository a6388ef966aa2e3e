import { afterEach, beforeEach, expect, test } from '@jest/globals';
import type { HoursRow } from '@diurna/contract/usage';
import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, page, refusal, signedIn, type Asked } from '../test/page.tsx';
import { Hours } from './Hours.tsx';

beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);
const user = userEvent.setup();
const row = (engineId: number, boatName: string, more: Partial<HoursRow> = {}): HoursRow => ({
  engineId,
  boatId: engineId,
  boatName,
  baseId: 1,
  position: 'single',
  modelName: 'Corvane 60',
  meterId: engineId,
  meterOffset: 0,
  lastCount: 400,
  lastDay: '2026-04-10',
  daysSince: 5,
  recent: [
    { day: '2026-04-03', hours: 388 },
    { day: '2026-04-10', hours: 400 },
  ],
  ...more,
});
const rows = [row(11, 'Plover'), row(12, 'Razorbill')];
const open = async (more: Parameters<typeof answer>[0] = {}, role: Parameters<typeof signedIn>[0] = 'dock') => {
  const asked = answer({
    ...signedIn(role),
    hoursSheet: ({ url }: Asked) => ({
      rows: url.searchParams.get('wanted') === 'yes' ? [] : rows,
      total: 2,
      page: 1,
      size: 100,
    }),
    ...more,
  });
  await page(<Hours />);
  await screen.findByText('Plover');
  return asked;
};
const field = (name: RegExp) => screen.getByRole<HTMLInputElement>('textbox', { name });

test('figures of many engines go in one go; what was there already is told', async () => {
  const asked = await open({ typeHours: { saved: 1, unchanged: 1 } });
  await user.type(field(/Plover/), '409,5');
  await user.type(field(/Razorbill/), '400');
  await user.click(screen.getByRole('button', { name: 'Write 2 figures into the book' }));
  expect(await screen.findByText('1 figure in the book, 1 were there already.')).toBeTruthy();
  expect(asked.find((a) => a.name === 'typeHours')!.body).toEqual({
    readings: [
      { engineId: 11, count: 409.5 },
      { engineId: 12, count: 400 },
    ],
  });
  expect(field(/Plover/).value).toBe('');
});

test('a figure that runs backwards wants a second look before any of them is written', async () => {
  const asked = await open({ typeHours: { saved: 2, unchanged: 0 } });
  await user.type(field(/Plover/), '409');
  await user.type(field(/Razorbill/), '40');
  expect(screen.getByText('1 figure wants a second look first.')).toBeTruthy();
  const write = screen.getByRole<HTMLButtonElement>('button', { name: /^Write/ });
  expect(write.disabled).toBe(true);
  await user.type(field(/Razorbill.*right|right.*Razorbill|because.*Razorbill/), 'new meter, fitted in spring');
  await user.click(write);
  await waitFor(() => {
    expect(asked.find((a) => a.name === 'typeHours')?.body).toEqual({
      readings: [
        { engineId: 11, count: 409 },
        { engineId: 12, count: 40, confirm: 'new meter, fitted in spring' },
      ],
    });
  });
});

test('what was typed survives leaving the page and a refusal', async () => {
  await open({ typeHours: () => refusal(503, 'The database does not answer.') });
  await user.type(field(/Plover/), '409');
  await user.click(screen.getByRole('button', { name: 'Write 1 figure into the book' }));
  expect(await screen.findByText('The database does not answer.')).toBeTruthy();
  cleanup();
  await open();
  expect(field(/Plover/).value).toBe('409');
});

test('only engines whose hours are wanted; none means every meter was read', async () => {
  await open();
  await user.selectOptions(screen.getByLabelText('Show'), 'Hours wanted: not read for a week');
  expect(await screen.findByText('No hours are wanted here.')).toBeTruthy();
});

test('stores reads the sheet and writes nothing', async () => {
  await open({}, 'stores');
  expect(screen.queryByRole('button', { name: /^Write/ })).toBeNull();
});
