import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { JobCard as Card } from '@diurna/contract/jobs';
import type { CardAct } from '@diurna/core/visit';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { cardOf } from '../test/card.ts';
import { answer, page, readyButton, refusal, signedIn } from '../test/page.tsx';
import { Conflicts } from './Conflicts.tsx';
import { FollowUps } from './FollowUps.tsx';
import { liveCard } from './live-card.ts';
import { MoveJob } from './MoveJob.tsx';
import { Trouble } from './Trouble.tsx';
import { Waste } from './Waste.tsx';

beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);
const user = userEvent.setup();
const me = { id: 3, name: 'Ines Okoye' };
const live = (card: Card) => liveCard(card, [], me);
const writer = () => {
  const acts: CardAct[] = [];
  return {
    acts,
    write: (act: CardAct) => {
      acts.push(act);
      return Promise.resolve();
    },
  };
};
const people = [
  { id: 3, name: 'Ines Okoye' },
  { id: 4, name: 'Sven Achterberg' },
].map((p) => ({ ...p, version: 1, username: p.name, role: 'technician' as const, baseId: 1, active: true }));
const press = (name: string) => user.click(screen.getByRole('button', { name }));
const entry = (n: number, by: number, act: CardAct, against: number | null = null): Card['entries'][number] => ({
  id: `00000000-0000-4000-8000-00000000000${n}`,
  seq: n,
  by,
  at: Date.parse('2026-04-15T09:00:00Z') + n * 60_000,
  act,
  seen: 0,
  against,
});

describe('something wrong', () => {
  const open = async (card = cardOf(['grease']), more: Parameters<typeof answer>[0] = {}) => {
    const asked = answer({ ...signedIn('technician'), listPeople: people, ...more });
    const close = jest.fn();
    const { acts, write } = writer();
    await page(<Trouble live={live(card)} write={write} onClose={close} />);
    return { asked, acts, close };
  };

  test('the head has the keyboard; a remark is kept once it says something new', async () => {
    const { acts, close } = await open();
    expect(document.activeElement).toBe(screen.getByRole('heading', { name: 'Something wrong' }));
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Keep the remark' }).disabled).toBe(true);
    await user.type(screen.getByLabelText('Remark, for the next one'), ' Bracket is bent ');
    await press('Keep the remark');
    expect(acts).toEqual([{ kind: 'remark', text: 'Bracket is bent' }]);
    expect(close).toHaveBeenCalled();
  });

  test('a pause says what it waits for; a paused card goes on', async () => {
    const { acts } = await open();
    await user.type(screen.getByLabelText('What it waits for'), 'the seal kit');
    await press('Pause the card');
    expect(acts).toEqual([{ kind: 'pause', on: true, why: 'the seal kit' }]);
    cleanup();
    const paused = await open(cardOf(['grease'], { entries: [entry(1, 3, acts[0]!)] }));
    expect(screen.queryByRole('button', { name: 'Pause the card' })).toBeNull();
    await press('Go on');
    expect(paused.acts).toEqual([{ kind: 'pause', on: false, why: null }]);
  });

  test('a hold wants a reason, and of twins which engine', async () => {
    const single = cardOf(['grease']);
    const twins = cardOf(['grease'], {
      engines: [
        { ...single.engines[0]!, position: 'port' },
        { ...single.engines[0]!, id: 2, position: 'starboard' },
      ],
    });
    const { acts } = await open(twins);
    const hold = screen.getByRole<HTMLButtonElement>('button', { name: 'Hold the engine' });
    await user.type(screen.getByLabelText('Why it is held'), 'No water from the tell-tale');
    expect(hold.disabled).toBe(true);
    await user.selectOptions(screen.getByLabelText('Engine'), 'starboard');
    await user.click(hold);
    expect(acts).toEqual([{ kind: 'hold', engineId: 2, why: 'No water from the tell-tale' }]);
  });

  test('the card goes to a colleague as it stands; refused, it stays here', async () => {
    let refuse = true;
    const { asked, close } = await open(cardOf(['grease']), {
      handOver: () => (refuse ? refusal(409, 'The card was changed meanwhile.') : { id: 12, version: 4 }),
    });
    const to = await screen.findByLabelText<HTMLSelectElement>('To');
    await waitFor(() => {
      expect([...to.options].map((o) => o.text)).toEqual(['a colleague', 'Sven Achterberg']);
    });
    await user.selectOptions(to, 'Sven Achterberg');
    await user.type(screen.getByLabelText('Word to them'), 'Oil is in, filter is not');
    await press('Hand it over');
    expect((await screen.findByRole('alert')).textContent).toBe('The card was changed meanwhile.');
    expect(close).not.toHaveBeenCalled();
    refuse = false;
    await press('Hand it over');
    expect(await screen.findByText('Razorbill is now with Sven, as it stands.')).toBeTruthy();
    expect(asked.filter((a) => a.name === 'handOver').at(-1)!.body).toEqual({
      version: 3,
      technicianId: 4,
      note: 'Oil is in, filter is not',
    });
  });
});

describe('two entries that contradict each other', () => {
  // Ines read a compression of 900 kPa; Sven, without signal then, 600.
  const read = (value: number): CardAct => ({ kind: 'read', key: '1 compression#1', value: { value, unit: 'kPa' } });
  const card = cardOf(['compression'], {
    people: [{ id: 4, name: 'Sven Achterberg' }],
    entries: [entry(1, 3, read(900)), entry(2, 4, read(600), 1)],
  });

  test('both are shown with who and what; one is said to count', async () => {
    answer(signedIn('technician'));
    const { acts, write } = writer();
    await page(<Conflicts live={live(card)} mayDecide write={write} />);
    const both = screen.getAllByRole('listitem').map((li) => li.textContent);
    expect(both[0]).toMatch(/^Ines, .*900 kPa/);
    expect(both[1]).toMatch(/^Sven, .*without signal then: .*600 kPa/);
    await press('Ines’s counts');
    await press('Sven’s counts');
    expect(acts).toEqual([
      { kind: 'settle', entry: card.entries[1]!.id, take: false },
      { kind: 'settle', entry: card.entries[1]!.id, take: true },
    ]);
  });

  test('who may not decide reads them; settled they are gone', async () => {
    answer(signedIn('dock'));
    const { unmount } = await page(<Conflicts live={live(card)} mayDecide={false} write={writer().write} />);
    expect(screen.getAllByRole('listitem')).toHaveLength(2);
    expect(screen.queryByRole('button')).toBeNull();
    unmount();
    const settled = {
      ...card,
      entries: [...card.entries, entry(3, 3, { kind: 'settle', entry: card.entries[1]!.id, take: true })],
    };
    await page(<Conflicts live={live(settled)} mayDecide write={writer().write} />);
    expect(screen.queryAllByRole('listitem')).toEqual([]);
  });
});

describe('waste', () => {
  const sump = { value: 2.1, unit: 'L' as const };
  const done = cardOf(['engine-oil'], {
    sump,
    entries: [entry(1, 3, { kind: 'task', engineId: 1, task: 'engine-oil', done: true })],
  });

  test('what the work takes out is worked out from the label; measured, another figure is kept with its unit', async () => {
    answer(signedIn('technician'));
    const { acts, write } = writer();
    await page(<Waste live={live(done)} editable write={write} />);
    const oil = screen.getByLabelText<HTMLInputElement>('Waste: used oil');
    expect([oil.value, oil.placeholder]).toEqual(['', '2.1']);
    await user.type(oil, '1,8');
    await user.tab();
    expect(acts).toEqual([{ kind: 'read', key: '0 waste#used oil', value: { value: 1.8, unit: 'L' } }]);
  });

  test('booked, it says what was measured and what is by the label', async () => {
    answer(signedIn('technician'));
    const booked = {
      ...done,
      status: 'done' as const,
      waste: [{ stream: 'used oil', quantity: 1800, measured: false }],
    };
    await page(<Waste live={live(booked)} editable={false} write={writer().write} />);
    expect(screen.getByRole('row').textContent).toBe('used oil by the label1.8 L');
  });
});

test('what is asked for besides the card: after what, by when, else at the next return', async () => {
  answer(signedIn('technician'));
  const ask = (id: number, more: object) => ({
    id,
    engineId: 1,
    task: 'gear-seals' as const,
    why: 'Milky gear lube.',
    state: 'open' as const,
    dueOn: null,
    waitsFor: null,
    jobId: 12,
    at: '2026-04-15T09:00:00Z',
    by: 'Ines Okoye',
    ...more,
  });
  const card = cardOf(['grease'], {
    followUps: [
      ask(1, { dueOn: '2026-04-20' }),
      ask(2, { task: 'gear-lube', waitsFor: 'gear-seals' }),
      ask(3, { task: 'anodes' }),
      // It stands on the card itself.
      ask(4, { task: 'grease' }),
    ],
  });
  await page(<FollowUps card={card} />);
  expect(screen.getAllByRole('listitem').map((li) => li.textContent.replace(/\. .*/, ''))).toEqual([
    'Gear-case seals Mon 20 Apr',
    'Gear lube after gear-case seals',
    'Anodes at the next return',
  ]);
});

describe('the coordinator', () => {
  const open = async (more: Parameters<typeof answer>[0]) => {
    const asked = answer({ ...signedIn('coordinator'), listPeople: people, ...more });
    await page(<MoveJob card={cardOf(['grease'])} />);
    await screen.findByRole('option', { name: 'Sven Achterberg' });
    return asked;
  };

  test('moves a card with the version he saw, adds a task to it', async () => {
    const asked = await open({ editJob: { id: 12, version: 4, changeId: 4 } });
    expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Move the card' }).disabled).toBe(true);
    // Who is in the yard comes by itself.
    await within(screen.getByLabelText('Technician')).findByRole('option', { name: 'Sven Achterberg' });
    await user.selectOptions(screen.getByLabelText('Technician'), 'Sven Achterberg');
    await user.click(await readyButton('Move the card'));
    expect(await screen.findByText('Razorbill is now with Sven on Wed 15 Apr.')).toBeTruthy();
    const tasks = screen.getByLabelText<HTMLSelectElement>('Add a task');
    // What is on the card already is not offered again.
    expect([...tasks.options].map((o) => o.text)).not.toContain('Grease');
    await user.selectOptions(tasks, 'Anodes');
    await user.click(await readyButton('Add it to the card'));
    await waitFor(() => {
      expect(asked.filter((a) => a.name === 'editJob').map((a) => a.body)).toEqual([
        { version: 3, day: '2026-04-15', technicianId: 4, tasks: [{ engineId: 1, task: 'grease' }] },
        {
          version: 3,
          day: '2026-04-15',
          technicianId: 3,
          tasks: [
            { engineId: 1, task: 'grease' },
            { engineId: 1, task: 'anodes' },
          ],
        },
      ]);
    });
  });

  test('calls it off with a reason', async () => {
    const asked = await open({ cancelJob: { changeId: 4 } });
    await press('Call the job off');
    const ask = within(await screen.findByRole('dialog'));
    await user.type(ask.getByRole('textbox'), 'Sold');
    await user.click(ask.getByRole('button', { name: 'Call it off' }));
    await screen.findByText('another page');
    expect(asked.find((a) => a.name === 'cancelJob')!.body).toEqual({ version: 3, reason: 'Sold' });
  });
});
