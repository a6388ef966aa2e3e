import { afterEach, describe, expect, test } from '@jest/globals';
import type { FindingRow } from '@diurna/contract/findings';
import type { JobCard as Card } from '@diurna/contract/jobs';
import type { ReadingValue } from '@diurna/core/findings';
import { foldCard, visitSteps, workFacts, type CardAct, type CardEntry, type Step } from '@diurna/core/visit';
import { cleanup, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { liveCard } from '../jobs/live-card.ts';
import { cardOf } from '../test/card.ts';
import { answer, page, signedIn } from '../test/page.tsx';
import { Findings } from './Findings.tsx';
import { Readings } from './ReadingInput.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const facts = workFacts({ powerHp: 60, stroke: 4, cylinders: 4 });
const sump = { value: 2.1, unit: 'L' as const };

/** The first step of a task that asks for a kind of reading. */
function stepAsking(task: 'compression' | 'engine-oil', kind: string): Step {
  const steps = visitSteps([{ engineId: 1, task, cylinders: 4, engine: { facts, sump, gearCase: null } }]);
  return steps.find((s) => s.readings.some((r) => r === kind))!;
}
async function ask(step: Step, entries: CardEntry[] = [], more: Partial<Card> = {}) {
  answer(signedIn('technician'));
  const read: [string, ReadingValue][] = [];
  const card = cardOf([step.task!], { sump, ...more });
  await page(
    <Readings
      card={card}
      step={step}
      state={foldCard(entries)}
      disabled={false}
      onRead={(keys, value) => {
        for (const key of keys) read.push([key, value]);
      }}
    />,
  );
  return read;
}
const reading = (n: number, key: string, value: ReadingValue): CardEntry => ({
  id: `00000000-0000-4000-8000-00000000000${n}`,
  seq: n,
  by: 3,
  at: n,
  act: { kind: 'read', key, value },
  seen: 0,
  against: null,
});

describe('readings at a step', () => {
  test('compression: a field a cylinder, kept by Enter or on leaving it; words are no figure', async () => {
    const read = await ask(stepAsking('compression', 'compression'));
    const fields = screen.getAllByRole('textbox');
    expect(fields).toHaveLength(4);
    await user.type(fields[0]!, '128{Enter}');
    await user.type(fields[1]!, 'high');
    expect(screen.getByText('Figures only, such as 2.7')).toBeTruthy();
    await user.tab();
    expect(read).toEqual([['1 compression#1', { value: 128, unit: 'psi' }]]);
  });

  test('what cannot be read says why, for every cylinder that is not read yet; what needs no reading is left empty', async () => {
    const step = stepAsking('compression', 'compression');
    const read = await ask(step, [reading(1, '1 compression#1', { value: 128, unit: 'psi' })]);
    await user.click(screen.getByRole('button', { name: /^not possible, because/ }));
    const keep = screen.getByRole('button', { name: 'Keep the reason' });
    expect(keep.hasAttribute('disabled')).toBe(true);
    await user.type(screen.getByRole('textbox', { name: /^Compression: why/ }), 'gauge broken');
    await user.click(keep);
    expect(read).toEqual([2, 3, 4].map((n) => [`1 compression#${n}`, { not: 'gauge broken' }]));
    cleanup();
    await ask(
      step,
      [1, 2, 3, 4].map((n) => reading(n, `1 compression#${n}`, { not: 'gauge broken' })),
    );
    expect(screen.getByText('Not possible: gauge broken')).toBeTruthy();
    cleanup();
    await ask(stepAsking('engine-oil', 'oil out'));
    expect(screen.queryByRole('button', { name: /^not possible.*\(oil out\)/ })).toBeNull();
  });

  test('how far cylinders lie apart, as soon as two are read, in whichever unit each was', async () => {
    const kpa = (n: number, value: number) => reading(n, `1 compression#${n}`, { value, unit: 'kPa' });
    await ask(stepAsking('compression', 'compression'), [kpa(1, 1000)]);
    expect(screen.getByText(/apart is the most\.$/)).toBeTruthy();
    cleanup();
    // 1000 and 960 kPa lie 4 % apart: within what passes (common practice, no source).
    await ask(stepAsking('compression', 'compression'), [kpa(1, 1000), kpa(2, 960)]);
    expect(screen.getByRole('status').textContent).toMatch(/^4 % apart: passes,.* so far\.$/);
    cleanup();
    // 100 psi are 689.5 kPa (NIST SP 811): 31 % below 1000.
    await ask(stepAsking('compression', 'compression'), [
      kpa(1, 1000),
      reading(2, '1 compression#2', { value: 100, unit: 'psi' }),
    ]);
    expect(screen.getByRole('status').textContent).toMatch(/^31\.1 % apart: more than .*a cylinder is weak/);
  });

  test('oil put in: a figure that fits another unit of the label is questioned as it is typed', async () => {
    await ask(stepAsking('engine-oil', 'oil in'));
    const field = screen.getByRole<HTMLInputElement>('textbox', { name: /.+/ });
    expect(field.placeholder).toBe('2.1');
    // 2.1 L are 2.22 US quarts of 946.353 mL (NIST SP 811): who types 2.22 read the wrong column.
    await user.type(field, '2.22');
    expect(screen.getByRole('status').textContent).toMatch(/2\.22 looks like US qt, not L: the label says 2\.1 L/);
  });
});

describe('figures in place', () => {
  const engines = (past: Card['engines'][number]['past'], twin: Card['engines'][number]['twin'] = null) => {
    const card = cardOf(['compression'], { sump });
    return { engines: [{ ...card.engines[0]!, past, twin }] };
  };
  const then = (key: string, value: number) => ({ key, day: '2025-05-12', hours: 300, value: { value, unit: 'psi' } });

  test('what no engine can have is refused at the field, and not kept', async () => {
    const read = await ask(stepAsking('compression', 'compression'));
    const field = screen.getAllByRole<HTMLInputElement>('textbox')[1]!;
    await user.type(field, '99999{Enter}');
    expect(screen.getByRole('alert').textContent).toMatch(/^Compression, cylinder 2, lies between 0 and 363 psi/);
    expect(field.getAttribute('aria-invalid')).toBe('true');
    await user.tab();
    expect(read).toEqual([]);
  });

  test('the last reading and the twin’s stand beside the field; what is far off them is asked about, and kept', async () => {
    const read = await ask(
      stepAsking('compression', 'compression'),
      [],
      engines([then('1 compression#1', 130)], {
        engineId: 2,
        position: 'starboard',
        past: [then('2 compression#1', 128)],
      }),
    );
    expect(
      screen.getByText('Last time, 12 May 2025: 130 psi · On the starboard one, 12 May 2025: 128 psi'),
    ).toBeTruthy();
    await user.type(screen.getAllByRole('textbox')[0]!, '90');
    expect(screen.getByText('130 psi last time. Is it right?')).toBeTruthy();
    await user.keyboard('{Enter}');
    expect(read).toEqual([['1 compression#1', { value: 90, unit: 'psi' }]]);
  });

  test('all cylinders alike are said in one press', async () => {
    const steps = visitSteps([
      { engineId: 1, task: 'spark-plugs', cylinders: 4, engine: { facts, sump, gearCase: null } },
    ]);
    const read = await ask(steps.find((s) => s.readings.includes('plug look'))!);
    await user.click(
      within(screen.getByRole('radiogroup', { name: 'All alike' })).getByRole('radio', { name: 'light and dry' }),
    );
    expect(read.map(([key]) => key)).toEqual([1, 2, 3, 4].map((n) => `1 plug look#${n}`));
  });

  test('out, in and label stand together where the last of the oil goes in', async () => {
    const litres = (n: number, key: string, value: number) => reading(n, key, { value, unit: 'L' });
    await ask(stepAsking('engine-oil', 'oil added'), [
      litres(1, '1 oil out', 1.9),
      litres(2, '1 oil in', 1.89),
      litres(3, '1 oil topped up', 0.1),
    ]);
    expect(screen.getByText('Out 1.9 L, in 1.99 L, label 2.1 L.')).toBeTruthy();
  });
});

describe('what was found', () => {
  const found: FindingRow = {
    id: 1,
    key: '1 milky-lube',
    jobId: 12,
    engineId: 1,
    weight: 'hold',
    seen: 'The gear lube came out milky.',
    means: 'Water is in the gear case.',
    does: 'The engine is held until the seals are done.',
    proposals: [{ kind: 'hold', checks: ['gear-seals'] }],
    state: 'open',
    by: null,
    reason: null,
    at: '2026-04-15T09:00:00Z',
  };
  const show = async (finding: FindingRow, mayDecide = true) => {
    answer(signedIn('technician'));
    const acts: CardAct[] = [];
    await page(
      <Findings
        live={liveCard(cardOf(['gear-lube']), [], { id: 3, name: 'Ines Okoye' })}
        findings={[finding]}
        mayDecide={mayDecide}
        write={(act) => {
          acts.push(act);
          return Promise.resolve();
        }}
      />,
    );
    return acts;
  };

  test('a hold says what it means and defers to the manual; taken by one press', async () => {
    const acts = await show(found);
    expect(screen.getByRole('article').textContent).toMatch(/hold.*milky.*Water is in the gear case/);
    expect(screen.getByText(/Follow the engine maker’s manual/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Hold the engine' }));
    expect(acts).toEqual([{ kind: 'decide', finding: '1 milky-lube', take: true, reason: null }]);
  });

  test('decided, it is a line: what follows on demand, taken back, or done on this card', async () => {
    const taken: FindingRow = {
      ...found,
      state: 'taken',
      by: 'Ines Okoye',
      proposals: [
        { kind: 'hold', checks: ['gear-seals'] },
        { kind: 'follow-up', task: 'gear-seals', when: 'now' },
        { kind: 'follow-up', task: 'gear-lube', when: 'after the one before' },
      ],
    };
    const acts = await show(taken);
    expect(screen.queryByText(/Water is in the gear case/)).toBeNull();
    await user.click(screen.getByRole('button', { name: 'What follows' }));
    expect(screen.getByText(/Water is in the gear case/)).toBeTruthy();
    // The lube stands on the card already.
    expect(screen.getByRole('button', { name: 'Do on this card: gear-case seals' })).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Take it back' }));
    expect(acts).toEqual([{ kind: 'undecide', finding: '1 milky-lube' }]);
  });

  test('how many are still to be decided is said', async () => {
    await show(found);
    expect(screen.getByRole('status').textContent).toBe('One is still to be decided.');
  });

  test('otherwise wants a reason', async () => {
    const acts = await show({ ...found, weight: 'act' });
    await user.click(screen.getByRole('button', { name: /^Otherwise/ }));
    const write = screen.getByRole<HTMLButtonElement>('button', { name: 'Write it down' });
    expect(write.disabled).toBe(true);
    await user.type(screen.getByLabelText('Why not as proposed'), 'Rain in the pan');
    await user.click(write);
    expect(acts).toEqual([{ kind: 'decide', finding: '1 milky-lube', take: false, reason: 'Rain in the pan' }]);
  });

  test('a stop cannot be taken: the figure is corrected, or somebody says why it may go on', async () => {
    await show({ ...found, weight: 'stop' });
    expect(screen.getByText(/cannot be finished like this/)).toBeTruthy();
    expect(screen.queryByRole('button', { name: /As proposed|Hold the engine/ })).toBeNull();
    expect(screen.getByRole('button', { name: /^Otherwise/ })).toBeTruthy();
  });

  test('decided, it says by whom; who may not decide reads it', async () => {
    await show({ ...found, state: 'overridden', by: 'Sven Achterberg', reason: 'Rain in the pan' });
    expect(screen.getByText(/\(Sven\): Rain in the pan/)).toBeTruthy();
    cleanup();
    await show(found, false);
    expect(screen.queryByRole('button')).toBeNull();
  });
});
