import { afterEach, describe, expect, test } from '@jest/globals';
import { cleanup, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, page, refusal, signedIn } from '../test/page.tsx';
import { Minutes } from './Minutes.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const person = (name: string, more: object = {}) => ({
  personId: name.length,
  version: 3,
  name,
  pace: 1,
  learned: 1.18,
  times: 9,
  ...more,
});
const WORK = { task: 'impeller' as const, modelId: 2, modelName: 'Corvane 60', estimate: 50, minutes: 72, times: 4 };
const DRAIN = { ...WORK, task: 'gear-lube' as const, estimate: 18, minutes: 27, times: 3 };
const open = async (
  people: ReturnType<typeof person>[],
  more: Parameters<typeof answer>[0] = {},
  role: Parameters<typeof signedIn>[0] = 'coordinator',
) => {
  const asked = answer({ ...signedIn(role), minutes: { people, works: [WORK], drains: [DRAIN] }, ...more });
  await page(<Minutes />);
  await screen.findByRole('heading', { name: 'By technician' });
  return asked;
};
const rows = () => screen.getAllByRole('row').map((r) => r.textContent);

describe('minutes learned', () => {
  test('stand beside the estimate with what they rest on; who was never measured is left out', async () => {
    await open([person('Sven Achterberg'), person('Ines Okoye', { times: 0 })]);
    expect(rows().find((r) => r.includes('Corvane'))).toMatch(/Corvane 6050 min1 h 124 times$/);
    expect(rows().some((r) => r.startsWith('Sven Achterberg1.001.189 times'))).toBe(true);
    expect(rows().some((r) => r.startsWith('Ines Okoye'))).toBe(false);
    expect(screen.getByRole('heading', { name: 'Draining by itself' })).toBeTruthy();
    expect(rows().find((r) => r.includes('27 min'))).toMatch(/Gear lubeCorvane 6018 min27 min3 times$/);
  });

  test('a pace is taken over into plans when it differs; a difference of 2 % is none', async () => {
    const asked = await open([person('Sven Achterberg'), person('Tadeo', { learned: 1.02 })], {
      setPace: { id: 4, version: 4 },
    });
    expect(screen.queryByRole('button', { name: /for Tadeo/ })).toBeNull();
    await user.click(screen.getByRole('button', { name: 'plan with it: 1.18 for Sven Achterberg' }));
    expect(await screen.findByText('Plans and cards of Sven Achterberg count with 1.18 from now on.')).toBeTruthy();
    expect(asked.find((a) => a.name === 'setPace')!.body).toEqual({ pace: 1.18, version: 3 });
  });

  test('refused, it is told; a technician sees it and changes nobody’s', async () => {
    await open([person('Sven Achterberg')], { setPace: () => refusal(409, 'Somebody else changed it.') });
    await user.click(screen.getByRole('button', { name: /^plan with it/ }));
    expect(await screen.findByText('Somebody else changed it.')).toBeTruthy();
    cleanup();
    await open([person('Sven Achterberg')], {}, 'technician');
    expect(screen.queryByRole('button', { name: /^plan with it/ })).toBeNull();
  });

  test('nothing measured yet says how it comes', async () => {
    await open([], { minutes: { people: [], works: [], drains: [] } });
    expect(screen.getByText(/Nothing was measured yet/)).toBeTruthy();
    expect(screen.getByText('Nobody’s time was measured yet.')).toBeTruthy();
    expect(screen.queryByText('Draining by itself')).toBeNull();
  });
});
