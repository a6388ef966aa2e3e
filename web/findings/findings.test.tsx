import { afterEach, describe, expect, test } from '@jest/globals';
import type { FindingRow } from '@diurna/contract/findings';
import type { JobCard as Card } from '@diurna/contract/jobs';
import type { ReadingValue } from '@diurna/core/findings';
import { foldCard, visitSteps, workFacts, type CardAct, type CardEntry, type Step } from '@diurna/core/visit';
import { cleanup, screen } from '@testing-library/react';
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
      onRead={(key, value) => {
        read.push([key, value]);
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
