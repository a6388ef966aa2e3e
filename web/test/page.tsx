import { ThemeProvider } from '@mui/material/styles';
import { expect } from '@jest/globals';
import { configure, render, screen, waitFor } from '@testing-library/react';
import { routes, type ReplyOf, type RouteName } from '@diurna/contract';
import type { Session } from '@diurna/contract/people';
import type { ReactElement } from 'react';
import { Provider } from 'react-redux';
import { createMemoryRouter, RouterProvider } from 'react-router';
import { api } from '../app/api.ts';
import { say, store, useAppSelector } from '../app/store.ts';
import { makeTheme } from '../app/theme.ts';

// How long something may take to appear: machines are shared, and a test that passes does not wait for it.
configure({ asyncUtilTimeout: 60_000 });

type Replies = { [N in RouteName]?: ReplyOf<(typeof routes)[N]> | ((asked: Asked) => unknown) };
/** What a page asked the server. */
export interface Asked {
  name: RouteName;
  url: URL;
  body: unknown;
}

export const NOW = '2026-04-15T10:00:00Z';

/** Somebody signed in, at a book with one base. */
export const signedIn = (
  role: Session['person'] extends (infer P) | null ? (P extends { role: infer R } ? R : never) : never,
  more: Partial<Session> = {},
): Replies => ({
  readSession: {
    person: { id: 3, version: 1, name: 'Ines Okoye', username: 'ines', role, baseId: 1, active: true },
    csrfToken: 'token',
    company: 'Test Boats',
    currency: 'EUR',
    firstRun: false,
    demoAccounts: [],
    shelfPolicy: 'refuse',
    halfway: false,
    shared: false,
    sharedNames: [],
    writing: { clock: '24', weekStarts: 1, volumes: 'litres' },
    ...more,
  },
  listBases: [
    {
      id: 1,
      version: 1,
      name: 'North Quay',
      timeZone: 'Atlantic/Madeira',
      hemisphere: 'north',
      dayMinutes: 480,
      workdays: [1, 2, 3, 4, 5],
      opensAt: 480,
      closesAt: 1020,
      breakMinutes: 30,
      breakFrom: 690,
      breakTo: 840,
      liftSlots: 1,
      today: '2026-04-15',
    },
  ],
});

/** Answers the page's requests from the contract's routes; what it asked is in the list. */
export function answer(replies: Replies): Asked[] {
  const asked: Asked[] = [];
  globalThis.fetch = async (input) => {
    const request = input as Request;
    const url = new URL(request.url);
    const found = (Object.entries(routes) as [RouteName, (typeof routes)[RouteName]][]).find(
      ([, r]) =>
        r.method.toUpperCase() === request.method &&
        new RegExp(`^${r.path.replaceAll(/:\w+/g, '[^/]+')}$`).test(url.pathname),
    );
    if (!found) return new Response('{}', { status: 404 });
    const text = await request.text();
    const json = request.headers.get('content-type')?.includes('json') ?? false;
    const one = { name: found[0], url, body: text === '' ? undefined : json ? (JSON.parse(text) as unknown) : text };
    asked.push(one);
    const reply = replies[found[0]];
    if (reply === undefined)
      return new Response(
        JSON.stringify({ type: 'about:blank', title: 'none', status: 404, detail: `no ${found[0]}` }),
        { status: 404, headers: { 'content-type': 'application/problem+json' } },
      );
    const given = typeof reply === 'function' ? await (reply as (a: Asked) => unknown)(one) : reply;
    if (given instanceof Response) return given;
    return new Response(JSON.stringify(given), {
      headers: { 'content-type': 'application/json', 'x-diurna-now': NOW },
    });
  };
  return asked;
}

/** The answer of an act that says no more than that it is done. */
export const DONE = { ok: true } as const;

/** A refusal as the server gives it. */
export const refusal = (status: number, detail: string, more: object = {}) =>
  new Response(JSON.stringify({ type: 'about:blank', title: 'Refused', status, detail, ...more }), {
    status,
    headers: { 'content-type': 'application/problem+json' },
  });

/** What a page tells its person, which the frame around it shows in the browser. */
function Told() {
  const notice = useAppSelector((s) => s.book.notice);
  return notice && <p role="status">{notice.text}</p>;
}

/** Draws an element as a page of the book once its session is there. */
export async function page(element: ReactElement, { path = '/', at = '/' } = {}) {
  store.dispatch(api.util.resetApiState());
  store.dispatch(say(null));
  const { peopleApi } = await import('../people/api.ts');
  const { fleetApi } = await import('../fleet/api.ts');
  await store.dispatch(peopleApi.endpoints.readSession.initiate());
  await store.dispatch(fleetApi.endpoints.listBases.initiate());
  const router = createMemoryRouter(
    [
      { path, element },
      { path: '*', element: <p>another page</p> },
    ],
    { initialEntries: [at] },
  );
  return render(
    <Provider store={store}>
      <ThemeProvider theme={makeTheme('day')}>
        <RouterProvider router={router} />
        <Told />
      </ThemeProvider>
    </Provider>,
  );
}

/** A button once it can be pressed: what it hangs on may be asked for first. */
export async function readyButton(name: string | RegExp): Promise<HTMLElement> {
  const button = () => screen.getByRole<HTMLButtonElement>('button', { name });
  await waitFor(() => {
    expect(button().disabled).toBe(false);
  });
  return button();
}
