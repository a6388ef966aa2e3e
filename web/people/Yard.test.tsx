import { afterEach, describe, expect, jest, test } from '@jest/globals';
import type { Person } from '@diurna/contract/people';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, page, refusal, signedIn } from '../test/page.tsx';
import { FirstRun } from './FirstRun.tsx';
import { Yard } from './Yard.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const sven: Person = {
  id: 4,
  version: 2,
  name: 'Sven Achterberg',
  username: 'sven',
  role: 'technician',
  baseId: 1,
  active: true,
};
const settings = {
  version: 1,
  company: 'Test Boats',
  currency: 'EUR',
  shelfPolicy: 'refuse' as const,
  secondFactor: false,
  morningMinute: 360,
  clock: '24' as const,
  weekStarts: 1 as const,
  volumes: 'litres' as const,
};
const open = async (role: Parameters<typeof signedIn>[0], more: Parameters<typeof answer>[0] = {}) => {
  const asked = answer({
    ...signedIn(role),
    listPeople: [sven, { ...sven, id: 5, name: 'Tove Lind', username: 'tove', role: 'dock', active: false }],
    readSettings: settings,
    ...more,
  });
  await page(<Yard />);
  await screen.findByText('Sven Achterberg');
  return asked;
};

describe('the yard', () => {
  test('an administrator edits a person; an empty password stays as it is and is not sent', async () => {
    const asked = await open('administrator', { editPerson: { id: 4, version: 3 } });
    await user.click(screen.getByRole('button', { name: 'Edit Sven Achterberg' }));
    const sheet = within(await screen.findByRole('dialog'));
    await user.selectOptions(sheet.getByLabelText('Role'), 'coordinator');
    await user.click(sheet.getByRole('button', { name: 'Keep the changes' }));
    expect(await screen.findByText('Sven Achterberg is in the yard’s list.')).toBeTruthy();
    expect(asked.find((a) => a.name === 'editPerson')!.body).toEqual({
      version: 2,
      name: 'Sven Achterberg',
      username: 'sven',
      role: 'coordinator',
      baseId: 1,
      active: true,
    });
  });

  test('a new person wants a name, a name to sign in with and a password that is long enough', async () => {
    const asked = await open('administrator');
    await user.click(screen.getByRole('button', { name: 'Add a person' }));
    const sheet = within(await screen.findByRole('dialog'));
    await user.type(sheet.getByLabelText(/^Signs in as/), '9lives');
    await user.type(sheet.getByLabelText(/^Password/), 'short');
    await user.click(sheet.getByRole('button', { name: 'Add the person' }));
    expect(await sheet.findByText(/too short/)).toBeTruthy();
    expect(sheet.getByText(/a letter first/)).toBeTruthy();
    expect(asked.some((a) => a.name === 'addPerson')).toBe(false);
  });

  test('one’s own password: the present one is wanted; a wrong one is told in the form', async () => {
    const asked = await open('technician', {
      changePassword: () => refusal(422, 'The present password is another one.'),
    });
    expect(screen.queryByRole('button', { name: 'Add a person' })).toBeNull();
    await user.click(screen.getByRole('button', { name: 'Change your password' }));
    const sheet = within(await screen.findByRole('dialog'));
    await user.type(sheet.getByLabelText(/^Present password/), 'what-it-was');
    await user.type(sheet.getByLabelText(/^New password/), 'a-longer-one-now');
    await user.click(sheet.getByRole('button', { name: 'Change it' }));
    expect((await sheet.findByRole('alert')).textContent).toBe('The present password is another one.');
    expect(asked.find((a) => a.name === 'changePassword')!.body).toEqual({
      current: 'what-it-was',
      next: 'a-longer-one-now',
    });
  });

  test('settings are kept with the version they were read with', async () => {
    const asked = await open('administrator', { editSettings: { version: 2 } });
    await user.selectOptions(
      await screen.findByLabelText(/^When a job takes more/),
      'let the person go on, and mark it',
    );
    await user.click(screen.getByRole('button', { name: 'Keep the settings' }));
    expect(await screen.findByText('The settings are kept.')).toBeTruthy();
    expect(asked.find((a) => a.name === 'editSettings')!.body).toEqual({ ...settings, shelfPolicy: 'mark' });
  });

  test('hours, weeks and volumes are written as the yard likes, here at once', async () => {
    const asked = await open('administrator', { editSettings: { version: 2 } });
    await user.selectOptions(await screen.findByLabelText('Hours are written'), '2:30 pm');
    await user.selectOptions(screen.getByLabelText('A week begins on'), 'Sunday');
    await user.selectOptions(screen.getByLabelText('Volumes are written in'), 'US quarts');
    await user.click(screen.getByRole('button', { name: 'Keep the settings' }));
    await screen.findByText('The settings are kept.');
    expect(asked.find((a) => a.name === 'editSettings')!.body).toEqual({
      ...settings,
      clock: '12',
      weekStarts: 7,
      volumes: 'quarts',
    });
    // Whoever is signed in writes so from now on: the session is read anew.
    await waitFor(() => {
      expect(asked.filter((a) => a.name === 'readSession').length).toBeGreaterThan(1);
    });
  });

  test('a manager sees who works here and changes nobody', async () => {
    await open('manager');
    expect(screen.getByText('Tove Lind').closest('tr')!.textContent).toMatch(/tove.*dock/);
    expect(screen.queryByRole('button', { name: /^Edit/ })).toBeNull();
    expect(screen.queryByRole('heading', { name: 'Settings' })).toBeNull();
  });
});

describe('an empty book', () => {
  test('is begun with a company, a base and its administrator; what is missing is told at its field', async () => {
    const begun = { ...settings };
    const asked = answer({ ...signedIn('administrator'), firstRun: begun as never });
    const done = jest.fn();
    await page(<FirstRun onDone={done} />);
    await user.click(screen.getByRole('button', { name: 'Begin the book' }));
    await waitFor(() => {
      expect(screen.getAllByText(/is missing/).length).toBeGreaterThan(1);
    });
    expect(asked.some((a) => a.name === 'firstRun')).toBe(false);
    const fill = async (label: RegExp, text: string) => {
      await user.clear(screen.getByLabelText(label));
      await user.type(screen.getByLabelText(label), text);
    };
    await fill(/^Company/, 'Harbour Hire');
    await fill(/^First base/, 'Mole');
    await fill(/^Its time zone/, 'Nowhere/Town');
    await fill(/^Your name/, 'Asa Berg');
    await fill(/^Name to sign in with/, 'asa');
    await fill(/^Password/, 'long enough to keep');
    await user.click(screen.getByRole('button', { name: 'Begin the book' }));
    expect(await screen.findByText(/is no time zone/)).toBeTruthy();
    await fill(/^Its time zone/, 'Pacific/Auckland');
    await user.selectOptions(screen.getByLabelText('Hemisphere'), 'south');
    await user.click(screen.getByRole('button', { name: 'Begin the book' }));
    await waitFor(() => {
      expect(done).toHaveBeenCalledWith(begun);
    });
    expect(asked.find((a) => a.name === 'firstRun')!.body).toEqual({
      company: 'Harbour Hire',
      currency: 'EUR',
      baseName: 'Mole',
      timeZone: 'Pacific/Auckland',
      hemisphere: 'south',
      name: 'Asa Berg',
      username: 'asa',
      password: 'long enough to keep',
    });
  });
});
