import { afterEach, expect, test } from '@jest/globals';
import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, page, signedIn } from '../test/page.tsx';
import { Bases } from './Bases.tsx';

afterEach(cleanup);
const user = userEvent.setup();

test('a base in words; its hours are typed as times of the day, its days ticked', async () => {
  const asked = answer({ ...signedIn('coordinator'), editBase: { id: 1, version: 2 } });
  await page(<Bases />);
  expect((await screen.findByText('North Quay')).closest('tr')!.textContent).toMatch(
    /Atlantic\/Madeira15 Apr 2026northMon Tue Wed Thu Fri8 h 00/,
  );
  await user.click(screen.getByRole('button', { name: 'Edit North Quay' }));
  const sheet = within(await screen.findByRole('dialog'));
  fireEvent.change(sheet.getByLabelText('Boats can be worked on from'), { target: { value: '06:30' } });
  await user.click(sheet.getByRole('button', { name: 'Sat' }));
  await user.click(sheet.getByRole('button', { name: 'Mon' }));
  await user.click(sheet.getByRole('button', { name: 'Keep the changes' }));
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
  });
});

test('a new base wants a zone that there is', async () => {
  const asked = answer({ ...signedIn('coordinator'), addBase: { id: 2, version: 1 } });
  await page(<Bases />);
  await user.click(await screen.findByRole('button', { name: 'Add a base' }));
  const sheet = within(await screen.findByRole('dialog'));
  await user.type(sheet.getByLabelText(/^Name/), 'Outer Mole');
  await user.clear(sheet.getByLabelText(/^Time zone/));
  await user.type(sheet.getByLabelText(/^Time zone/), 'Madeira time');
  await user.click(sheet.getByRole('button', { name: 'Add the base' }));
  expect(await sheet.findByText(/is no time zone/)).toBeTruthy();
  expect(asked.some((a) => a.name === 'addBase')).toBe(false);
  await user.clear(sheet.getByLabelText(/^Time zone/));
  await user.type(sheet.getByLabelText(/^Time zone/), 'Atlantic/Madeira');
  await user.click(sheet.getByRole('button', { name: 'Add the base' }));
  await waitFor(() => {
    expect(asked.find((a) => a.name === 'addBase')?.body).toMatchObject({
      name: 'Outer Mole',
      workdays: [1, 2, 3, 4, 5],
      opensAt: 420,
      closesAt: 1140,
    });
  });
});

test('a technician reads them', async () => {
  answer(signedIn('technician'));
  await page(<Bases />);
  await screen.findByText('North Quay');
  expect(screen.queryByRole('button')).toBeNull();
});
