import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { cleanup, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, page, refusal, signedIn, type Asked } from '../test/page.tsx';
import { SignIn } from './SignIn.tsx';

beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);
const user = userEvent.setup();
const inside = signedIn('technician').readSession as object;
const outside = { ...inside, person: null, demoAccounts: [], company: 'Test Boats' };
const account = { username: 'ines', name: 'Ines Okoye', role: 'technician', password: 'shorebird-demo' };

const open = async (replies: Record<string, unknown>, session: object = outside) => {
  const asked = answer({ ...signedIn('technician'), readSession: session, ...replies } as Parameters<typeof answer>[0]);
  await page(<SignIn />, { path: '/door', at: '/door' });
  return asked;
};
const sent = (asked: Asked[]) => asked.filter((a) => a.name === 'signIn').map((a) => a.body);
const type = async (name: string, password: string) => {
  await user.type(await screen.findByLabelText(/^Name/), name);
  await user.type(screen.getByLabelText(/^Password/), password);
  await user.click(screen.getByRole('button', { name: 'Open the book' }));
};

test('the right name and password open the book; on a shared device it is said so', async () => {
  const asked = await open({ signIn: inside });
  await user.click(await screen.findByLabelText(/Others use this device too/));
  await type('ines', 'a long pass phrase');
  expect(await screen.findByText('another page')).toBeTruthy();
  expect(sent(asked)).toEqual([{ username: 'ines', password: 'a long pass phrase', shared: true }]);
});

test('a wrong one keeps the door shut, says why, and what was typed stays', async () => {
  await open({ signIn: () => refusal(401, 'Name or password is wrong.') });
  await type('ines', 'nope');
  expect((await screen.findByRole('alert')).textContent).toContain('Name or password is wrong.');
  expect(screen.getByLabelText<HTMLInputElement>(/^Name/).value).toBe('ines');
  expect(screen.queryByLabelText(/^Code/)).toBeNull();
});

test('where a code is wanted it is asked for, and goes with the name and the password', async () => {
  const asked = await open({
    signIn: (a: Asked) =>
      (a.body as { code?: string }).code === '123456'
        ? inside
        : refusal(401, 'Type the six figures of your authenticator.', { type: 'second-factor' }),
  });
  await type('ilse', 'a long pass phrase');
  await user.type(await screen.findByLabelText(/^Code/), '123456');
  await user.click(screen.getByRole('button', { name: 'Open the book' }));
  expect(await screen.findByText('another page')).toBeTruthy();
  expect(sent(asked).at(-1)).toEqual({
    username: 'ilse',
    password: 'a long pass phrase',
    shared: false,
    code: '123456',
  });
});

test('a demo book opens as one of its people with one click; another book shows none of them', async () => {
  const asked = await open({ signIn: inside }, { ...outside, demoAccounts: [account] });
  await user.click(await screen.findByRole('button', { name: /Ines Okoye/ }));
  expect(await screen.findByText('another page')).toBeTruthy();
  expect(sent(asked)).toEqual([{ username: 'ines', password: 'shorebird-demo', shared: false }]);
  cleanup();
  await open({});
  await screen.findByRole('button', { name: 'Open the book' });
  expect(screen.queryByText('The invented yard')).toBeNull();
});

test('an empty book is begun at the door', async () => {
  await open({}, { ...outside, firstRun: true });
  await waitFor(() => {
    expect(screen.getByRole('button', { name: /Begin|book/i })).toBeTruthy();
  });
  expect(screen.queryByLabelText(/Others use this device too/)).toBeNull();
});
