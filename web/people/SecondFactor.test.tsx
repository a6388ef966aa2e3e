import { afterEach, describe, expect, test } from '@jest/globals';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, DONE, page, refusal, signedIn } from '../test/page.tsx';
import { SecondFactor } from './SecondFactor.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const SECRET = 'JBSWY3DPEHPK3PXP';
const CODES = Array.from({ length: 10 }, (_, i) => `abcd-${1000 + i}`);
const open = async (more: Parameters<typeof answer>[0] = {}) => {
  const asked = answer({
    ...signedIn('coordinator'),
    readSecondFactor: { on: false, asked: false, recoveryLeft: 0 },
    beginSecondFactor: { secret: SECRET, uri: `otpauth://totp/Diurna:ines?secret=${SECRET}` },
    confirmSecondFactor: { recoveryCodes: CODES },
    endSecondFactor: DONE,
    ...more,
  });
  await page(<SecondFactor />);
  await screen.findByRole('heading', { name: 'Second factor' });
  return asked;
};
const act = (name: string) => user.click(screen.getByRole('button', { name }));
const upToCode = async () => {
  await act('Set up a second factor');
  await user.type(screen.getByLabelText(/^Your password/), 'a long password');
  await act('Set it up');
  await screen.findByLabelText(/^The six figures it shows/);
};

describe('the second factor', () => {
  test('is set up by password, picture and first code; the codes for recovery are shown once, then it is over', async () => {
    const asked = await open();
    expect(screen.getByText('Off: your password alone opens the book.')).toBeTruthy();
    await upToCode();
    // As one types it where no picture can be taken.
    expect(screen.getByText('JBSW Y3DP EHPK 3PXP')).toBeTruthy();
    expect(screen.getByTitle('For the authenticator')).toBeTruthy();
    await user.type(screen.getByLabelText(/^The six figures it shows/), '123456');
    await act('Confirm');
    const codes = within(await screen.findByRole('list', { name: 'Codes for recovery' })).getAllByRole('listitem');
    expect(codes.map((c) => c.textContent)).toEqual(CODES);
    expect(asked.find((a) => a.name === 'beginSecondFactor')!.body).toEqual({ password: 'a long password' });
    expect(asked.find((a) => a.name === 'confirmSecondFactor')!.body).toEqual({ code: '123456' });
    await act('I have kept them');
    expect(screen.queryByRole('list', { name: 'Codes for recovery' })).toBeNull();
  });

  test('a wrong password or code is told where it was typed, and the way goes on from there', async () => {
    let right = false;
    await open({
      beginSecondFactor: () =>
        right ? { secret: SECRET, uri: 'otpauth://totp/x' } : refusal(403, 'That is not your password.'),
      confirmSecondFactor: () => refusal(422, 'That code does not fit. Mind the clock of the phone.'),
    });
    await act('Set up a second factor');
    await user.type(screen.getByLabelText(/^Your password/), 'wrong');
    await act('Set it up');
    expect(await screen.findByText('That is not your password.')).toBeTruthy();
    right = true;
    await act('Set it up');
    await user.type(await screen.findByLabelText(/^The six figures it shows/), '000000');
    await act('Confirm');
    expect(await screen.findByText(/That code does not fit/)).toBeTruthy();
    expect(screen.queryByRole('list', { name: 'Codes for recovery' })).toBeNull();
  });

  test('is ended by the password, or left as it is', async () => {
    const asked = await open({ readSecondFactor: { on: true, asked: false, recoveryLeft: 7 } });
    expect(screen.getByText(/7 of 10 codes for recovery are left/)).toBeTruthy();
    await act('Sign in by password alone');
    await act('Leave it');
    expect(screen.queryByLabelText(/^Your password/)).toBeNull();
    await act('Sign in by password alone');
    await user.type(screen.getByLabelText(/^Your password/), 'a long password');
    await act('End the second factor');
    await waitFor(() => {
      expect(asked.find((a) => a.name === 'endSecondFactor')?.body).toEqual({ password: 'a long password' });
    });
  });

  test('where the yard asks for it nobody is offered to end it', async () => {
    await open({ readSecondFactor: { on: true, asked: true, recoveryLeft: 10 } });
    expect(screen.getByText(/The yard asks it of your role/)).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Sign in by password alone' })).toBeNull();
  });
});
