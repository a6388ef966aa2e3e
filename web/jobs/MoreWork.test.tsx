import { afterEach, beforeEach, describe, expect, jest, test } from '@jest/globals';
import type { JobCard as Card } from '@diurna/contract/jobs';
import type { CardAct } from '@diurna/core/visit';
import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { cardOf } from '../test/card.ts';
import { answer, page, refusal, signedIn } from '../test/page.tsx';
import { liveCard } from './live-card.ts';
import { MoreWork } from './MoreWork.tsx';
import { Talk } from './Talk.tsx';

beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);
const user = userEvent.setup();
const me = { id: 3, name: 'Ines Okoye' };
const people = [
  { id: 3, name: 'Ines Okoye' },
  { id: 4, name: 'Sven Achterberg' },
].map((p) => ({ ...p, version: 1, username: p.name, role: 'technician' as const, baseId: 1, active: true }));
const entry = (n: number, by: number, act: CardAct): Card['entries'][number] => ({
  id: `00000000-0000-4000-8000-00000000000${n}`,
  seq: n,
  by,
  at: Date.parse('2026-04-15T09:00:00Z') + n * 60_000,
  act,
  seen: 0,
  against: null,
});
const unfold = (name: string) => user.click(screen.getByRole('button', { name }));

async function open(card = cardOf(['gear-lube'], { technicianId: 3 }), more: Parameters<typeof answer>[0] = {}) {
  const asked = answer({ ...signedIn('technician'), listPeople: people, ...more });
  const acts: CardAct[] = [];
  const done = jest.fn();
  const write = (act: CardAct) => {
    acts.push(act);
    return Promise.resolve();
  };
  const live = liveCard(card, [], me);
  await page(
    <>
      <MoreWork live={live} write={write} onDone={done} />
      <Talk live={live} editable write={write} />
    </>,
  );
  return { asked, acts, done };
}

describe('what is seldom wanted', () => {
  test('a question for the desk goes on the card; an answer goes back on it', async () => {
    const { acts, done } = await open(
      cardOf(['gear-lube'], { entries: [entry(1, 4, { kind: 'say', text: 'Keep the old propeller.' })] }),
    );
    expect(screen.getByRole('region', { name: 'Words on this card' }).textContent).toContain('Keep the old propeller.');
    await unfold('Ask the coordinator');
    await user.type(screen.getByLabelText('What you want to know'), 'Seals today?');
    await user.click(screen.getByRole('button', { name: 'Ask' }));
    await user.type(screen.getByLabelText('Answer'), 'Will do{Enter}');
    expect(acts).toEqual([
      { kind: 'say', text: 'Seals today?' },
      { kind: 'say', text: 'Will do' },
    ]);
    expect(done).toHaveBeenCalledTimes(1);
  });

  test('more work: only what is not on the card and the engine has, with a reason; a refusal is told', async () => {
    const { asked } = await open(undefined, {
      addCardTasks: () => refusal(409, 'Anodes stands on another card already, Sven’s of 2026-04-15.'),
    });
    await unfold('More work on this card');
    const work = screen.getByRole<HTMLSelectElement>('combobox', { name: 'Work' });
    const words = [...work.options].map((o) => o.text);
    expect(words).not.toContain('Gear lube');
    expect(words).toContain('Anodes');
    const add = screen.getByRole<HTMLButtonElement>('button', { name: 'Add it' });
    await user.selectOptions(work, 'Anodes');
    expect(add.disabled).toBe(true);
    await user.type(screen.getByLabelText('Why'), 'half gone');
    await user.click(add);
    await screen.findByText(/stands on another card already/);
    expect(asked.find((a) => a.name === 'addCardTasks')!.body).toMatchObject({
      tasks: [{ engineId: 1, task: 'anodes' }],
      why: 'half gone',
    });
  });

  test('what is against more work is told before it is added; the reason given goes with it', async () => {
    const { asked } = await open(undefined, {
      previewJob: {
        minutes: 90,
        savedMinutes: 0,
        parts: [],
        partsUnknown: [],
        against: [{ bar: 'no hours', text: 'Ines has other work that day.', frees: null }],
      },
      addCardTasks: { id: 12, version: 5 },
    });
    await unfold('More work on this card');
    await user.selectOptions(screen.getByRole('combobox', { name: 'Work' }), 'Anodes');
    expect(await screen.findByText('Ines has other work that day.')).toBeTruthy();
    expect(screen.queryByLabelText('Why it is handed out all the same')).toBeNull();
    await user.type(screen.getByLabelText('Why'), 'half gone');
    await user.click(screen.getByRole('button', { name: 'Add it' }));
    expect(await screen.findByText(/Anodes is on the card; the desk knows/)).toBeTruthy();
    expect(asked.find((a) => a.name === 'previewJob')!.body).toMatchObject({ meant: { jobId: 12, technicianId: 3 } });
  });

  test('the step at hand is left out for a reason', async () => {
    const { acts } = await open();
    await unfold('Leave a step out');
    expect(screen.getByText(/^Tools, pans and absorbent laid out/)).toBeTruthy();
    const out = screen.getByRole<HTMLButtonElement>('button', { name: 'Leave it out' });
    expect(out.disabled).toBe(true);
    await user.type(screen.getByLabelText('Why it is left out'), 'laid out since morning');
    await user.click(out);
    expect(acts).toEqual([{ kind: 'skip', step: 'arrive', why: 'laid out since morning' }]);
  });

  test('a second person is let onto the card, and off it; only by whose card it is', async () => {
    const helped = cardOf(['gear-lube'], {
      technicianId: 3,
      entries: [entry(1, 3, { kind: 'join', personId: 4, on: true })],
    });
    const { acts } = await open(helped);
    await unfold('A second person writes too');
    await screen.findByText(/Sven Achterberg/);
    await user.click(screen.getByRole('button', { name: 'No longer' }));
    expect(acts).toEqual([{ kind: 'join', personId: 4, on: false }]);
    cleanup();
    const mine = await open();
    await unfold('A second person writes too');
    await waitFor(() => {
      expect([...screen.getByRole<HTMLSelectElement>('combobox', { name: 'Who' }).options].map((o) => o.text)).toEqual([
        'a colleague',
        'Sven Achterberg',
      ]);
    });
    await user.selectOptions(screen.getByRole('combobox', { name: 'Who' }), 'Sven Achterberg');
    await user.click(screen.getByRole('button', { name: 'Let them write' }));
    expect(mine.acts).toEqual([{ kind: 'join', personId: 4, on: true }]);
    cleanup();
    await open(cardOf(['gear-lube'], { technicianId: 4 }));
    await unfold('A second person writes too');
    expect(screen.getByText('Whose card it is says who else writes on it.')).toBeTruthy();
  });
});
