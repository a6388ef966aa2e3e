import { afterEach, expect, jest, test } from '@jest/globals';
import { cleanup, screen, within } from '@testing-library/react';
import type { Reply } from '../app/api.ts';
import { answer, page, signedIn } from '../test/page.tsx';

// jsdom draws nothing; the figures stand in the table.
jest.unstable_mockModule('react-chartjs-2', () => ({ Chart: () => null }));
const { LastDay } = await import('./LastDay.tsx');

afterEach(cleanup);
const hour = (n: number, more: Partial<Reply<'lastDay'>['hours'][number]> = {}) => ({
  hour: `2026-04-15T${String(n).padStart(2, '0')}:00:00Z`,
  requests: 0,
  failed: 0,
  busy: 0,
  p50: 0,
  p95: 0,
  p99: 0,
  loopP99: 0,
  memory: 0,
  ...more,
});
const day: Reply<'lastDay'> = {
  version: '0.1.0',
  processes: 2,
  database: '15.18',
  size: 1234,
  hours: [
    hour(7),
    hour(8, { requests: 1200, failed: 0, p50: 10, p95: 75, p99: 150, loopP99: 21.4, memory: 210 }),
    hour(9, { requests: 800, failed: 2, busy: 1, p50: 20, p95: 500, p99: 1000, loopP99: 64, memory: 230 }),
  ],
  requests: [{ what: 'readDay', took: 1432, at: '2026-04-15T09:10:00Z' }],
  statements: [],
};

test('hours in which something was asked, the latest first; slow ones and failures stand out', async () => {
  answer({ ...signedIn('administrator'), lastDay: day });
  await page(<LastDay />);
  expect(await screen.findByText('2,000 requests, 2 failed')).toBeTruthy();
  expect(screen.getByText('Version 0.1.0, 2 processes; PostgreSQL 15.18, 1,234 MB.')).toBeTruthy();
  const rows = screen.getAllByRole('row').slice(1, 3);
  const cells = rows.map((r) =>
    within(r)
      .getAllByRole('cell')
      .map((c) => c.textContent),
  );
  expect(cells).toEqual([
    ['800', '2', '1', '20 ms', '500 ms', '1,000 ms', '64 ms', '230 MB'],
    ['1,200', '0', '0', '10 ms', '75 ms', '150 ms', '21 ms', '210 MB'],
  ]);
  expect(screen.getByText('readDay').closest('tr')!.textContent).toContain('1,432 ms');
  expect(screen.getByText('None took longer than a quarter of a second.')).toBeTruthy();
});

test('a book nobody asked for anything says so', async () => {
  answer({ ...signedIn('administrator'), lastDay: { ...day, hours: [hour(8)] } });
  await page(<LastDay />);
  expect(await screen.findByText('Nobody asked the book for anything within the last day.')).toBeTruthy();
});
