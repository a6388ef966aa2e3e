import 'fake-indexeddb/auto';
import { beforeEach, describe, expect, test } from '@jest/globals';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { batteryRoutes } from '@diurna/contract/batteries';
import type { seasonRoutes, SeasonBoat } from '@diurna/contract/season';
import type { ReplyOf } from '@diurna/contract';
import { answer, DONE, page, refusal, signedIn } from '../test/page.tsx';
import { Batteries } from './Batteries.tsx';
import { Paper } from './Paper.tsx';
import { PutOff } from './PutOff.tsx';
import { Season } from './Season.tsx';
import { Shelf } from './Shelf.tsx';
import { Year } from './Year.tsx';

type Reply = ReplyOf<(typeof seasonRoutes)['readSeason']>;
const user = userEvent.setup();
beforeEach(cleanup);

const task = (name: SeasonBoat['visits'][number]['tasks'][number]['task'], more: object = {}) => ({
  ...{ engineId: 11, position: 'port' as const, task: name, because: 'because of frost', doneOn: null, job: null },
  ...more,
});
const tern: SeasonBoat = {
  ...{
    boatId: 1,
    boatName: 'Tern',
    berth: '4',
    version: 0,
    season: '2026',
    staysOut: false,
    placeId: null,
    tankLitres: 100,
    held: [],
  },
  ...{ lastOut: '2026-04-20', lastBack: '2026-04-25', firstOut: null, laidUpOn: null, readyOn: null, note: null },
  visits: [
    {
      ...{ visit: 'before', open: 1, done: 1, minutes: 62, freeMinutes: 62 },
      tasks: [task('engine-oil', { doneOn: '2026-04-12' }), task('stabiliser')],
    },
    { ...{ visit: 'after', open: 1, done: 0, minutes: 40, freeMinutes: 40 }, tasks: [task('gear-lube')] },
    { ...{ visit: 'spring', open: 0, done: 0, minutes: 0, freeMinutes: 0 }, tasks: [] },
  ],
  leftOut: [
    { engineId: 11, position: 'port', task: 'fogging', because: 'a four-stroke keeps its film of oil' },
    { engineId: 11, position: 'port', task: 'anodes', because: 'new in March' },
  ],
  changes: [{ engineId: 11, task: 'anodes', put: null, by: 'Ilse Maren', on: '2026-04-02' }],
  next: 'before',
  by: '2026-04-20',
};
const skua: SeasonBoat = {
  ...tern,
  boatId: 2,
  boatName: 'Skua',
  next: null,
  laidUpOn: '2026-04-10',
  visits: [],
  leftOut: [],
};
const NO_COSTS = { frostDay: null, waitDay: null, oldOil: null, notAtAll: null };
const reply: Reply = {
  baseId: 1,
  today: '2026-04-15',
  season: { closes: '04-30', opens: '10-01', lows: null, doseMlPerTen: null, ...NO_COSTS, version: 3, entered: true },
  off: { name: '2026', closes: '2026-04-30', opens: '2026-10-01', frost: '2026-05-20', putAwayBy: '2026-05-20' },
  phase: 'closing',
  boats: [tern, skua],
  layUp: {
    ...{ total: 2, done: 1, left: 1, by: '2026-05-20', needed: 0.2, reached: 0.5 },
    finish: { early: '2026-04-20', likely: '2026-06-01', late: '2026-07-01' },
    weeks: [
      { from: '2026-04-01', done: 0 },
      { from: '2026-04-08', done: 1 },
    ],
  },
  recommission: null,
  parts: [
    { partId: 5, number: 'LUBE', name: 'Gear lube', unit: 'mL', quantity: 1280, onHand: 1000, packs: '1 × 1 L bottle' },
    { partId: 6, number: 'F2', name: 'Filter', unit: 'each', quantity: 2, onHand: 3, packs: null },
  ],
  partsUnknown: 2,
  stabiliser: { ml: 285, withoutTank: 1, secondDoses: 2 },
  deferred: [
    {
      ...{ id: 9, boatId: 1, boatName: 'Tern', engineId: 11, position: 'port', task: 'impeller' },
      ...{ until: '2026-10-01', reason: 'Impeller in spring', by: 'Ilse', on: '2026-04-01', lapsed: false },
    },
  ],
  places: [{ id: 7, version: 1, name: 'Long hall', kind: 'hall', room: 1, boats: 0 }],
};
const open = async (what: React.ReactElement, more: Parameters<typeof answer>[0] = {}, of: Partial<Reply> = {}) => {
  const asked = answer({ ...signedIn('coordinator'), readSeason: { ...reply, ...of }, listPeople: [], ...more });
  await page(what);
  await screen.findByRole('heading', { name: 'Season' });
  return asked;
};

describe('the boats of a season', () => {
  test('each with what comes next, when it is wanted and on which card; the pace, and that it is too slow', async () => {
    await open(<Season />);
    const row = within((await screen.findByRole('button', { name: 'Tern' })).closest('tr')!);
    expect(row.getByText('before the last hire')).toBeTruthy();
    expect(row.getByText('goes out Mon 20 Apr')).toBeTruthy();
    expect(row.getByText('1 task on no card')).toBeTruthy();
    expect(screen.getByText('laid up since Fri 10 Apr')).toBeTruthy();
    const pace = screen.getByRole('region', { name: 'Lay-up' });
    expect(pace.textContent).toContain('1 of 2 done, 1 to go by Wed 20 May, before frost.');
    expect(within(pace).getByText(/At that pace it is over about 1 Jun 2026/)).toBeTruthy();
    expect(
      screen.getByRole('img', { name: /^From 30 Apr 2026 to 1 Oct 2026 boats stand\. Frost from 20 May 2026/ }),
    ).toBeTruthy();
  });
  test('found by name', async () => {
    await open(<Season />);
    await user.type(await screen.findByLabelText('Find a boat'), 'sku');
    expect(screen.queryByRole('button', { name: 'Tern' })).toBeNull();
    expect(screen.getByRole('button', { name: 'Skua' })).toBeTruthy();
  });
  test('a boat’s sheet tells why, what is left out, and its doses; a piece of work is put elsewhere with a reason', async () => {
    const asked = await open(<Season />, { changeSeason: DONE, editBoatSeason: { version: 1 } });
    await user.click(await screen.findByRole('button', { name: 'Tern' }));
    const sheet = within(await screen.findByRole('dialog'));
    expect(sheet.getByText('✓ Sun 12 Apr')).toBeTruthy();
    expect(sheet.getByText('a four-stroke keeps its film of oil')).toBeTruthy();
    // What a person decided says who and when.
    expect(sheet.getByText('new in March; Ilse Maren, Thu 2 Apr')).toBeTruthy();
    await user.type(sheet.getByLabelText('Fuel in it, at least (L)'), '5');
    await user.type(sheet.getByLabelText('at most (L)'), '10');
    await user.type(sheet.getByLabelText('First dose given (mL)'), '20');
    expect(sheet.getByText(/^20 mL treat 6\.7 L; up to 10 L may be in it/)).toBeTruthy();
    await user.click(sheet.getByRole('button', { name: 'Change Gear lube port' }));
    const change = within(await screen.findByRole('dialog', { name: 'Gear lube port' }));
    await user.selectOptions(change.getByLabelText('This season it'), 'in spring, at recommission');
    await user.type(change.getByLabelText('Why'), 'done in March');
    await user.click(change.getByRole('button', { name: 'Keep it so' }));
    await waitFor(() => {
      expect(asked.find((a) => a.name === 'changeSeason')?.body).toEqual({
        ...{ task: 'gear-lube', put: 'spring', reason: 'done in March', season: '2026' },
      });
    });
  });
  test('the next visits go out as cards, only what is on none', async () => {
    const asked = await open(<Season />, {
      listPeople: [
        { id: 3, version: 1, name: 'Ines Okoye', username: 'ines', role: 'technician', baseId: 1, active: true },
      ],
      lookAtSeveral: [{ minutes: 20, against: [] }],
    });
    await user.click(await screen.findByRole('button', { name: 'Hand out the next visits' }));
    const sheet = within(await screen.findByRole('dialog'));
    await user.click(await sheet.findByRole('checkbox', { name: /Tern/ }));
    await waitFor(() => {
      const body = asked.findLast((a) => a.name === 'lookAtSeveral')?.body as { cards: { tasks: unknown[] }[] };
      expect(body.cards[0]!.tasks).toEqual([{ engineId: 11, task: 'stabiliser' }]);
    });
    expect(sheet.queryByRole('checkbox', { name: /Skua/ })).toBeNull();
  });
  test('a base that never closes says so; who only reads hands nothing out', async () => {
    await open(<Season />, signedIn('manager'), { off: null, phase: null, boats: [], layUp: null });
    expect(await screen.findByText('This base never closes.')).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Hand out the next visits' })).toBeNull();
  });
});

describe('the round of the batteries', () => {
  const { baseId, today, season, off } = reply;
  const round: ReplyOf<(typeof batteryRoutes)['batteryRound']> = {
    ...{ baseId, today, season, off, charger: false },
    batteries: [
      {
        ...{ boatId: 2, boatName: 'Skua', place: 'Long hall', since: '2026-03-01', percent: 57, verdict: 'charge' },
        ...{ nextLook: '2026-04-08', overdueDays: 7 },
        looks: [{ day: '2026-03-11', volts: 12.2, celsius: null, restedHours: 24, kind: 'flooded', charged: true }],
      },
    ],
  };
  const open = async (more: object = {}) => {
    const asked = answer({
      ...signedIn('technician'),
      batteryRound: { ...round, ...more },
      addBatteryLook: { id: 4, percent: 55, verdict: 'replace' },
    });
    await page(<Batteries />);
    await screen.findByRole('heading', { name: 'Season' });
    return asked;
  };
  test('whose turn it is; a look is judged at once, cold and all, and sent', async () => {
    const asked = await open();
    const row = (await screen.findByText('Skua')).closest('tr')!;
    expect(row.textContent).toMatch(/Long hall.*12\.20 V.*57 %.*charge it.*7 days over/);
    await user.click(screen.getByRole('button', { name: 'Write down a look at Skua' }));
    const sheet = within(await screen.findByRole('dialog'));
    await user.type(sheet.getByLabelText('Volts, rested'), '12.25');
    await user.type(sheet.getByLabelText('Temperature (°C)'), '-4');
    await user.selectOptions(sheet.getByLabelText('Now'), 'put on charge');
    await user.click(sheet.getByRole('button', { name: 'Write it down' }));
    // Low again after it was charged.
    expect(await screen.findByText('Skua: 60 %, replace it: charged, and low again.')).toBeTruthy();
    await waitFor(() => {
      expect(asked.find((a) => a.name === 'addBatteryLook')!.body).toMatchObject({
        ...{ volts: 12.25, celsius: -4, charged: true },
      });
    });
  });
  test('the boat in front of one by name or label; one without a battery here is told', async () => {
    await open();
    const find = await screen.findByLabelText('Boat: scan or name');
    await user.type(find, 'Heron{Enter}');
    expect((await screen.findByRole('alert')).textContent).toBe('Heron has no battery in store here.');
    await user.type(find, 'https://book.example/fleet/boats/2{Enter}');
    expect(await screen.findByRole('dialog', { name: 'Battery of Skua' })).toBeTruthy();
  });
  test('where the yard leaves them on a charger, its lamp is enough', async () => {
    await open({ charger: true });
    expect(await screen.findByText(/They stay on a charger: look that its lamp is on/)).toBeTruthy();
  });
});

test('what it takes: short numbers first, with the containers they want; work without a known part is told', async () => {
  await open(<Shelf />, {
    planSeason: {
      ...{ baseId: 1, today: '2026-04-15', share: 50, by: '2026-05-28', finish: '2026-05-20', cost: 0, bound: 0 },
      ...{ overtimeMinutes: 0, undone: 0, room: null, weeks: [], visits: [], whatIfs: [] },
      parts: [
        {
          ...{ partId: reply.parts.find((p) => p.number === 'LUBE')!.partId, number: 'LUBE', name: 'Gear lube' },
          ...{ unit: 'mL', onHand: 1000 },
          weeks: [
            { from: '2026-04-15', quantity: 900, short: 0, packs: null },
            { from: '2026-04-22', quantity: 200, short: 100, packs: '1 × 1 L bottle' },
            { from: '2026-04-29', quantity: 180, short: 180, packs: null },
          ],
        },
      ],
    },
  });
  expect(await screen.findByText(/The weeks are those of the plan backwards/)).toBeTruthy();
  const rows = (await screen.findAllByRole('row')).slice(1);
  expect(rows.map((r) => within(r).getByRole('rowheader').textContent)).toEqual(['LUBE', 'F2']);
  expect(rows[0]!.textContent).toContain('280 mL1 × 1 L bottle');
  // What is left of the bottle serves the week after.
  expect(
    within(rows[0]!)
      .getAllByRole('listitem')
      .map((li) => li.textContent),
  ).toEqual(['week of Wed 22 Apr: 1 × 1 L bottle']);
  expect(rows[1]!.textContent).toContain('later');
  // On a phone each figure says what it is.
  expect(rows[0]!.querySelector('[data-head="Takes"]')).toBeTruthy();
  expect(screen.getByText(/without 1 boat whose tank nobody entered, and second doses for 2 boats\./)).toBeTruthy();
  expect(screen.getByText(/For 2 pieces of work no part is known to fit/)).toBeTruthy();
});

test('where the plan is refused, no week is made up: it is told', async () => {
  await open(<Shelf />, { planSeason: () => refusal(429, 'That was 120 plans within an hour.') });
  expect(await screen.findByText(/In which weeks cannot be said now\./)).toBeTruthy();
  expect(screen.getByRole('alert').textContent).toContain('120 plans');
  expect(screen.queryByText('later')).toBeNull();
});

test('work put off stands with its reason until it is done', async () => {
  await open(<PutOff />);
  const row = (await screen.findByText('Impeller in spring')).closest('tr')!;
  expect(row.textContent).toMatch(/Tern port.*Impeller.*1 Oct 2026.*Ilse/);
});

describe('on paper', () => {
  test('a sheet to tick; a card for the cover that says what has to be done before anybody starts it', async () => {
    const stands: SeasonBoat = {
      ...tern,
      boatName: 'Skua',
      boatId: 2,
      next: 'spring',
      laidUpOn: '2026-04-10',
      visits: [
        { ...tern.visits[0]!, open: 0, tasks: [task('stabiliser', { doneOn: '2026-04-08' })] },
        {
          ...tern.visits[1]!,
          open: 0,
          tasks: [task('battery', { doneOn: '2026-04-10' }), task('fogging', { doneOn: '2026-04-10' })],
        },
        { ...tern.visits[2]!, open: 1, tasks: [task('battery-check')] },
      ],
    };
    await open(<Paper />, {}, { boats: [tern, stands] });
    const sheet = await screen.findByRole('region', { name: 'Campaign sheet' });
    const row = within(sheet).getByRole('rowheader', { name: 'Tern' }).closest('tr')!;
    expect(row.textContent).toMatch(/Tern4.*20 Apr.*fuel stabiliser.*gear lube/);
    await user.click(screen.getByRole('button', { name: 'Cards for the covers' }));
    const card = within(await screen.findByRole('article', { name: 'Card of Skua' }));
    expect(card.getByText('Laid up 10 Apr 2026.', { exact: false })).toBeTruthy();
    expect(card.getAllByRole('listitem').map((li) => li.textContent)).toEqual([
      'The battery is out: charge and fit it, negative last.',
      'It is fogged: it smokes at first, and the plugs may foul.',
    ]);
    expect(card.getByText('Its fuel is treated and keeps until', { exact: false }).textContent).toContain('2028');
    expect(screen.getByRole('article', { name: 'Card of Tern' }).textContent).toContain('Not laid up yet.');
    await user.selectOptions(screen.getByLabelText('Boat'), 'Skua');
    expect(screen.queryByRole('article', { name: 'Card of Tern' })).toBeNull();
    expect(screen.getByRole('link', { name: 'As a file' }).getAttribute('href')).toBe('/api/season/file?baseId=1');
  });
});

describe('the year', () => {
  test('is kept with frost below nought; a day that is none is told at its field', async () => {
    const asked = await open(<Year />, { editBaseSeason: { version: 4 } });
    const closes = await screen.findByLabelText('Last day of the season');
    await user.clear(closes);
    await user.type(closes, '02-30');
    await user.click(screen.getByRole('button', { name: 'Keep the year' }));
    expect(await screen.findByText(/is no day of a year; write it as MM-DD/)).toBeTruthy();
    await user.clear(closes);
    await user.type(closes, '10-20');
    await user.click(screen.getByLabelText(/^Its coldest nights are known/));
    const january = screen.getByLabelText('Jan °C');
    await user.clear(january);
    await user.type(january, '-7');
    await user.type(screen.getByLabelText(/^A day in frost/), '40');
    await user.click(screen.getByRole('button', { name: 'Keep the year' }));
    expect(await screen.findByText('The year of the base is kept.')).toBeTruthy();
    const body = asked.find((a) => a.name === 'editBaseSeason')!.body as { closes: string; lows: number[] };
    expect(body).toMatchObject({ closes: '10-20', opens: '10-01', version: 3, frostDay: 40, waitDay: null });
    expect(body.lows).toEqual([-7, ...Array.from({ length: 11 }, () => 5)]);
  });
  test('where boats stand is drawn: berths taken and free, who has none, who stays out; a boat opens its sheet', async () => {
    await open(
      <Year />,
      {},
      { boats: [tern, { ...skua, placeId: 7 }, { ...skua, boatId: 3, boatName: 'Ruff', staysOut: true }] },
    );
    const shed = (name: string) => within(screen.getByRole('region', { name }));
    await screen.findByRole('region', { name: 'Long hall' });
    expect(shed('Long hall').getByRole('button', { name: 'Skua, put away' })).toBeTruthy();
    expect(shed('Long hall').getByText('hall, 1 of 1')).toBeTruthy();
    expect(shed('Long hall').queryByText(/free/)).toBeNull();
    expect(shed('No place yet').getByRole('button', { name: 'Tern, not put away yet' })).toBeTruthy();
    expect(shed('Stay out').getByText('Ruff')).toBeTruthy();
    await user.click(shed('No place yet').getByRole('button', { name: /^Tern/ }));
    expect(await screen.findByRole('dialog', { name: /^Tern, 2026/ })).toBeTruthy();
  });
  test('a place is added, and too little room is told', async () => {
    const asked = await open(<Year />, { addStoragePlace: { id: 8, version: 1 } });
    expect(await screen.findByText('Room for 1 boat; 2 want to stand somewhere.')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Add a place' }));
    const sheet = within(await screen.findByRole('dialog'));
    await user.type(sheet.getByLabelText('Name'), 'Back yard');
    await user.selectOptions(sheet.getByLabelText('Kind'), 'yard, under a cover');
    await user.click(sheet.getByRole('button', { name: 'Add the place' }));
    expect(await screen.findByText('Back yard: room for 10 boats.')).toBeTruthy();
    expect(asked.find((a) => a.name === 'addStoragePlace')!.body).toEqual({
      ...{ baseId: 1, name: 'Back yard', kind: 'yard', room: 10 },
    });
  });
});
