import { afterEach, expect, test } from '@jest/globals';
import type { ShelfCover } from '@diurna/contract/ordering';
import { cleanup, screen } from '@testing-library/react';
import { answer, page, signedIn } from '../test/page.tsx';
import { CoverTogether } from './CoverTogether.tsx';

afterEach(cleanup);
const cover = (more: Partial<ShelfCover> = {}): ShelfCover => ({
  days: 42,
  comesUp: 9,
  possible: 9,
  exact: true,
  lacking: [],
  short: [],
  ...more,
});
const open = async (reply: ShelfCover) => {
  answer({ ...signedIn('stores'), readCover: reply });
  await page(<CoverTogether baseId={1} />);
};

test('a shelf that does all that comes up says so', async () => {
  await open(cover());
  expect((await screen.findByRole('group', { name: 'All together' })).textContent).toBe(
    '9 services come up within 42 days. The shelf does all of them.',
  );
});

test('one that does not says how many, for want of what, and which kinds', async () => {
  await open(
    cover({
      possible: 7,
      lacking: [{ modelId: 3, modelName: 'Corvane 60', task: 'engine-oil', wanted: 4, possible: 2 }],
      short: [{ partId: 8, number: 'OIL', name: 'Engine oil' }],
    }),
  );
  const said = await screen.findByRole('group', { name: 'All together' });
  expect(said.textContent).toMatch(/Together the shelf does 7\..*Short: OIL\..*Corvane 60: 2 of 4/);
  expect(screen.getByRole('link', { name: 'OIL' }).getAttribute('href')).toBe('/stores/parts/8');
});

test('where too many parts are shared it says at least', async () => {
  await open(cover({ possible: 5, exact: false }));
  expect((await screen.findByRole('group', { name: 'All together' })).textContent).toContain('at least 5');
});
