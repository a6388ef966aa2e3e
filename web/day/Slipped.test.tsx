import { afterEach, beforeAll, describe, expect, jest, test } from '@jest/globals';
import type { DayPerson } from '@diurna/contract/day';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { boardOf, lookOf, standingVisit, taskAt } from '../test/board.ts';
import { dayOf } from '../test/day.ts';
import { typeHour } from '../test/day-field.ts';
import { answer, page, refusal, signedIn, type Asked } from '../test/page.tsx';
import { planWorkers } from '../test/workers.ts';
import { Slipped } from './Slipped.tsx';

beforeAll(planWorkers);
afterEach(cleanup);
const user = userEvent.setup();
const person = (id: number, name: string, shift: DayPerson['shift'] = { from: 480, to: 960 }): DayPerson => ({
  id,
  name,
  baseId: 1,
  baseName: 'North Quay',
  skills: [],
  shift,
  pause: null,
  visits: [],
});
const day = dayOf({
  now: 540,
  people: [person(3, 'Ines Okoye'), person(4, 'Sven Achterberg'), person(5, 'Tadeo Lund', null)],
});
/** Ines has Razorbill's oil and impeller today; Sven has Plover's oil tomorrow. */
const standing = [
  standingVisit({ boat: '1', day: 0, technician: '3', tasks: [taskAt(0), taskAt(1)], jobId: 71 }),
  standingVisit({ boat: '2', day: 1, technician: '4', tasks: [taskAt(2)], jobId: 72 }),
];
const close = jest.fn();
const open = async (more: Parameters<typeof answer>[0] = {}): Promise<Asked[]> => {
  close.mockClear();
  const asked = answer({
    ...signedIn('coordinator'),
    readBoard: boardOf({ standing }),
    lookAtPlan: lookOf(standing),
    acceptPlan: { id: 9, changeId: 4, added: 0, moved: 1, calledOff: 0, kept: 1 },
    ...more,
  });
  await page(<Slipped day={day} baseId={null} onClose={close} />);
  await screen.findByRole('region', { name: 'Something slipped' });
  return asked;
};
const choose = (kind: string) => user.selectOptions(screen.getByLabelText('What slipped'), kind);
const which = () => [...screen.getByLabelText<HTMLSelectElement>('Which').options].map((o) => o.text);
const button = (name: string) => screen.getByRole<HTMLButtonElement>('button', { name });
const arranged = async () => {
  await user.click(button('Rearrange the rest of the day'));
  return within((await screen.findAllByRole('status'))[0]!);
};

describe('something slipped', () => {
  test('offers what can slip: people on duty, visits of today, boats at their base, parts of today’s work', async () => {
    await open();
    // Tadeo is off, so nobody has to say that he is away.
    expect(which()).toEqual(['Ines Okoye', 'Sven Achterberg']);
    await choose('a job takes longer');
    expect(which()).toEqual(['Razorbill, Ines']);
    await choose('a boat comes back late');
    expect(which()).toEqual(['Razorbill']);
    await choose('a part is missing');
    expect(which()).toEqual(['Impeller kit at North Quay']);
    expect(button('Rearrange the rest of the day').disabled).toBe(true);
  });

  test('what slipped is noted in words, once, and can be taken back; a time is wanted where it counts', async () => {
    await open();
    await user.click(button('Note it'));
    await user.click(button('Note it'));
    expect(screen.getAllByText('Ines is away today')).toHaveLength(1);
    await choose('a boat comes back late');
    expect(button('Note it').disabled).toBe(true);
    await typeHour('Back at', '11:30');
    await user.click(button('Note it'));
    expect(screen.getByText('Razorbill is back at 11:30')).toBeTruthy();
    await user.click(screen.getAllByRole('button', { name: 'take back' })[0]!);
    expect(screen.queryByText('Ines is away today')).toBeNull();
  });

  test('somebody ill: what only she can do moves to a day when she is back; nothing is kept before it is taken', async () => {
    const asked = await open();
    await user.click(button('Note it'));
    const found = await arranged();
    const moved = (await found.findAllByRole('listitem')).map((l) => l.textContent);
    // The impeller wants the skill of lower units, which Ines alone has, so it cannot go to Sven.
    expect(moved.join()).toMatch(/Razorbill/);
    // Every card that changes is named with where it was and where it goes, and who hears of it.
    expect(moved.join()).toMatch(/Wed 15 Apr.* (to|with) /);
    expect(found.getByText(/^Told once each: /)).toBeTruthy();
    expect(asked.some((a) => a.name === 'acceptPlan')).toBe(false);
    await user.click(button('Take it'));
    expect(await screen.findByText(/1 card moved, 0 called off. Everybody it touches is told/)).toBeTruthy();
    expect(close).toHaveBeenCalled();
    const { visits, jobs } = asked.find((a) => a.name === 'acceptPlan')!.body as {
      visits: { technician: string; day: number; tasks: string[] }[];
      jobs: unknown[];
    };
    expect(jobs).toEqual([
      { id: 71, version: 1 },
      { id: 72, version: 1 },
    ]);
    for (const v of visits) {
      if (v.technician === '3') expect(v.day).toBeGreaterThan(0);
      if (v.tasks.includes(taskAt(1))) expect(v.technician).toBe('3');
    }
  });

  test('it can be taken only once what moves is shown', async () => {
    let show = () => {};
    const shown = new Promise<void>((done) => {
      show = done;
    });
    await open({ lookAtPlan: (asked: Asked) => shown.then(() => lookOf(standing)(asked)) });
    await user.click(button('Note it'));
    await arranged();
    expect(button('Take it').disabled).toBe(true);
    show();
    await waitFor(() => {
      expect(button('Take it').disabled).toBe(false);
    });
  });

  test('a plan that others changed meanwhile is refused, and it says how to begin anew', async () => {
    await open({ acceptPlan: () => refusal(409, 'The plan was changed meanwhile.', { type: 'stale' }) });
    await user.click(button('Note it'));
    await arranged();
    await user.click(button('Take it'));
    expect(await screen.findByText('The plan was changed meanwhile.')).toBeTruthy();
    expect(screen.getByText(/open it again to start from what stands now/)).toBeTruthy();
    expect(close).not.toHaveBeenCalled();
  });

  test('a change of what slipped throws away what was found for the old', async () => {
    await open();
    await user.click(button('Note it'));
    await arranged();
    await user.click(screen.getByRole('button', { name: 'take back' }));
    await waitFor(() => {
      expect(screen.queryByRole('button', { name: 'Take it' })).toBeNull();
    });
  });

  test('a board that cannot be read is told', async () => {
    answer({ ...signedIn('coordinator'), readBoard: () => refusal(503, 'The database does not answer.') });
    await page(<Slipped day={day} baseId={null} onClose={close} />);
    expect(await screen.findByText('The database does not answer.')).toBeTruthy();
  });
});
