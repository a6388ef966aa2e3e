import { afterEach, beforeEach, expect, test } from '@jest/globals';
import type { Hire } from '@diurna/contract/hires';
import type { HoursRow } from '@diurna/contract/usage';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import 'fake-indexeddb/auto';
import { store } from '../app/store.ts';
import { allRefused, allWaiting, putAway, takeBack } from '../outbox/outbox.ts';
import { filled } from '../outbox/outbox-state.ts';
import { answer, page, refusal, signedIn } from '../test/page.tsx';
import { Back } from './Back.tsx';

beforeEach(async () => {
  localStorage.clear();
  for (const w of await allWaiting()) await takeBack(w.order!);
  for (const r of await allRefused()) await putAway(r.id);
  store.dispatch(filled({ waiting: [], refused: [] }));
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
  cameBack: null,
  held: [],
  runIn: [],
  underWay: [],
  notReady: null,
  snags: [],
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
  await screen.findByRole('button', { name: /Plover.*hours/ });
  return asked;
};

test('boats that come back today in the order they come, with whose hours are wanted', async () => {
  await open();
  const boats = screen.getAllByRole('button', { expanded: false }).map((b) => b.textContent);
  expect(boats).toEqual(['16:00Ploverhours wanted', '17:00Razorbill✓ hours in']);
  expect(screen.getByText('2 boats today, hours wanted of 1')).toBeTruthy();
});

test('a tap opens a boat, a figure for each engine, a tap writes them', async () => {
  const asked = await open({ typeHours: { saved: 2, unchanged: 0 }, comeBack: { id: 1, version: 2, clash: null } });
  await user.click(screen.getByRole('button', { name: /Plover.*wanted/ }));
  await user.type(await screen.findByLabelText(/^port/), '406.2');
  const write = screen.getByRole<HTMLButtonElement>('button', { name: 'Write it down' });
  await user.type(screen.getByLabelText(/^starboard/), '399');
  // It runs backwards: a reason is wanted first.
  expect(write.disabled).toBe(true);
  await user.type(screen.getByLabelText('Why is it right, starboard'), 'yesterday was misread');
  await user.click(write);
  expect(await screen.findByText('Hours of Plover are written down.')).toBeTruthy();
  await waitFor(() => {
    expect(asked.some((a) => a.name === 'comeBack')).toBe(true);
  });
  expect(asked.find((a) => a.name === 'typeHours')!.body).toEqual({
    day: '2026-04-15',
    readings: [
      { engineId: 11, count: 406.2 },
      { engineId: 12, count: 399, confirm: 'yesterday was misread' },
    ],
  });
});

test('a boat that is not brought out of its lay-up stays; whoever plans lets it go with a reason', async () => {
  const notReady = 'It was put away and is not brought out yet: first run of the year.';
  const rows = [hire(1, 1, 'Plover', { notReady })];
  const more = { listHires: { rows, total: 1, page: 1, size: 200 } };
  await open(more);
  const list = () => within(screen.getByRole('list', { name: 'Going out' }));
  expect(list().getByText('not brought out')).toBeTruthy();
  expect(list().getByText(/first run of the year\. It goes out once that is done/)).toBeTruthy();
  expect(list().queryByRole('button')).toBeNull();
  cleanup();
  const asked = await open({ ...more, letGo: { id: 1, version: 2, clash: null } }, 'coordinator');
  await user.click(list().getByRole('button', { name: 'Let Plover go all the same' }));
  const sheet = within(await screen.findByRole('dialog'));
  await user.type(sheet.getByLabelText(/^Why/), 'run on the river');
  await user.click(sheet.getByRole('button', { name: 'Let it go' }));
  await waitFor(() => {
    expect(asked.find((a) => a.name === 'letGo')?.body).toEqual({ boatId: 1, out: true, reason: 'run on the river' });
  });
});

test('a boat that may go is let go by a tap; a held one stays, with its reason', async () => {
  let letGo: Hire['letGo'] = null;
  const asked = await open({
    letGo: ({ body }) => {
      const { out, at } = body as { out: boolean; at: string };
      letGo = out ? { at, by: 'Bram' } : null;
      return { id: 1, version: 2, clash: null };
    },
    listHires: () => ({ rows: [{ ...HIRES[0]!, letGo }, ...HIRES.slice(1)], total: 3, page: 1, size: 200 }),
  });
  const out = within(screen.getByRole('list', { name: 'Going out' }));
  expect(out.getByText(/The gear lube came out milky\. It stays until a coordinator lets it go\./)).toBeTruthy();
  expect(out.queryByRole('button', { name: 'It goes out: Razorbill' })).toBeNull();
  // An engine that is run in is told of, with how, and the usual caution.
  expect(out.getByText(/The engine is new: 4 h .*Kill-switch lanyard on whoever steers/)).toBeTruthy();
  // The one of tomorrow is not on today's list.
  expect(out.queryByText('Dunlin')).toBeNull();
  await user.click(out.getByRole('button', { name: 'It goes out: Plover' }));
  expect(await out.findByText(/^✓ out 1\d:\d\d$/)).toBeTruthy();
  await waitFor(() => {
    expect(asked.find((a) => a.name === 'letGo')).toMatchObject({
      url: { pathname: '/api/hires/1/let-go' },
      body: { boatId: 1, out: true, at: expect.any(String) },
    });
  });
  // Tapped wrongly: it is here after all.
  await waitFor(() => {
    expect(out.queryByText('kept on this phone')).toBeNull();
  });
  await user.click(out.getByRole('button', { name: 'It is still here: Plover' }));
  await waitFor(() => {
    expect(asked.filter((a) => a.name === 'letGo').at(-1)).toMatchObject({ body: { out: false } });
  });
  expect(await out.findByRole('button', { name: 'It goes out: Plover' })).toBeTruthy();
});

test('without signal it is kept here and can be taken back; nothing turns the page for ever', async () => {
  const asked = await open({ letGo: () => refusal(503, 'no signal'), typeHours: () => refusal(503, 'no signal') });
  const out = within(screen.getByRole('list', { name: 'Going out' }));
  const goes = out.getByRole('button', { name: 'It goes out: Plover' });
  await user.click(goes);
  expect(await out.findByText('kept on this phone')).toBeTruthy();
  // By keyboard one stays on it.
  expect(document.activeElement).toBe(goes);
  expect(await allWaiting()).toMatchObject([{ jobId: null, personId: 3, dock: { kind: 'out', hireId: 1, out: true } }]);
  await user.click(out.getByRole('button', { name: 'It is still here: Plover' }));
  expect(await out.findByRole('button', { name: 'It goes out: Plover' })).toBeTruthy();
  // What was never sent needs no taking back.
  expect([await allWaiting(), asked.some((a) => (a.body as { out?: boolean } | undefined)?.out === false)]).toEqual([
    [],
    false,
  ]);
  await user.click(screen.getByRole('button', { name: /Plover.*wanted/ }));
  await user.type(await screen.findByLabelText(/^port/), '406.2');
  await user.type(screen.getByLabelText(/^starboard/), '406');
  await user.click(screen.getByRole('button', { name: 'Write it down' }));
  expect(await screen.findByRole('button', { name: /Plover.*back 1.*hours kept on this phone/ })).toBeTruthy();
  expect((await allWaiting()).map((w) => w.dock!.kind)).toEqual(['hours', 'back']);
});

test('a list that never came says so', async () => {
  answer({ ...signedIn('dock'), listHires: () => refusal(503, 'The book is away.') });
  await page(<Back />);
  expect((await screen.findByRole('alert')).textContent).toMatch(/The book is away/);
  expect(screen.queryByText(/Turning the page/)).toBeNull();
});

test('what is going on with a boat is told before it goes', async () => {
  await open({
    listHires: {
      rows: [
        hire(1, 1, 'Plover', {
          underWay: ['3 of 16 steps done: Ines Okoye works on it, until about 10:40.'],
          snags: ['port: starts badly'],
        }),
      ],
      total: 1,
      page: 1,
      size: 200,
    },
  });
  const out = within(screen.getByRole('list', { name: 'Going out' }));
  expect(out.getByText(/3 of 16 steps done/)).toBeTruthy();
  expect(out.getByText(/port: starts badly/)).toBeTruthy();
});

test('held meanwhile: the refusal is shown, the boat is not told to be out', async () => {
  await open({ letGo: () => refusal(409, 'The port engine was held a minute ago: no water from the tell-tale.') });
  await user.click(screen.getByRole('button', { name: 'It goes out: Plover' }));
  expect((await screen.findByRole('alert')).textContent).toMatch(/was held a minute ago/);
  expect(screen.queryByText(/✓ out/)).toBeNull();
  // Read, it is put away.
  const told = within(screen.getByRole('alert'));
  await user.click(told.getByRole('button', { name: 'throw it away' }));
  await user.click(told.getByRole('button', { name: 'yes, throw it away' }));
  await waitFor(() => {
    expect(screen.queryByRole('alert')).toBeNull();
  });
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
