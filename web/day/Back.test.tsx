import { afterEach, beforeEach, expect, test } from '@jest/globals';
import type { Hire } from '@diurna/contract/hires';
import type { HoursRow } from '@diurna/contract/usage';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, page, refusal, signedIn } from '../test/page.tsx';
import { Back } from './Back.tsx';

beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);
const user = userEvent.setup();
const hire = (id: number, boatId: number, boatName: string, more: Partial<Hire> = {}): Hire => ({
  id,
  version: 1,
  boatId,
  boatName,
  baseId: 1,
  out: '2026-04-15T08:00:00Z',
  back: '2026-04-15T16:00:00Z',
  outDay: '2026-04-15',
  outTime: '09:00',
  backDay: '2026-04-15',
  backTime: '17:00',
  madeAt: null,
  reference: null,
  givenFrom: null,
  source: null,
  fromFeed: false,
  cancelled: false,
  letGo: null,
  held: [],
  runIn: [],
  ...more,
});
const row = (engineId: number, boatId: number, position: HoursRow['position']): HoursRow => ({
  engineId,
  boatId,
  boatName: 'Plover',
  baseId: 1,
  position,
  modelName: 'Corvane 60',
  meterId: engineId,
  meterOffset: 0,
  lastCount: 400,
  lastDay: '2026-04-14',
  daysSince: 1,
  recent: [{ day: '2026-04-14', hours: 400 }],
});
const HIRES = [
  hire(1, 1, 'Plover', {
    backTime: '16:00',
    runIn: ['The engine is new: 4 h of the next eight hours left. Usual running and trim.'],
  }),
  hire(2, 2, 'Razorbill', { held: ['The gear lube came out milky.'] }),
  hire(3, 3, 'Dunlin', { outDay: '2026-04-16', backDay: '2026-04-18' }),
];
const open = async (more: Parameters<typeof answer>[0] = {}, role: Parameters<typeof signedIn>[0] = 'dock') => {
  const asked = answer({
    ...signedIn(role),
    listHires: { rows: HIRES, total: 3, page: 1, size: 200 },
    hoursSheet: { rows: [row(11, 1, 'port'), row(12, 1, 'starboard')], total: 2, page: 1, size: 200 },
    listBoats: { rows: [], total: 0, page: 1, size: 20 },
    ...more,
  });
  await page(<Back />);
  await screen.findByRole('heading', { name: 'Coming back' });
  return asked;
};

test('boats that come back today in the order they come, with whose hours are wanted', async () => {
  await open();
  const boats = screen.getAllByRole('button', { expanded: false }).map((b) => b.textContent);
  expect(boats).toEqual(['16:00Ploverhours wanted', '17:00Razorbill✓ hours in']);
  expect(screen.getByText('2 boats today, hours wanted of 1')).toBeTruthy();
});

test('a tap opens a boat, a figure for each engine, a tap writes them', async () => {
  const asked = await open({ typeHours: { saved: 2, unchanged: 0 } });
  await user.click(screen.getByRole('button', { name: /Plover.*wanted/ }));
  await user.type(await screen.findByLabelText(/^port/), '406.2');
  const write = screen.getByRole<HTMLButtonElement>('button', { name: 'Write it down' });
  await user.type(screen.getByLabelText(/^starboard/), '399');
  // It runs backwards: a reason is wanted first.
  expect(write.disabled).toBe(true);
  await user.type(screen.getByLabelText('Why is it right, starboard'), 'yesterday was misread');
  await user.click(write);
  expect(await screen.findByText('Hours of Plover are in the book.')).toBeTruthy();
  expect(asked.find((a) => a.name === 'typeHours')!.body).toEqual({
    readings: [
      { engineId: 11, count: 406.2 },
      { engineId: 12, count: 399, confirm: 'yesterday was misread' },
    ],
  });
});

test('a boat that may go is let go by a tap; a held one stays, with its reason', async () => {
  const asked = await open({ letGo: { id: 1, version: 2 } });
  const out = within(screen.getByRole('list', { name: 'Going out' }));
  expect(out.getByText(/The gear lube came out milky\. It stays until a coordinator lets it go\./)).toBeTruthy();
  expect(out.queryByRole('button', { name: 'It goes out: Razorbill' })).toBeNull();
  // An engine that is run in is told of, with how, and the usual caution.
  expect(out.getByText(/The engine is new: 4 h .*Kill-switch lanyard on whoever steers/)).toBeTruthy();
  // The one of tomorrow is not on today's list.
  expect(out.queryByText('Dunlin')).toBeNull();
  await user.click(out.getByRole('button', { name: 'It goes out: Plover' }));
  expect(await screen.findByText('Plover is out.')).toBeTruthy();
  expect(asked.find((a) => a.name === 'letGo')).toMatchObject({
    url: { pathname: '/api/hires/1/let-go' },
    body: { version: 1 },
  });
});

test('held meanwhile: the refusal is shown, the boat is not told to be out', async () => {
  await open({ letGo: () => refusal(409, 'The port engine was held a minute ago: no water from the tell-tale.') });
  await user.click(screen.getByRole('button', { name: 'It goes out: Plover' }));
  expect((await screen.findByRole('alert')).textContent).toMatch(/was held a minute ago/);
  expect(screen.queryByText('Plover is out.')).toBeNull();
});

test('something wrong goes by the same boat, and back to the hours', async () => {
  await open();
  await user.click(screen.getByRole('button', { name: /Plover.*wanted/ }));
  await user.click(await screen.findByRole('button', { name: 'Something is wrong' }));
  expect(await screen.findByRole('button', { name: 'Report it' })).toBeTruthy();
  expect(screen.getByLabelText('Which engine')).toBeTruthy();
});

test('no boat back today says where to go; a manager reads only', async () => {
  answer({
    ...signedIn('manager'),
    listHires: { rows: [], total: 0, page: 1, size: 200 },
    hoursSheet: { rows: [], total: 0, page: 1, size: 200 },
    listBoats: { rows: [], total: 0, page: 1, size: 20 },
  });
  await page(<Back />);
  expect(await screen.findByText('No boat comes back today.')).toBeTruthy();
  cleanup();
  await open({}, 'manager');
  expect(screen.queryByRole('button', { name: /^It goes out/ })).toBeNull();
  await user.click(screen.getByRole('button', { name: /Plover.*wanted/ }));
  await waitFor(() => {
    expect(screen.getByLabelText<HTMLInputElement>(/^port/).disabled).toBe(true);
  });
});
