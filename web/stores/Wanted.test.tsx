import { afterEach, expect, test } from '@jest/globals';
import type { WantedPart } from '@diurna/contract/stores';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, DONE, page, signedIn } from '../test/page.tsx';
import { Wanted } from './Wanted.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const wanted: WantedPart = {
  id: 6,
  engineId: 9,
  boatName: 'Plover',
  position: 'port',
  serial: 'C60-7',
  baseId: 1,
  baseName: 'North Quay',
  task: 'gear-seals',
  why: 'Milky gear lube.',
  at: '2026-04-14T10:00:00Z',
  by: 'Ines Okoye',
  jobId: 12,
  parts: [
    { partId: 21, number: 'GS-60', name: 'Seal kit', unit: 'each', quantity: 2, onHand: 0, onTheWay: 1 },
    { partId: 22, number: 'GL-90', name: 'Gear lube', unit: 'mL', quantity: 600, onHand: 5000, onTheWay: 0 },
  ],
};
const screw = {
  id: 30,
  version: 1,
  number: 'SC-5',
  name: 'Drain screw',
  kind: 'other' as const,
  unit: 'each' as const,
};
const open = async (more: Parameters<typeof answer>[0] = {}, of = wanted) => {
  const asked = answer({
    ...signedIn('stores'),
    listWanted: [of],
    listParts: {
      rows: [{ ...screw, priceMinor: null, fitments: [], onHand: [], places: [], keptBack: [] }],
      total: 1,
      page: 1,
      size: 200,
    },
    ...more,
  });
  await page(<Wanted baseId={1} mayKeep />);
  await screen.findByRole('region', { name: 'Asked for by cards' });
  return asked;
};

test('a request is ordered for what the shelf and orders do not cover; parts besides can go along', async () => {
  const asked = await open({ closeWanted: DONE });
  await user.click(screen.getByRole('button', { name: /^See to it/ }));
  // Two seals wanted, none there, one on its way; gear lube stands on the shelf.
  expect(screen.getByLabelText<HTMLInputElement>('Order GS-60').value).toBe('1');
  expect(screen.getByLabelText<HTMLInputElement>('Order GL-90, mL').value).toBe('0');
  // The list of all parts comes by itself.
  await screen.findByRole('option', { name: 'SC-5 Drain screw' });
  await user.selectOptions(screen.getByLabelText('Another part'), 'SC-5 Drain screw');
  await user.clear(screen.getByLabelText('Order SC-5'));
  await user.type(screen.getByLabelText('Order SC-5'), '3');
  await user.click(screen.getByRole('button', { name: 'Note the order' }));
  await waitFor(() => {
    expect(asked.find((a) => a.name === 'closeWanted')?.body).toEqual({
      act: 'order',
      day: '2026-04-18',
      lines: [
        { partId: 21, quantity: 1 },
        { partId: 30, quantity: 3 },
      ],
    });
  });
});

test('what is no figure cannot be ordered', async () => {
  await open();
  await user.click(screen.getByRole('button', { name: /^See to it/ }));
  await user.clear(screen.getByLabelText('Order GS-60'));
  await user.type(screen.getByLabelText('Order GS-60'), 'two');
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Note the order' }).disabled).toBe(true);
  expect(screen.getByText('Figures only.')).toBeTruthy();
});

test('no order needed wants a reason, which stays in the book', async () => {
  const asked = await open({ closeWanted: DONE });
  await user.click(screen.getByRole('button', { name: /^See to it/ }));
  await user.click(screen.getByRole('button', { name: 'No order is needed' }));
  const ask = within(await screen.findByRole('dialog'));
  await user.type(ask.getByRole('textbox'), 'Seals were taken from the spare gear case');
  await user.click(ask.getByRole('button', { name: 'Settle it' }));
  await waitFor(() => {
    expect(asked.find((a) => a.name === 'closeWanted')?.body).toEqual({
      act: 'not needed',
      because: 'Seals were taken from the spare gear case',
    });
  });
});

test('a request for which no part is known says what to do', async () => {
  await open({}, { ...wanted, parts: [] });
  expect(screen.getByText(/No part is known to fit this serial/)).toBeTruthy();
});
