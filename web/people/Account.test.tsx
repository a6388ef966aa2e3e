import { afterEach, describe, expect, test } from '@jest/globals';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { SignIn } from '../app/SignIn.tsx';
import { answer, page, refusal, signedIn, DONE, type Asked } from '../test/page.tsx';
import { Account } from './Account.tsx';
import { Halfway } from './Halfway.tsx';

const user = userEvent.setup();
afterEach(cleanup);

const nobody = { ...(signedIn('technician').readSession as object), person: null, csrfToken: '' };
const DEVICES = [
  {
    key: 'a'.repeat(22),
    device: 'Chrome on Linux, desktop',
    begun: '2026-04-13T08:00:00Z',
    seen: '2026-04-15T10:00:00Z',
    shared: false,
    here: true,
  },
  {
    key: 'b'.repeat(22),
    device: 'Safari on iOS, phone',
    begun: '2026-04-14T08:00:00Z',
    seen: '2026-04-14T17:00:00Z',
    shared: true,
    here: false,
  },
];
const OFF = { on: false, asked: false, recoveryLeft: 0 };
const CODES = Array.from({ length: 10 }, (_, i) => `AAAA-BBBB-CCCC-22${i}${i}`);

describe('the door', () => {
  test('a shared device is told; where a code is wanted as well it is asked for and sent', async () => {
    let tries = 0;
    const asked = answer({
      readSession: nobody as never,
      signIn: () => (++tries === 1 ? refusal(401, 'Now type the six figures.', { type: 'second-factor' }) : nobody),
    });
    await page(<SignIn />);
    await user.type(await screen.findByLabelText(/^Name/), 'ilse');
    await user.type(screen.getByLabelText(/^Password/), 'copper heron tidal jig');
    expect(screen.queryByLabelText(/^Code/)).toBeNull();
    await user.click(screen.getByRole('checkbox', { name: /Others use this device/ }));
    await user.click(screen.getByRole('button', { name: 'Open the book' }));
    await user.type(await screen.findByLabelText(/^Code/), '123456');
    await user.click(screen.getByRole('button', { name: 'Open the book' }));
    await waitFor(() => {
      expect(asked.filter((a) => a.name === 'signIn').map((a) => a.body)).toEqual([
        { username: 'ilse', password: 'copper heron tidal jig', shared: true },
        { username: 'ilse', password: 'copper heron tidal jig', shared: true, code: '123456' },
      ]);
    });
  });
});

describe('one’s own account', () => {
  test('lists where one is signed in; another device is signed out, this one is not offered', async () => {
    const asked = answer({ ...signedIn('dock'), listDevices: DEVICES, readSecondFactor: OFF, endDevice: DONE });
    await page(<Account />);
    const row = (await screen.findByText('Safari on iOS, phone')).closest('tr')!;
    expect(row.textContent).toContain('shared with others');
    expect(screen.getByText('now, here')).toBeTruthy();
    expect(screen.queryByRole('button', { name: /Sign out Chrome/ })).toBeNull();
    await user.click(within(row).getByRole('button', { name: 'Sign out Safari on iOS, phone' }));
    await waitFor(() => {
      expect(asked.find((a: Asked) => a.name === 'endDevice')?.url.pathname).toBe(
        `/api/session/devices/${'b'.repeat(22)}`,
      );
    });
  });

  test('a second factor: password, picture and secret, first code, codes to keep', async () => {
    const asked = answer({
      ...signedIn('dock'),
      listDevices: [],
      readSecondFactor: OFF,
      beginSecondFactor: { secret: 'ABCDEFGH', uri: 'otpauth://totp/x?secret=ABCDEFGH' },
      confirmSecondFactor: { recoveryCodes: CODES },
    });
    await page(<Account />);
    await user.click(await screen.findByRole('button', { name: 'Set up a second factor' }));
    await user.type(screen.getByLabelText(/^Your password/), 'copper heron tidal jig');
    await user.click(screen.getByRole('button', { name: 'Set it up' }));
    expect(await screen.findByText('ABCD EFGH')).toBeTruthy();
    expect(screen.getByTitle('For the authenticator')).toBeTruthy();
    await user.type(screen.getByLabelText(/^The six figures/), '287082');
    await user.click(screen.getByRole('button', { name: 'Confirm' }));
    expect(await screen.findByText(CODES[9]!)).toBeTruthy();
    expect(asked.find((a) => a.name === 'confirmSecondFactor')!.body).toEqual({ code: '287082' });
    await user.click(screen.getByRole('button', { name: 'I have kept them' }));
    expect(screen.queryByText(CODES[9]!)).toBeNull();
  });

  test('one that is on is ended with the password; where the yard asks for it, it is not offered', async () => {
    const asked = answer({
      ...signedIn('coordinator'),
      listDevices: [],
      readSecondFactor: { on: true, asked: false, recoveryLeft: 7 },
      endSecondFactor: () => refusal(422, 'The password is not right.'),
    });
    await page(<Account />);
    expect((await screen.findByText(/^On:/)).textContent).toContain('7 of 10');
    await user.click(screen.getByRole('button', { name: 'Sign in by password alone' }));
    await user.type(screen.getByLabelText(/^Your password/), 'wrong');
    await user.click(screen.getByRole('button', { name: 'End the second factor' }));
    expect((await screen.findByRole('alert')).textContent).toBe('The password is not right.');
    expect(asked.find((a) => a.name === 'endSecondFactor')!.body).toEqual({ password: 'wrong' });
    cleanup();
    answer({
      ...signedIn('coordinator'),
      listDevices: [],
      readSecondFactor: { on: true, asked: true, recoveryLeft: 7 },
    });
    await page(<Account />);
    await screen.findByText(/The yard asks it/);
    expect(screen.queryByRole('button', { name: 'Sign in by password alone' })).toBeNull();
  });

  test('asked for and not set up: the page that sets it up, and nothing else', async () => {
    answer({ ...signedIn('coordinator'), beginSecondFactor: () => refusal(422, 'The password is not right.') });
    await page(<Halfway name="Ilse Maren" />);
    expect(await screen.findByRole('heading', { name: 'One thing first' })).toBeTruthy();
    await user.type(screen.getByLabelText(/^Your password/), 'guess');
    await user.click(screen.getByRole('button', { name: 'Set it up' }));
    expect((await screen.findByRole('alert')).textContent).toBe('The password is not right.');
    expect(screen.getByRole('button', { name: 'Sign out' })).toBeTruthy();
  });
});
