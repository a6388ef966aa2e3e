import { afterEach, describe, expect, test } from '@jest/globals';
import { cleanup, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { cardOf } from '../test/card.ts';
import { answer, page, signedIn } from '../test/page.tsx';
import { liveCard } from './live-card.ts';
import { StepTools } from './Tools.tsx';

afterEach(cleanup);
const user = userEvent.setup();

async function show(stepId: string, drainSocketMm: number | null = null) {
  answer(signedIn('technician'));
  const card = cardOf(['engine-oil']);
  const live = liveCard(card, [], { id: 3, name: 'Ines Okoye' });
  const step = live.byId.get(stepId)!.step;
  await page(<StepTools live={live} step={{ ...step, toolMm: drainSocketMm }} />);
}

describe('tools', () => {
  test('the visit begins with all of them to lay out, each once', async () => {
    await show('arrive');
    const items = within(screen.getByRole('list')).getAllByRole('listitem');
    const words = items.map((i) => i.textContent);
    expect(words).toContain('drain pan');
    expect(words).toContain('socket for the drain screw, size by the manual');
    expect(new Set(words).size).toBe(words.length);
  });
  test('a step names its own; another size at hand is judged, and a near one refused with the difference', async () => {
    await show('1 engine-oil/drain', 18);
    expect(screen.getByText(/socket for the drain screw/)).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Another size at hand?' }));
    await user.type(screen.getByLabelText('Size as stamped'), '3/4 in');
    // 19.05 mm (NIST SP 811).
    expect(screen.getByRole('status').textContent).toBe(
      '3/4 in for 18 mm: 1.05 mm over, rounds the head. Get the right one.',
    );
    await user.clear(screen.getByLabelText('Size as stamped'));
    await user.type(screen.getByLabelText('Size as stamped'), 'red');
    expect(screen.getByRole('status').textContent).toBe('A size such as 19 mm or 3/4 in.');
  });
  test('where the manual has the size there is nothing to judge', async () => {
    await show('1 engine-oil/drain');
    expect(screen.queryByRole('button', { name: 'Another size at hand?' })).toBeNull();
  });
});
