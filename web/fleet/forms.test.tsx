import { afterEach, describe, expect, jest, test } from '@jest/globals';
import type { Boat, Engine } from '@diurna/contract/fleet';
import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { modelOf } from '../test/model.ts';
import { answer, page, readyButton, refusal, signedIn } from '../test/page.tsx';
import { BoatForm } from './BoatForm.tsx';
import { ChangeMeter, EditEngine, NewEngine } from './EngineForm.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const boat: Boat = {
  id: 4,
  version: 6,
  name: 'Plover',
  baseId: 1,
  baseName: 'North Quay',
  berth: '6',
  sand: false,
  salt: true,
  hireDayMinor: null,
  retired: false,
  engines: [
    {
      id: 11,
      version: 1,
      position: 'port',
      serial: 'C60-1',
      modelId: 2,
      modelName: 'Corvane 60',
      lifeHours: 410,
      lastReadDay: '2026-04-14',
      nearest: null,
    },
  ],
};
const engine: Engine = {
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
  modelName: 'Corvane 60',
  maker: 'Corvane',
  powerHp: 60,
  stroke: 4,
  lifeHours: 410,
  hoursPerWeek: 9,
  lastReadDay: '2026-04-14',
  meters: [{ id: 1, kind: 'dash', fittedOn: '2024-05-01', removedOn: null, offset: 0, reason: null }],
  twins: [],
};
const model = modelOf();
const boats = { rows: [], total: 0, page: 1, size: 200 };
/** Presses a form's button, once what the form offers is there. */
const act = async (name: string) => user.click(await readyButton(name));
const fill = async (label: RegExp, text: string) => {
  const field = screen.getByLabelText(label);
  await user.clear(field);
  await user.type(field, text);
};

describe('a boat', () => {
  test('a new one: an empty berth is none, money is typed as money; it opens the boat’s page', async () => {
    const asked = answer({ ...signedIn('coordinator'), addBoat: { id: 9, version: 1 } });
    await page(<BoatForm onClose={jest.fn()} />);
    await fill(/^Name/, 'Sanderling');
    await user.selectOptions(
      screen.getByLabelText('Works in sand and shallows'),
      'yes: its pump is due in fewer hours',
    );
    await fill(/^A day on hire brings/, '240');
    await act('Add the boat');
    await screen.findByText('another page');
    expect(asked.find((a) => a.name === 'addBoat')!.body).toEqual({
      name: 'Sanderling',
      baseId: 1,
      berth: null,
      boatClass: null,
      sand: true,
      salt: true,
      hireDayMinor: 24_000,
    });
  });

  test('a change carries the version it was made on; refused, it stays', async () => {
    const asked = answer({
      ...signedIn('coordinator'),
      editBoat: () => refusal(409, 'There is a Razorbill already. Choose another name.'),
    });
    const close = jest.fn();
    await page(<BoatForm boat={boat} onClose={close} />);
    await fill(/^Name/, 'Razorbill');
    await act('Keep the changes');
    expect((await screen.findByRole('alert')).textContent).toMatch(/There is a Razorbill already/);
    expect(asked.find((a) => a.name === 'editBoat')!.body).toMatchObject({ version: 6, name: 'Razorbill', berth: '6' });
    expect(close).not.toHaveBeenCalled();
  });

  test('money that is none is told at its field', async () => {
    const asked = answer({ ...signedIn('coordinator') });
    await page(<BoatForm boat={boat} onClose={jest.fn()} />);
    await fill(/^A day on hire brings/, 'much');
    await act('Keep the changes');
    await waitFor(() => {
      expect(screen.getByLabelText(/^A day on hire brings/).getAttribute('aria-invalid')).toBe('true');
    });
    expect(asked.some((a) => a.name === 'editBoat')).toBe(false);
  });
});

describe('an engine', () => {
  test('a new one takes the free place of its boat and a meter', async () => {
    const asked = answer({ ...signedIn('coordinator'), listModels: [model], addEngine: { id: 12, version: 1 } });
    const close = jest.fn();
    await page(<NewEngine boat={boat} onClose={close} />);
    const places = [...screen.getByLabelText<HTMLSelectElement>('Position').options].map((o) => o.text);
    expect(places).not.toContain('port');
    await act('Add the engine');
    expect(await screen.findByText(/is missing/)).toBeTruthy();
    expect(asked.some((a) => a.name === 'addEngine')).toBe(false);
  });

  test('it may have no meter: nothing is asked of one, and none is written', async () => {
    const asked = answer({ ...signedIn('coordinator'), listModels: [model], addEngine: { id: 12, version: 1 } });
    await page(<NewEngine boat={boat} onClose={jest.fn()} />);
    await fill(/^Serial/, 'T50-9');
    expect(screen.getByLabelText(/^Hours before this meter/)).toBeTruthy();
    await user.selectOptions(screen.getByLabelText('Meter'), 'no meter, hours by its hires');
    expect(screen.queryByLabelText(/^Hours before this meter/)).toBeNull();
    await act('Add the engine');
    await waitFor(() => {
      expect(asked.find((a) => a.name === 'addEngine')!.body).toMatchObject({
        serial: 'T50-9',
        modelId: 2,
        meter: null,
      });
    });
  });

  test('without a model in the book the form says what comes first', async () => {
    answer({ ...signedIn('coordinator'), listModels: [] });
    await page(<NewEngine boat={boat} onClose={jest.fn()} />);
    expect((await screen.findByRole('link', { name: 'Add its model first' })).getAttribute('href')).toBe(
      '/fleet/models',
    );
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Add the engine' }).disabled).toBe(true);
  });

  test('it goes onto the shelf without losing what it is', async () => {
    const asked = answer({
      ...signedIn('coordinator'),
      listModels: [],
      listBoats: boats,
      editEngine: { id: 11, version: 6 },
    });
    const close = jest.fn();
    await page(<EditEngine engine={engine} onClose={close} />);
    await user.selectOptions(await screen.findByLabelText('Boat'), 'on the shelf');
    await act('Keep the changes');
    await waitFor(() => {
      expect(close).toHaveBeenCalled();
    });
    expect(asked.find((a) => a.name === 'editEngine')!.body).toEqual({
      version: 5,
      serial: 'C60-1',
      modelId: 2,
      boatId: null,
      position: 'port',
      transom: null,
      inServiceOn: '2024-05-01',
      boughtNew: true,
    });
  });

  test('a dead meter shows nothing: its field stays empty and the last reading counts; a reason is wanted', async () => {
    const asked = answer({ ...signedIn('technician'), changeMeter: { id: 2, version: 1 } });
    const close = jest.fn();
    await page(<ChangeMeter engine={engine} onClose={close} />);
    expect(screen.getByText(/the last reading counts/)).toBeTruthy();
    await act('Change it');
    expect(await screen.findByText(/few words/)).toBeTruthy();
    expect(asked.some((a) => a.name === 'changeMeter')).toBe(false);
    await fill(/^Why/, 'The display went dark');
    await act('Change it');
    await waitFor(() => {
      expect(close).toHaveBeenCalled();
    });
    expect(asked.find((a) => a.name === 'changeMeter')!.body).toEqual({
      kind: 'dash',
      day: '2026-04-15',
      oldCount: null,
      newCount: 0,
      reason: 'The display went dark',
    });
  });
});
