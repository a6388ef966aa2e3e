import { afterEach, describe, expect, test } from '@jest/globals';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { typeHour } from '../test/day-field.ts';
import { answer, page, refusal, signedIn } from '../test/page.tsx';
import { Bases } from './Bases.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const open = async (more: Parameters<typeof answer>[0] = {}, role: Parameters<typeof signedIn>[0] = 'coordinator') => {
  const asked = answer({ ...signedIn(role), addBase: { id: 2, version: 1 }, editBase: { id: 1, version: 2 }, ...more });
  await page(<Bases />);
  await screen.findByRole('table');
  return asked;
};
const act = (name: string) => user.click(screen.getByRole('button', { name }));
const sheet = () => within(screen.getByRole('dialog'));
const fill = async (label: string, text: string) => {
  await user.clear(sheet().getByLabelText(label));
  await user.type(sheet().getByLabelText(label), text);
};

describe('bases', () => {
  test('each stands with the day it is there, its working days and the hours of a person', async () => {
    await open();
    const [row] = screen.getAllByRole('row').slice(1);
    expect(row!.textContent).toMatch(/North Quay.*Atlantic\/Madeira.*15 Apr 2026.*north.*Mon Tue Wed Thu Fri.*8 h 00/);
  });

  test('a change carries its version, its hours as minutes after midnight and the days that were turned on and off', async () => {
    const asked = await open();
    await act('Edit North Quay');
    // A browser gives whole times of the day only.
    await typeHour('Boats can be worked on from', '06:30', sheet());
    await user.click(sheet().getByRole('button', { name: 'Sat' }));
    await user.click(sheet().getByRole('button', { name: 'Mon' }));
    expect(sheet().getByRole('button', { name: 'Mon', pressed: false })).toBeTruthy();
    await user.click(sheet().getByRole('button', { name: 'Keep the changes' }));
    expect(await screen.findByText('North Quay is in the book.')).toBeTruthy();
    expect(asked.find((a) => a.name === 'editBase')!.body).toEqual({
      version: 1,
      name: 'North Quay',
      timeZone: 'Atlantic/Madeira',
      hemisphere: 'north',
      dayMinutes: 480,
      workdays: [2, 3, 4, 5, 6],
      liftSlots: 1,
      opensAt: 390,
      closesAt: 1020,
      breakMinutes: 30,
      breakFrom: 690,
      breakTo: 840,
    });
    expect(screen.queryByRole('dialog')).toBeNull();
  });

  test('a new one in the south; a time zone nobody knows is told at its field, and nothing is sent', async () => {
    const asked = await open();
    await act('Add a base');
    await fill('Name', 'South Spit');
    await user.selectOptions(sheet().getByLabelText('Hemisphere'), 'south');
    await fill('Time zone', 'Middle/Nowhere');
    await user.click(sheet().getByRole('button', { name: 'Add the base' }));
    await waitFor(() => {
      expect(sheet().getByLabelText('Time zone').getAttribute('aria-invalid')).toBe('true');
    });
    expect(asked.some((a) => a.name === 'addBase')).toBe(false);
    expect(sheet().getByText(/is no time zone/)).toBeTruthy();
    await fill('Time zone', 'Pacific/Auckland');
    await user.click(sheet().getByRole('button', { name: 'Add the base' }));
    await waitFor(() => {
      expect(asked.find((a) => a.name === 'addBase')?.body).toMatchObject({
        name: 'South Spit',
        timeZone: 'Pacific/Auckland',
        hemisphere: 'south',
        liftSlots: 2,
        workdays: [1, 2, 3, 4, 5],
        opensAt: 420,
        closesAt: 1140,
      });
    });
  });

  test('refused, the sheet stays with what was typed', async () => {
    await open({ editBase: () => refusal(409, 'There is a South Spit already. Choose another name.') });
    await act('Edit North Quay');
    await fill('Name', 'South Spit');
    await user.click(sheet().getByRole('button', { name: 'Keep the changes' }));
    expect((await sheet().findByRole('alert')).textContent).toMatch(/There is a South Spit already/);
    expect(sheet().getByLabelText<HTMLInputElement>('Name').value).toBe('South Spit');
  });

  test('a dock hand reads them only', async () => {
    await open({}, 'dock');
    expect(screen.queryByRole('button', { name: 'Add a base' })).toBeNull();
    expect(screen.queryByRole('button', { name: 'Edit North Quay' })).toBeNull();
  });
});
