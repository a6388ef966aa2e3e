import { afterEach, expect, test } from '@jest/globals';
import type { ImportResult } from '@diurna/contract/exchange';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, page, refusal, signedIn } from '../test/page.tsx';
import { Files } from './Files.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const TEXT = 'serial,read_on,count\r\nC60-1,2026-04-14,412\r\n';
const result = (more: Partial<ImportResult> = {}): ImportResult => ({
  kind: 'hours',
  columns: ['serial', 'read_on', 'count'],
  header: ['serial', 'read_on', 'count'],
  match: {},
  missing: [],
  ignored: [],
  days: null,
  counts: { add: 1, change: 0, same: 0, left: 0, faulty: 0 },
  rows: [
    {
      line: 2,
      cells: { serial: 'C60-1', read_on: '2026-04-14', count: '412' },
      does: 'add',
      read: {},
      was: {},
      faults: [],
    },
  ],
  written: false,
  ...more,
});
async function choose() {
  await user.selectOptions(screen.getByLabelText('What is in it'), 'Hours');
  const file = new File([TEXT], 'april.csv', { type: 'text/csv' });
  file.text = () => Promise.resolve(TEXT);
  await user.upload(screen.getByLabelText('File'), file);
}

test('a file is looked at first and written by its own act, the same text both times', async () => {
  const asked = answer({ ...signedIn('coordinator'), previewImport: result(), importFile: result({ written: true }) });
  await page(<Files />);
  await choose();
  expect((await screen.findByText('april.csv')).parentElement!.textContent).toBe(
    'april.csv: 1 row, 1 new, 0 to change, 0 in the book already.',
  );
  expect(asked.some((a) => a.name === 'importFile')).toBe(false);
  await user.click(screen.getByRole('button', { name: 'Write 1 row into the book' }));
  expect(await screen.findByText('april.csv is in the book: 1 new, 0 changed.')).toBeTruthy();
  const sent = asked.filter((a) => a.url.pathname.startsWith('/api/exchange/'));
  expect(sent.map((a) => [a.url.pathname, a.body])).toEqual([
    ['/api/exchange/hours/preview', TEXT],
    ['/api/exchange/hours', TEXT],
  ]);
  expect(screen.queryByRole('button', { name: /^Write .* into the book/ })).toBeNull();
});

test('a faulty cell says what is wrong with it, in its place, also where the column lacks; nothing can be written', async () => {
  answer({
    ...signedIn('coordinator'),
    previewImport: result({
      ignored: ['colour'],
      counts: { add: 0, change: 0, same: 0, left: 0, faulty: 1 },
      rows: [
        {
          line: 2,
          cells: { serial: 'C60-1', read_on: '31/31', count: '412' },
          does: 'faulty',
          read: {},
          was: {},
          faults: [
            { column: 'read_on', text: 'is no day; write it like 2026-04-14' },
            { column: 'model', text: 'is wanted: two engines have this serial' },
          ],
        },
      ],
    }),
  });
  await page(<Files />);
  await choose();
  expect((await screen.findByText('is no day; write it like 2026-04-14')).closest('td')!.textContent).toMatch(
    /^31\/31/,
  );
  expect(screen.getByRole('columnheader', { name: 'model' })).toBeTruthy();
  expect(screen.getByText(/leaves out: colour/)).toBeTruthy();
  expect(screen.getByText(/Nothing is written while a cell is faulty/)).toBeTruthy();
  expect(screen.queryByRole('button', { name: /^Write .* into the book/ })).toBeNull();
});

test('what cannot be read at all is said; another kind begins anew', async () => {
  answer({
    ...signedIn('coordinator'),
    previewImport: () => refusal(422, 'The first line names no column “serial”. Is it the right file?'),
  });
  await page(<Files />);
  await choose();
  expect(await screen.findByText(/names no column/)).toBeTruthy();
  await user.selectOptions(screen.getByLabelText('What is in it'), 'Parts');
  await waitFor(() => {
    expect(screen.queryByText(/names no column/)).toBeNull();
  });
});

test('files go out for who reads records; a technician gets none in or out', async () => {
  answer(signedIn('manager'));
  await page(<Files />);
  for (const word of [
    'Fleet',
    'Hours',
    'Parts',
    'Part links',
    'Suppliers',
    'Prices',
    'Counts',
    'Service history',
    'Hires',
  ]) {
    expect(screen.getByRole('link', { name: `${word}, CSV` })).toBeTruthy();
    expect(screen.getByRole('button', { name: `${word}, spreadsheet` })).toBeTruthy();
  }
  expect(screen.queryByLabelText('File')).toBeNull();
  cleanup();
  answer(signedIn('technician'));
  await page(<Files />);
  expect(screen.queryByRole('heading', { name: 'Write a file out' })).toBeNull();
});

test('days of another order are shown as they are read, and can be read the other way', async () => {
  const days = (order: 'day-first' | 'month-first', day: string) =>
    result({
      days: { order, sure: true, example: '13/4/2026' },
      rows: [
        {
          line: 2,
          cells: { serial: 'C60-1', read_on: '3/4/2026', count: '412' },
          does: 'add',
          was: {},
          read: { read_on: day },
          faults: [],
        },
      ],
    });
  answer({ ...signedIn('coordinator'), previewImport: days('day-first', '2026-04-03') });
  await page(<Files />);
  await choose();
  expect((await screen.findByText('read as 2026-04-03')).closest('td')!.textContent).toMatch(/^3\/4\/2026/);
  const order = screen.getByLabelText('Days like 13/4/2026 have');
  expect((order as HTMLSelectElement).value).toBe('day-first');
  const asked = answer({ ...signedIn('coordinator'), previewImport: days('month-first', '2026-03-04') });
  await user.selectOptions(order, 'the month first');
  expect(await screen.findByText('read as 2026-03-04')).toBeTruthy();
  expect(asked.find((a) => a.name === 'previewImport')!.url.searchParams.get('days')).toBe('month-first');
});

test('where nothing tells the order it is asked before anything can be written, and goes along with the file', async () => {
  const unsure = result({ days: { order: 'day-first', sure: false, example: '3/4/2026' } });
  answer({ ...signedIn('coordinator'), previewImport: unsure });
  await page(<Files />);
  await choose();
  const order = await screen.findByLabelText('Days like 3/4/2026 have');
  expect((order as HTMLSelectElement).value).toBe('');
  expect(screen.getByText(/every day of it can be read both ways: say which/)).toBeTruthy();
  expect(screen.queryByRole('button', { name: /^Write .* into the book/ })).toBeNull();
  const sure = result({ days: { order: 'month-first', sure: true, example: '3/4/2026' } });
  const asked = answer({ ...signedIn('coordinator'), previewImport: sure, importFile: { ...sure, written: true } });
  await user.selectOptions(order, 'the month first');
  await user.click(await screen.findByRole('button', { name: 'Write 1 row into the book' }));
  await waitFor(() => {
    expect(asked.find((a) => a.name === 'importFile')!.url.searchParams.get('days')).toBe('month-first');
  });
});

test('a supplier’s own columns are said once: nothing is read before, and the match goes with look and writing', async () => {
  const text = 'Article;Net\nT-1;9,90\n';
  const prices = (more: Partial<ImportResult>) =>
    result({ kind: 'prices', header: ['Article', 'Net'], columns: [], rows: [], ...more });
  const asked = answer({
    ...signedIn('coordinator'),
    listSuppliers: [
      {
        ...{ id: 4, version: 2, name: 'Tern Trade', contactId: null, leadDays: 2, weekdays: [1], carriageMinor: 0 },
        ...{ freeFromMinor: null, leastMinor: 0, serviceUrl: null, offers: [], learned: null },
      },
    ],
    previewImport: ({ url }) =>
      url.searchParams.has('match')
        ? prices({
            match: { part: 'Article', price: 'Net' },
            columns: ['part', 'price'],
            counts: { add: 0, change: 1, same: 0, left: 7, faulty: 0 },
            rows: [
              {
                line: 2,
                cells: { part: 'T-1', price: '9,90' },
                does: 'change',
                read: {},
                was: { price: '9.20' },
                faults: [],
              },
            ],
          })
        : prices({ missing: ['part', 'price'], counts: { add: 0, change: 0, same: 0, left: 0, faulty: 0 } }),
    importFile: prices({ written: true }),
  });
  await page(<Files />);
  await user.selectOptions(screen.getByLabelText('What is in it'), 'Prices');
  await screen.findByRole('option', { name: 'Tern Trade' });
  await user.selectOptions(screen.getByLabelText('Whose price list'), 'Tern Trade');
  const file = new File([text], 'tern.csv', { type: 'text/csv' });
  file.text = () => Promise.resolve(text);
  await user.upload(screen.getByLabelText('File'), file);
  const columns = within(await screen.findByRole('region', { name: 'Columns of the file' }));
  expect(columns.getByText(/the price lists of Tern Trade/)).toBeTruthy();
  const so = () => columns.getByRole<HTMLButtonElement>('button', { name: 'Read it so' });
  expect(so().disabled).toBe(true);
  expect(screen.queryByRole('button', { name: /^Write/ })).toBeNull();
  await user.selectOptions(columns.getByLabelText('part (needed)'), 'Article');
  expect(columns.getByText('Still needed: price.')).toBeTruthy();
  await user.selectOptions(columns.getByLabelText('price (needed)'), 'Net');
  await user.click(so());
  expect(await screen.findByText('was 9.20')).toBeTruthy();
  expect(screen.getByText(/7 of parts the book does not have/)).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Write 1 row into the book' }));
  const written = () => asked.find((a) => a.name === 'importFile');
  await waitFor(() => {
    expect(written()).toBeTruthy();
  });
  expect(Object.fromEntries(written()!.url.searchParams)).toEqual({ supplierId: '4', match: 'part=Article&price=Net' });
});
