import { afterEach, beforeAll, beforeEach, describe, expect, test } from '@jest/globals';
import { pricePlan } from '@diurna/core/planner';
import { act, cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { boardOf, lookOf, standingVisit, taskAt } from '../test/board.ts';
import { answer, page, readyButton, refusal, signedIn, type Asked } from '../test/page.tsx';
import { planWorkers } from '../test/workers.ts';
import { Plan } from './Plan.tsx';

beforeAll(planWorkers);
beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);

const user = userEvent.setup();
const button = (name: string | RegExp) => screen.getByRole<HTMLButtonElement>('button', { name });
/** The words of a cell, as they are read out. */
const cell = async (of: RegExp) => (await screen.findByRole('gridcell', { name: of })).textContent;
/** Both boats already have their cards: Razorbill's with Ines on Wednesday, Plover's with Sven on Thursday. */
const standing = [
  standingVisit({ boat: '1', day: 0, technician: '3', tasks: [taskAt(0), taskAt(1)], jobId: 71 }),
  standingVisit({ boat: '2', day: 1, technician: '4', tasks: [taskAt(2)], jobId: 72 }),
];
async function open(board = boardOf({ standing }), more = {}): Promise<Asked[]> {
  const asked = answer({ ...signedIn('coordinator'), readBoard: board, lookAtPlan: lookOf(board.standing), ...more });
  await page(<Plan />);
  await screen.findByRole('grid');
  return asked;
}
const accepted = (asked: Asked[]) =>
  asked.find((a) => a.name === 'acceptPlan')?.body as {
    visits: { boat: string; day: number; technician: string; pinned: boolean; tasks: string[] }[];
    jobs: { id: number; version: number }[];
  };
const ready = () =>
  waitFor(() => {
    expect(button('Accept').disabled).toBe(false);
  });

describe('the plan', () => {
  test('with no card yet it plans by itself; every task gets its place within what people can and boats allow', async () => {
    const asked = await open(boardOf(), {
      acceptPlan: { id: 1, changeId: 4, added: 2, moved: 0, calledOff: 0, kept: 0 },
    });
    // From the first moment on, nothing half worked out can be accepted.
    expect(button('Accept').disabled).toBe(true);
    await ready();
    await user.click(button('Accept'));
    await user.click(await readyButton('Accept the plan'));
    await screen.findByText(/2 new cards/);
    const { visits, jobs } = accepted(asked);
    expect(jobs).toEqual([]);
    expect(visits.flatMap((v) => v.tasks).sort()).toEqual([0, 1, 2].map(taskAt).sort());
    // The impeller wants the lower unit's skill, which Ines alone has; Plover is out on Wednesday.
    expect(visits.find((v) => v.tasks.includes(taskAt(1)))!.technician).toBe('3');
    expect(visits.find((v) => v.boat === '2')!.day).toBe(1);
    // Worked out by hand: (15 + 5 + 40 + 60 min) and (15 + 5 + 40 min) at 60 an hour, a day's delay of Plover's 20.
    const { problem } = boardOf();
    const cost = pricePlan(problem, { visits: visits.map((v) => ({ ...v, start: 480, elapsed: 0 })) }).cost.total;
    expect(cost).toBe(120 + 60 + 20);
  });

  test('what stands is shown in words: who, when, how long; nothing is to be accepted yet', async () => {
    await open();
    expect(await cell(/^Ines, Wed 15 Apr: Razorbill/)).toMatch(/2 tasks, 2 h 00 from 8:00/);
    expect(await cell(/^Sven, Thu 16 Apr: Plover/)).toMatch(/1 task, 1 h 00 from 8:00/);
    expect(await cell(/^Ines, Sat 18 Apr/)).toMatch(/not at work/);
    expect(button('Accept').disabled).toBe(true);
    expect(screen.getByText('not placed').textContent).toMatch(/^0/);
  });

  test('a visit picked up says why it stands there, and what every other place costs or why it cannot be', async () => {
    await open();
    await user.click(await screen.findByRole('button', { name: /^Plover/ }));
    expect(await screen.findByRole('heading', { name: /Why Plover on Thu 16 Apr, Sven/ })).toBeTruthy();
    expect(await screen.findByText(/Leaving it out of this plan would cost/)).toBeTruthy();
    // A day later costs 20 more; on Wednesday the boat is out; on Saturday nobody works.
    expect(await cell(/^Sven, Fri 17 Apr/)).toMatch(/20 dearer/);
    expect(await cell(/^Sven, Wed 15 Apr/)).toMatch(/not possible/);
    expect(await cell(/^Sven, Sat 18 Apr/)).toMatch(/not possible/);
  });

  test('by keyboard: picked up, put down a day later, pinned there; undone, done again, accepted', async () => {
    const asked = await open(undefined, {
      acceptPlan: { id: 1, changeId: 4, added: 0, moved: 1, calledOff: 0, kept: 1 },
    });
    const place = await screen.findByRole('gridcell', { name: /^Sven, Thu 16 Apr/ });
    act(() => {
      place.focus();
    });
    await user.keyboard('{Enter}');
    await screen.findByRole('gridcell', { name: /Fri 17 Apr, Sven: 20 dearer/ });
    await user.keyboard('{ArrowRight}{Enter}');
    expect(await cell(/^Sven, Fri 17 Apr: Plover/)).toMatch(/pinned/);
    await user.keyboard('{Control>}z{/Control}');
    expect(await cell(/^Sven, Thu 16 Apr: Plover/)).not.toMatch(/pinned/);
    expect(button('Accept').disabled).toBe(true);
    await user.click(button('Redo'));
    await ready();
    await user.click(button('Accept'));
    await user.click(await readyButton('Accept the plan'));
    await screen.findByText(/0 new cards, 1 moved/);
    expect(accepted(asked).visits.find((v) => v.boat === '2')).toMatchObject({ day: 2, technician: '4', pinned: true });
    expect(accepted(asked).jobs).toEqual([
      { id: 71, version: 1 },
      { id: 72, version: 1 },
    ]);
  });

  test('some of a visit goes elsewhere, the rest stays', async () => {
    await open();
    await user.click(await screen.findByRole('button', { name: /^Razorbill/ }));
    await user.click(await screen.findByRole('checkbox', { name: /Impeller/ }));
    const offer = await screen.findByRole('gridcell', { name: /^Sven, Thu 16 Apr: Plover.*dearer/ });
    await user.click(within(offer).getByRole('button', { name: /^\+/ }));
    expect(await cell(/^Sven, Thu 16 Apr: .*Razorbill/)).toMatch(/Razorbill, 1 task/);
    expect(await cell(/^Ines, Wed 15 Apr: Razorbill/)).toMatch(/1 task,/);
  });

  test('left out, it is listed as not placed with what stands in the way; planned again, it has its place', async () => {
    await open();
    await user.click(await screen.findByRole('button', { name: /^Plover/ }));
    await user.click(await screen.findByRole('button', { name: 'Leave out of the plan' }));
    const left = (await screen.findByRole('heading', { name: 'Not placed' })).parentElement!;
    expect(await within(left).findByText(/Plover, /)).toBeTruthy();
    expect(screen.getByText('not placed').textContent).toMatch(/^1/);
    await user.click(button('Plan again'));
    await waitFor(() => {
      expect(screen.getByText('not placed').textContent).toMatch(/^0/);
      expect(button('Accept')).toBeTruthy();
    });
  });

  test('what is pinned stays where it is, however dear, when all is planned again', async () => {
    const late = [standing[0]!, { ...standing[1]!, day: 2, pinned: true }];
    await open(boardOf({ standing: late, moveCost: 0 }));
    await user.click(button('Plan again'));
    await screen.findByRole('button', { name: 'Stop, keep this' });
    await screen.findByRole('button', { name: 'Plan again' });
    expect(await cell(/^Sven, Fri 17 Apr: Plover/)).toMatch(/pinned/);
  });

  test('a plan on the table survives leaving the page', async () => {
    await open();
    await user.click(await screen.findByRole('button', { name: /^Plover/ }));
    await user.click(await screen.findByRole('button', { name: 'Leave out of the plan' }));
    await ready();
    cleanup();
    await open();
    await ready();
    expect(screen.getByText('not placed').textContent).toMatch(/^1/);
  });

  test('somebody else accepted meanwhile: what both changed is asked, boat by boat', async () => {
    let reads = 0;
    const theirs = [standing[0]!, { ...standing[1]!, day: 2, version: 2 }];
    const asked = await open(undefined, {
      readBoard: () => boardOf({ standing: reads++ === 0 ? standing : theirs }),
      acceptPlan: () => refusal(409, 'The cards have changed since.', { type: 'stale' }),
    });
    await user.click(await screen.findByRole('button', { name: /^Plover/ }));
    await user.click(await screen.findByRole('button', { name: 'Leave out of the plan' }));
    await ready();
    await user.click(button('Accept'));
    await user.click(await readyButton('Accept the plan'));
    const both = await screen.findByText(/Somebody else accepted a plan meanwhile/);
    expect(both.closest('[role=alert]')!.textContent).toMatch(/Plover: theirs Fri 17 Apr with Sven; yours nothing/);
    expect(button('Accept').disabled).toBe(true);
    await user.click(button('keep theirs'));
    expect(await cell(/^Sven, Fri 17 Apr: Plover/)).toMatch(/Plover/);
    expect(asked.filter((a) => a.name === 'acceptPlan')).toHaveLength(1);
  });

  test('compared with the plan accepted last: what moved and what it costs', async () => {
    const visits = [
      { boat: '1', day: 0, technician: '3', start: 480, elapsed: 120, tasks: [taskAt(0), taskAt(1)] },
      { boat: '2', day: 2, technician: '4', start: 480, elapsed: 60, tasks: [taskAt(2)] },
    ];
    const cost = { total: 0, day: 0, skip: 0, labour: 0, overtime: 0, idle: 0 };
    await open(
      boardOf({
        standing,
        accepted: { id: 9, at: '2026-04-14T12:00:00Z', by: 'Tove Lind', firstDay: '2026-04-15', visits, cost },
      }),
    );
    await user.click(button('Compare'));
    await screen.findByRole('heading', { name: /Beside the plan Tove Lind accepted/ });
    expect(screen.getByText(/moves from Fri 17 Apr, Sven to Thu 16 Apr, Sven/)).toBeTruthy();
    const change = screen.getByRole('rowheader', { name: 'change' }).parentElement!;
    expect(change.textContent).toMatch(/−20/);
  });

  test('what if there were one more technician: priced beside, the plan itself stays', async () => {
    await open();
    await user.click(button('Price it'));
    expect(await screen.findByText('one more technician at North Quay')).toBeTruthy();
    await waitFor(() => {
      expect(screen.queryByText(/working it out/)).toBeNull();
    });
    expect(button('Accept').disabled).toBe(true);
  });

  test('a card whose person is on leave by now stands nowhere: its work is listed as not placed', async () => {
    const technicians = boardOf().problem.technicians.map((t) =>
      t.id === '4' ? { ...t, shift: t.shift.map(() => null) } : t,
    );
    await open(boardOf({ standing }, { technicians }));
    expect(await cell(/^Ines, Wed 15 Apr: Razorbill/)).toMatch(/2 tasks/);
    expect(await cell(/^Sven, Thu 16 Apr/)).toMatch(/away/);
    expect(screen.getByText('not placed').textContent).toMatch(/^1/);
    const left = screen.getByRole('heading', { name: 'Not placed' }).parentElement!;
    expect(await within(left).findByText(/Plover, /)).toBeTruthy();
  });

  test('a technician sees the plan and its reasons, and moves nothing', async () => {
    answer({ ...signedIn('technician'), readBoard: boardOf({ standing }) });
    await page(<Plan />);
    await screen.findByRole('grid');
    expect(screen.queryByRole('button', { name: 'Accept' })).toBeNull();
    await user.click(await screen.findByRole('button', { name: /^Plover/ }));
    expect(await screen.findByText(/Leaving it out/)).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Leave out of the plan' })).toBeNull();
  });

  test('nobody to plan for says where people are added', async () => {
    answer({ ...signedIn('coordinator'), readBoard: boardOf({}, { technicians: [] }) });
    await page(<Plan />);
    expect(await screen.findByText('Nobody to plan for yet.')).toBeTruthy();
  });
});
