import { afterEach, expect, jest, test } from '@jest/globals';
import type { HoursRow } from '@diurna/contract/usage';
import { cleanup, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { HoursSheet } from './HoursSheet.tsx';
import type { Sheet, Typed } from './judge.ts';

afterEach(cleanup);
const row = (engineId: number, boatName: string, lastCount: number | null): HoursRow => ({
  engineId,
  boatId: engineId,
  boatName,
  position: 'single',
  baseId: 1,
  modelName: 'Corvane 60',
  meterId: engineId,
  meterOffset: 0,
  lastCount,
  lastDay: lastCount === null ? null : '2026-04-14',
  daysSince: lastCount === null ? null : 1,
  recent: lastCount === null ? [] : [{ day: '2026-04-14', hours: lastCount }],
});

function Sheeted({ told }: { told: (id: number, typed: Typed) => void }) {
  const [sheet, setSheet] = useState<Sheet>({});
  return (
    <HoursSheet
      rows={[row(1, 'Avocet', 418.9), row(2, 'Dunlin', 100), row(3, 'Skua', null)]}
      sheet={sheet}
      day="2026-04-15"
      onType={(id, typed) => {
        told(id, typed);
        setSheet((s) => ({ ...s, [id]: typed }));
      }}
    />
  );
}

test('Enter goes down the column, arrow up back; a figure below the last reading is questioned in place', async () => {
  const told = jest.fn();
  render(<Sheeted told={told} />);
  const user = userEvent.setup();
  const field = (boat: string) => screen.getByLabelText(`Hours of ${boat}`);
  await user.click(field('Avocet'));
  await user.keyboard('410{Enter}101.5');
  expect(document.activeElement).toBe(field('Dunlin'));
  expect(screen.getByText(/8\.9 h below the last reading/)).toBeTruthy();
  expect(screen.getByText('+1.5 h')).toBeTruthy();
  await user.keyboard('{ArrowUp}');
  expect(document.activeElement).toBe(field('Avocet'));
  expect(told).toHaveBeenLastCalledWith(2, expect.objectContaining({ count: '101.5' }));
});
