import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { act, cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import 'fake-indexeddb/auto';
import { entryOf, put } from '../outbox/outbox.ts';
import { filled } from '../outbox/outbox-state.ts';
import { Account } from '../people/Account.tsx';
import { answer, DONE, page, refusal, signedIn } from '../test/page.tsx';
import { isLocked, lock, nameHere, rememberPerson } from './device.ts';
import { Locked } from './Locked.tsx';
import { SignIn } from './SignIn.tsx';
import { store } from './store.ts';
import { peopleApi } from '../people/api.ts';
import { api } from './api.ts';

const user = userEvent.setup();
const inside = signedIn('technician').readSession as object;
const outside = { ...inside, person: null };
const OFF = { on: false, asked: false, recoveryLeft: 0 };
beforeEach(() => {
  localStorage.clear();
  store.dispatch(filled({ waiting: [], refused: [] }));
});
afterEach(cleanup);

test('locked, the device opens nothing; it tells the book as soon as it can, and opens then', async () => {
  lock();
  let dead = true;
  let opened = 0;
  const asked = answer({ readSession: () => (dead ? refusal(503, 'no signal') : inside), signOut: DONE });
  await page(
    <Locked
      onOpen={() => {
        opened += 1;
      }}
    />,
  );
  expect((await screen.findByRole('status')).textContent).toMatch(/locked until it can tell the book/);
  await waitFor(() => {
    expect(asked.some((a) => a.name === 'readSession')).toBe(true);
  });
  expect([isLocked(), opened, asked.some((a) => a.name === 'signOut')]).toEqual([true, 0, false]);
  dead = false;
  dispatchEvent(new Event('online'));
  await waitFor(() => {
    expect([isLocked(), opened]).toEqual([false, 1]);
  });
  expect(asked.filter((a) => a.name === 'signOut')).toHaveLength(1);
});

test('a session that is over already needs no telling', async () => {
  lock();
  const asked = answer({ readSession: () => outside });
  let opened = 0;
  await page(
    <Locked
      onOpen={() => {
        opened += 1;
      }}
    />,
  );
  await waitFor(() => {
    expect([isLocked(), opened]).toEqual([false, 1]);
  });
  expect(asked.some((a) => a.name === 'signOut')).toBe(false);
});

test('the door says that a session was ended, whose, and what of whom waits on this device', async () => {
  rememberPerson({ id: 7, name: 'Sven Achterberg' });
  expect([nameHere(7), nameHere(8)]).toEqual(['Sven Achterberg', 'somebody']);
  await put(12, 7, entryOf({ kind: 'remark', text: 'salt' }, 0));
  answer({ readSession: () => outside });
  await page(<SignIn ended="Ines Okoye" />);
  expect((await screen.findByRole('status')).textContent).toMatch(/session of Ines Okoye was ended/);
  expect((await screen.findByRole('list', { name: 'Waiting on this device' })).textContent).toMatch(
    /1 entry of Sven Achterberg waits on this device and goes into the book when Sven Achterberg signs in here/,
  );
});

test.each([
  ['Ines Okoye', false],
  ['Sven Achterberg', true],
])('signed in again after that, %s stays on the page only if it was theirs', async (name, leaves) => {
  const person = { ...(inside as { person: object }).person, name };
  answer({ readSession: () => outside, signIn: () => ({ ...inside, person }) });
  await page(<SignIn ended="Ines Okoye" />, { path: '/door', at: '/door' });
  await user.type(await screen.findByLabelText(/^Name/), 'somebody');
  await user.type(screen.getByLabelText(/^Password/), 'a long pass phrase');
  await user.click(screen.getByRole('button', { name: 'Open the book' }));
  const stands = () => [
    peopleApi.endpoints.readSession.select()(store.getState()).data?.person?.name,
    screen.queryByText('another page') !== null,
  ];
  await waitFor(() => {
    expect(stands()).toEqual([name, leaves]);
  });
  // What is still on its way to the page arrives: whoever stays, stays.
  await act(() => Promise.resolve());
  expect(stands()).toEqual([name, leaves]);
});

test('an answer that the session is over has it looked at anew', async () => {
  let out = false;
  const asked = answer({
    ...signedIn('technician'),
    readSession: () => (out ? outside : inside),
    listPeople: () => (out ? refusal(401, 'Sign in first.') : []),
  });
  store.dispatch(api.util.resetApiState());
  const session = store.dispatch(peopleApi.endpoints.readSession.initiate());
  await session;
  out = true;
  await store.dispatch(peopleApi.endpoints.listPeople.initiate(undefined, { forceRefetch: true, subscribe: false }));
  await waitFor(() => {
    expect(peopleApi.endpoints.readSession.select()(store.getState()).data?.person).toBeNull();
  });
  expect(asked.filter((a) => a.name === 'readSession').length).toBeGreaterThan(1);
  session.unsubscribe();
});

test('with entries on the way signing out asks first; one may stay', async () => {
  const asked = answer({ ...signedIn('dock'), listDevices: [], readSecondFactor: OFF, signOut: DONE });
  await page(<Account />);
  await screen.findByText(/^You are/);
  store.dispatch(
    filled({
      waiting: [{ order: 1, jobId: 12, personId: 3, entry: entryOf({ kind: 'remark', text: 'salt' }, 0) }],
      refused: [],
    }),
  );
  await screen.findByText(/1 entry of yours/);
  await user.click(screen.getByRole('button', { name: 'Sign out' }));
  const asking = within(await screen.findByRole('dialog'));
  expect(asking.getByText(/It has not reached the book/)).toBeTruthy();
  await user.click(asking.getByRole('button', { name: 'Stay' }));
  await waitFor(() => {
    expect(screen.queryByRole('dialog')).toBeNull();
  });
  expect(asked.some((a) => a.name === 'signOut')).toBe(false);
});
