import { afterEach, describe, expect, test } from '@jest/globals';
import type { Engine as EngineRow } from '@diurna/contract/fleet';
import type { Entry } from '@diurna/contract/service';
import type { Reading } from '@diurna/contract/usage';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, DONE, page, refusal, signedIn } from '../test/page.tsx';
import { Engine } from './Engine.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const engine: EngineRow = {
  id: 11,
  version: 5,
  serial: 'C60-1',
  modelId: 2,
  boatId: 4,
  position: 'port',
  inServiceOn: '2024-05-01',
  boughtNew: true,
  retired: false,
  boatName: 'Plover',
  baseId: 1,
  baseName: 'North Quay',
  modelName: '60',
  maker: 'Corvane',
  powerHp: 60,
  stroke: 4,
  lifeHours: 410.4,
  hoursPerWeek: 9,
  lastReadDay: '2026-04-14',
  meters: [
    { id: 1, kind: 'dash', fittedOn: '2024-05-01', removedOn: '2025-06-01', offset: 0, reason: null },
    { id: 2, kind: 'logger', fittedOn: '2025-06-01', removedOn: null, offset: 300, reason: 'The display went dark' },
  ],
  twins: [{ id: 12, position: 'starboard', lifeHours: 398 }],
};
const entry = (id: number, more: Partial<Entry> = {}): Entry => ({
  id,
  engineId: 11,
  engineName: 'Plover port',
  serial: 'C60-1',
  task: 'engine-oil',
  doneOn: '2026-02-01',
  hours: 380,
  by: 'Sven',
  jobId: null,
  volume: null,
  remark: null,
  enteredAt: '2026-02-01T12:00:00Z',
  cancelled: null,
  ...more,
});
const reading = (id: number, more: Partial<Reading> = {}): Reading => ({
  id,
  day: '2026-04-14',
  at: '2026-04-14T12:00:00Z',
  count: 110.4,
  lifeHours: 410.4,
  source: 'typed',
  doubt: null,
  reason: null,
  by: 'Ines',
  withdrawn: null,
  ...more,
});
const paged = <T,>(rows: T[]) => ({ rows, total: rows.length, page: 1, size: 15 });
const open = async (more: Parameters<typeof answer>[0] = {}, role: Parameters<typeof signedIn>[0] = 'coordinator') => {
  const asked = answer({
    ...signedIn(role),
    readEngine: engine,
    dueList: {
      rows: [],
      total: 0,
      page: 1,
      size: 20,
      engines: 0,
      counts: { over: 0, due: 0, soon: 0, unknown: 0, fine: 0 },
    },
    listEntries: paged([entry(1)]),
    listReadings: paged([reading(7)]),
    engineCondition: { trends: [], twins: [], findings: [], holds: [], followUps: [] },
    cancelEntry: DONE,
    withdrawReading: DONE,
    ...more,
  });
  await page(<Engine />, { path: '/fleet/engines/:id', at: '/fleet/engines/11' });
  return asked;
};
const block = async (name: string) =>
  within((await screen.findByRole('heading', { name })).closest('section') as HTMLElement);
const give = async (reason: string, act: string) => {
  const sheet = within(await screen.findByRole('dialog'));
  await user.type(sheet.getByRole('textbox'), reason);
  await user.click(sheet.getByRole('button', { name: act }));
};

describe('an engine', () => {
  test('tells its hours with their day, the meter it has now with what it counts from, and its twin', async () => {
    await open();
    expect(await screen.findByRole('heading', { name: 'Plover port' })).toBeTruthy();
    const facts = screen.getByText('Hours').closest('dl')!.textContent;
    expect(facts).toMatch(/410\.4 h read 14 Apr 2026/);
    expect(facts).toMatch(/logger since 1 Jun 2025, counts \+300\.0 h/);
    expect(facts).toMatch(/starboard, 398\.0 h/);
    expect(screen.getByText('2 meters in its life; hours go on across them.')).toBeTruthy();
    expect(await screen.findByText('Its model has no programme yet.')).toBeTruthy();
  });

  test('what is not known is said, not left out', async () => {
    await open({
      readEngine: {
        ...engine,
        boatId: null,
        boatName: null,
        lifeHours: null,
        lastReadDay: null,
        hoursPerWeek: null,
        inServiceOn: null,
        boughtNew: false,
        meters: [],
        twins: [],
      },
      listEntries: paged([]),
      listReadings: paged([]),
    });
    expect(await screen.findByRole('heading', { name: 'C60-1' })).toBeTruthy();
    const facts = screen.getByText('Hours').closest('dl')!.textContent;
    for (const word of ['no reading', 'too few readings in eight weeks', 'worked out from its hires', 'on the shelf'])
      expect(facts).toContain(word);
    expect(await screen.findByText('Unknown: nothing is written down for this engine.')).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Fit a meter' })).toBeTruthy();
  });

  test('an entry that is wrong is struck out by a reason; one of a card or struck out already is not', async () => {
    const asked = await open({
      listEntries: paged([
        entry(1),
        entry(2, { jobId: 71, task: 'impeller' }),
        entry(3, { cancelled: { by: 'Ines', at: '2026-03-01T08:00:00Z', reason: 'It was the twin' } }),
      ]),
    });
    const history = await block('Service history');
    expect(await history.findByText('Cancelled by Ines: It was the twin')).toBeTruthy();
    expect(history.getAllByRole('button', { name: 'wrong?' })).toHaveLength(1);
    await user.click(history.getByRole('button', { name: 'wrong?' }));
    await give('It was the starboard one', 'Cancel the entry');
    await waitFor(() => {
      expect(asked.find((a) => a.name === 'cancelEntry')?.body).toEqual({ reason: 'It was the starboard one' });
    });
    await waitFor(() => {
      expect(screen.queryByRole('dialog')).toBeNull();
    });
  });

  test('a reading that is wrong is taken back; a change of meters is not, and a refusal keeps the sheet', async () => {
    let refuse = true;
    await open({
      listReadings: paged([
        reading(7, { doubt: 'lower', reason: 'below the one before' }),
        reading(8, { source: 'meter change' }),
        reading(9, { withdrawn: 'misread' }),
      ]),
      withdrawReading: () => (refuse ? refusal(403, 'That reading is not yours.') : DONE),
    });
    const readings = await block('Readings');
    expect(await readings.findByText('questioned: below the one before')).toBeTruthy();
    expect(readings.getByText('taken back: misread')).toBeTruthy();
    expect(readings.getAllByRole('button', { name: 'wrong?' })).toHaveLength(1);
    await user.click(readings.getByRole('button', { name: 'wrong?' }));
    await give('Read in the dark', 'Take it back');
    expect(await screen.findByText('That reading is not yours.')).toBeTruthy();
    refuse = false;
    await user.click(within(screen.getByRole('dialog')).getByRole('button', { name: 'Take it back' }));
    await waitFor(() => {
      expect(screen.queryByRole('dialog')).toBeNull();
    });
  });

  test('is retired with the version it was looked at; a technician may change its meter, a keeper nothing', async () => {
    const asked = await open({ retireEngine: { id: 11, version: 6 } });
    await screen.findByRole('heading', { name: 'Plover port' });
    await user.click(screen.getByRole('button', { name: 'Retire' }));
    expect(await screen.findByText(/Retired; its history stays/)).toBeTruthy();
    expect(asked.find((a) => a.name === 'retireEngine')!.body).toEqual({ version: 5, retired: true });
    cleanup();
    await open({}, 'technician');
    await screen.findByRole('heading', { name: 'Plover port' });
    expect(screen.getByRole('button', { name: 'Change the meter' })).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Retire' })).toBeNull();
    cleanup();
    await open({}, 'stores');
    await screen.findByRole('heading', { name: 'Plover port' });
    expect(screen.queryByRole('button', { name: 'Change the meter' })).toBeNull();
  });

  test('one that is not there says so', async () => {
    await open({ readEngine: () => refusal(404, 'There is no such engine.') });
    expect(await screen.findByText('There is no such engine.')).toBeTruthy();
  });
});
