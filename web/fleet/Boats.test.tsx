import { afterEach, describe, expect, test } from '@jest/globals';
import type { Boat as BoatRow } from '@diurna/contract/fleet';
import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, page, refusal, signedIn, type Asked } from '../test/page.tsx';
import { Boat } from './Boat.tsx';
import { Boats } from './Boats.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const engine = (id: number, more: Partial<BoatRow['engines'][number]> = {}): BoatRow['engines'][number] => ({
  id,
  version: 1,
  position: 'port',
  serial: `C60-${id}`,
  modelId: 2,
  modelName: 'Corvane 60',
  lifeHours: 410.4,
  lastReadDay: '2026-04-14',
  nearest: { task: 'engine-oil', state: 'due', text: '9 h left' },
  ...more,
});
const plover: BoatRow = {
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
  engines: [engine(11), engine(12, { position: 'kicker', lifeHours: null, lastReadDay: null, nearest: null })],
};
const list = (rows: BoatRow[], total = rows.length) => ({ rows, total, page: 1, size: 50 });
const asks = (asked: Asked[]) => asked.filter((a) => a.name === 'listBoats').at(-1)!.url.searchParams;
const act = (name: string) => user.click(screen.getByRole('button', { name }));

describe('the boats', () => {
  test('stand with their engines; a name is told once, an engine without a meter says so, a boat without engines too', async () => {
    answer({ ...signedIn('technician'), listBoats: list([plover, { ...plover, id: 5, name: 'Dunlin', engines: [] }]) });
    await page(<Boats />);
    const rows = (await screen.findAllByRole('row')).slice(1).map((r) => r.textContent);
    expect(rows[0]).toMatch(/^PloverNorth Quay, 6port.*C60-11.*410\.4.*14 Apr 2026.*engine oil: 9 h left/);
    expect(rows[1]).toMatch(/^kicker.*no meter/);
    expect(rows[2]).toMatch(/^Dunlin.*no engine yet$/);
    expect(screen.queryByRole('button', { name: 'Add a boat' })).toBeNull();
  });

  test('are found by name and turned page by page; a new search begins on the first page', async () => {
    const asked = answer({ ...signedIn('coordinator'), listBoats: list([plover], 120) });
    await page(<Boats />);
    await screen.findByText('120 boats');
    await act('Further rows');
    await waitFor(() => {
      expect(asks(asked).get('page')).toBe('2');
    });
    await user.type(screen.getByLabelText('Anything in the line'), ' plo ');
    await waitFor(() => {
      expect([asks(asked).get('q'), asks(asked).get('page')]).toEqual(['plo', '1']);
    });
    await user.selectOptions(screen.getByLabelText('Show'), 'Retired');
    expect(await screen.findByText('120 retired boats')).toBeTruthy();
    expect(asks(asked).get('retired')).toBe('yes');
  });

  test('are put in order by a column, and the other way round by a second press', async () => {
    const asked = answer({ ...signedIn('coordinator'), listBoats: list([plover], 120) });
    await page(<Boats />);
    const order = () => [asks(asked).get('order'), asks(asked).get('down')];
    const head = (name: string) => screen.getByRole('columnheader', { name });
    await screen.findByText('120 boats');
    expect(head('Boat').getAttribute('aria-sort')).toBe('ascending');
    await act('Further rows');
    await act('Next due');
    await waitFor(() => {
      expect([...order(), asks(asked).get('page')]).toEqual(['due', null, '1']);
    });
    expect(head('Next due').getAttribute('aria-sort')).toBe('ascending');
    await act('Next due');
    await waitFor(() => {
      expect(order()).toEqual(['due', 'yes']);
    });
    expect([head('Next due'), head('Boat')].map((h) => h.getAttribute('aria-sort'))).toEqual(['descending', null]);
  });

  test('none: with a filter it says to take it away, without one how a fleet begins', async () => {
    answer({ ...signedIn('coordinator'), listBoats: list([]) });
    await page(<Boats />);
    expect(await screen.findByRole('link', { name: 'fleet file' })).toBeTruthy();
    await user.type(screen.getByLabelText('Anything in the line'), 'x');
    expect(await screen.findByText('Take a filter away to see more.')).toBeTruthy();
  });
});

describe('a boat', () => {
  const open = async (
    more: Parameters<typeof answer>[0] = {},
    role: Parameters<typeof signedIn>[0] = 'coordinator',
  ) => {
    const asked = answer({
      ...signedIn(role),
      readBoat: plover,
      listJobs: { rows: [], total: 0, page: 1, size: 20 },
      listHires: {
        rows: Array.from({ length: 8 }, (_, i) => ({
          id: i + 1,
          boatId: 4,
          boatName: 'Plover',
          outDay: '2026-04-16',
          outTime: '09:00',
          backDay: i === 0 ? '2026-04-17' : '2026-04-16',
          backTime: '18:30',
          reference: `H-${i + 1}`,
        })),
        total: 11,
        page: 1,
        size: 50,
      } as never,
      ...more,
    });
    await page(<Boat />, { path: '/fleet/boats/:id', at: '/fleet/boats/4' });
    return asked;
  };

  test('shows its engines, and its hires of the next two weeks: eight of them, how many more', async () => {
    const asked = await open();
    expect(await screen.findByRole('heading', { name: 'Plover' })).toBeTruthy();
    expect(screen.getByText('North Quay, berth 6')).toBeTruthy();
    expect(await screen.findByText('and 3 more')).toBeTruthy();
    expect(screen.getByText('H-1').closest('tr')!.textContent).toMatch(/Thu 16 Apr.*09:00.*Fri 17 Apr.*18:30/);
    const hires = asked.find((a) => a.name === 'listHires')!.url.searchParams;
    expect([hires.get('boatId'), hires.get('from'), hires.get('days')]).toEqual(['4', '2026-04-15', '14']);
  });

  test('is retired and taken back, with the version it was looked at; a refusal is told', async () => {
    const asked = await open({ retireBoat: { id: 4, version: 7 } });
    await screen.findByRole('heading', { name: 'Plover' });
    await act('Retire');
    expect(await screen.findByText(/Plover is retired; its history stays/)).toBeTruthy();
    expect(asked.find((a) => a.name === 'retireBoat')!.body).toEqual({ version: 6, retired: true });
    cleanup();
    await open({ retireBoat: () => refusal(409, 'Plover is out on hire today.') });
    await screen.findByRole('heading', { name: 'Plover' });
    await act('Retire');
    expect(await screen.findByText('Plover is out on hire today.')).toBeTruthy();
  });

  test('one that is retired is given no work; who does not steer changes nothing', async () => {
    await open({ readBoat: { ...plover, retired: true } });
    expect(await screen.findByText('North Quay, berth 6, retired')).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Hand out work' })).toBeNull();
    expect(screen.getByRole('button', { name: 'Take back' })).toBeTruthy();
    cleanup();
    await open({}, 'stores');
    await screen.findByRole('heading', { name: 'Plover' });
    expect(screen.queryByRole('button', { name: 'Retire' })).toBeNull();
  });

  test('one that is not there says so', async () => {
    await open({ readBoat: () => refusal(404, 'There is no such boat.') });
    expect(await screen.findByText('There is no such boat.')).toBeTruthy();
  });
});
