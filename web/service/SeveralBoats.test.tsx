import { afterEach, describe, expect, test } from '@jest/globals';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { due, row } from '../test/due.ts';
import { answer, page, signedIn, type Asked } from '../test/page.tsx';
import { Due } from './Due.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const counts = { over: 2, due: 1, soon: 0, unknown: 0, fine: 1 };
const open = async (more: Parameters<typeof answer>[0], role: Parameters<typeof signedIn>[0] = 'coordinator') => {
  const asked = answer({
    ...signedIn(role),
    listModels: [],
    dueList: { rows: [row(11)], total: 1, page: 1, size: 50, counts, engines: 1 },
    listPeople: [],
    listHires: { rows: [], total: 0, page: 1, size: 200 },
    ...more,
  });
  await page(<Due />, { path: '/', at: '/?view=list' });
  return asked;
};

describe('several boats at once', () => {
  const BOATS = [
    row(11),
    row(11, { due: due({ task: 'oil-filter' }) }),
    row(21, { boatId: 2, boatName: 'Dunlin', position: 'single', due: due({ task: 'oil-filter', state: 'due' }) }),
    row(31, { boatId: 3, boatName: 'Knot', position: 'single', due: due({ state: 'fine' }) }),
    row(41, { boatId: 4, boatName: 'Ruff', position: 'single', job: { id: 9, day: '2026-04-16', technician: 'Sven' } }),
  ];
  const cardsOf = (a: Asked) => (a.body as { cards: { boatId: number }[] }).cards;
  const HANDS = ['Sven Achterberg', 'Tove Lind'].map((name, i) => ({
    id: 4 + i,
    version: 1,
    name,
    username: `p${i}`,
    role: 'technician' as const,
    baseId: 1,
    active: true,
  }));

  test('what presses and is on no card, dealt to the technicians of the base; one press hands it out', async () => {
    const asked = await open({
      listPeople: HANDS,
      dueList: { rows: BOATS, total: BOATS.length, page: 1, size: 200, counts, engines: 4 },
      lookAtSeveral: (a: Asked) => cardsOf(a).map(() => ({ minutes: 45, against: [] })),
      decideSeveral: (a: Asked) => ({ changeId: 8, cards: cardsOf(a).length }),
    });
    await user.click(screen.getByRole('button', { name: 'Hand out several boats' }));
    const sheet = within(await screen.findByRole('dialog'));
    // Knot is fine, and Ruff's work is on a card.
    expect((await sheet.findAllByRole('checkbox')).length).toBe(2);
    expect(sheet.getByText(/over: port: engine oil, oil filter/)).toBeTruthy();
    // Nobody decided anything yet.
    expect(asked.filter((a) => a.name === 'lookAtSeveral')).toEqual([]);
    await user.click(sheet.getByRole('button', { name: 'all 2' }));
    expect(await sheet.findByText(/2 chosen, 1 h 30 in all/)).toBeTruthy();
    await user.selectOptions(sheet.getByLabelText('Who works on Dunlin'), 'Sven Achterberg');
    await waitFor(() => {
      expect(sheet.getByRole<HTMLButtonElement>('button', { name: 'Hand out 2 boats' }).disabled).toBe(false);
    });
    await user.click(sheet.getByRole('button', { name: 'Hand out 2 boats' }));
    await waitFor(() => {
      expect(asked.find((a) => a.name === 'decideSeveral')?.body).toEqual({
        cards: [
          {
            boatId: 1,
            technicianId: 4,
            day: '2026-04-15',
            tasks: [
              { engineId: 11, task: 'engine-oil' },
              { engineId: 11, task: 'oil-filter' },
            ],
          },
          {
            boatId: 2,
            technicianId: 4,
            day: '2026-04-15',
            // A filter brings its oil.
            tasks: [
              { engineId: 21, task: 'oil-filter' },
              { engineId: 21, task: 'engine-oil' },
            ],
          },
        ],
        moves: [],
      });
    });
    expect(await screen.findByText(/2 boats handed out for/)).toBeTruthy();
  });

  test('who does not decide is not offered it', async () => {
    await open({}, 'technician');
    await screen.findAllByRole('row');
    expect(screen.queryByRole('button', { name: 'Hand out several boats' })).toBeNull();
  });
});
