import { Button, Checkbox, FormControlLabel, TextField } from '@mui/material';
import { lazy, Suspense, useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import { Waiting, Wrong } from '../ui/parts.tsx';
import { api, problemOf } from './api.ts';
import { peopleApi } from '../people/api.ts';
import { store } from './store.ts';
import { WaitingHere } from './WaitingHere.tsx';
import { useSession } from './useBook.ts';
import './door.css';

const FirstRun = lazy(() => import('../people/FirstRun.tsx').then((m) => ({ default: m.FirstRun })));

/**
 * Puts the answer of signing in where the rest of the app looks for it.
 *
 * @param was whose page is open: they stay on it
 */
export function useEnter(was: string | null = null) {
  const navigate = useNavigate();
  return (session: NonNullable<ReturnType<typeof useSession>>) => {
    store.dispatch(api.util.resetApiState());
    void store.dispatch(peopleApi.util.upsertQueryData('readSession', undefined, session));
    // Another person begins on a page of their own.
    if (was === null || session.person?.name !== was) void navigate('/');
  };
}

export function SignIn({
  ended = null,
}: {
  /** Whose session was ended while the book was open here. */ ended?: string | null;
}) {
  const session = useSession();
  const [signIn, { isLoading, error }] = peopleApi.useSignInMutation();
  const [username, setUsername] = useState('');
  const [password, setPassword] = useState('');
  const [code, setCode] = useState('');
  const [wantsCode, setWantsCode] = useState(false);
  const [shared, setShared] = useState(false);
  const enter = useEnter(ended);
  useEffect(() => {
    document.title = 'Sign in · Diurna';
  }, []);

  const open = async (name: string, secret: string) => {
    const answer = await signIn({ username: name, password: secret, shared, ...(code !== '' && { code }) });
    if (answer.data) enter(answer.data);
    // The answer to a right password may be that a code is wanted as well.
    else if (problemOf(answer.error)?.type === 'second-factor') setWantsCode(true);
  };
  return (
    <main className="door">
      <div className="door-mark">
        <img src="/mark.svg" alt="" width="120" height="90" className="mark-drawing" />
        <h1>Diurna</h1>
        <p>The day book for the engines of a hire fleet{session?.company ? `: ${session.company}` : ''}.</p>
      </div>
      {session?.firstRun ? (
        <Suspense fallback={<Waiting />}>
          <FirstRun onDone={enter} />
        </Suspense>
      ) : (
        <form
          className="door-form"
          onSubmit={(e) => {
            e.preventDefault();
            void open(username, password);
          }}>
          {ended !== null && (
            <p className="soon" role="status">
              <b>You were signed out.</b> The session of {ended} was ended, elsewhere or because it was old. Sign in
              again: the page stays where it was, and so does what was written here.
            </p>
          )}
          <WaitingHere />
          <TextField
            label="Name"
            value={username}
            onChange={(e) => {
              setUsername(e.target.value);
            }}
            autoComplete="username"
            autoFocus
            required
            fullWidth
            slotProps={{ htmlInput: { autoCapitalize: 'none' } }}
          />
          <TextField
            label="Password"
            type="password"
            value={password}
            onChange={(e) => {
              setPassword(e.target.value);
            }}
            autoComplete="current-password"
            required
            fullWidth
          />
          {wantsCode && (
            <TextField
              label="Code"
              value={code}
              onChange={(e) => {
                setCode(e.target.value);
              }}
              helperText="of your authenticator, or one for recovery"
              autoComplete="one-time-code"
              autoFocus
              required
              fullWidth
            />
          )}
          <FormControlLabel
            control={
              <Checkbox
                checked={shared}
                onChange={(e) => {
                  setShared(e.target.checked);
                }}
              />
            }
            label="Others use this device too: sign me out when I leave it"
          />
          <Wrong error={error} />
          <Button type="submit" variant="contained" color="primary" disabled={isLoading} size="large">
            Open the book
          </Button>
        </form>
      )}
      {session && session.demoAccounts.length > 0 && (
        <section className="door-demo" aria-labelledby="demo-people">
          <h2 id="demo-people">The invented yard</h2>
          <p>This is demo data. Open the book as one of its people:</p>
          <ul>
            {session.demoAccounts.map((a) => (
              <li key={a.username}>
                <button type="button" disabled={isLoading} onClick={() => void open(a.username, a.password)}>
                  <b>{a.name}</b>
                  <span>{a.role}</span>
                </button>
              </li>
            ))}
          </ul>
        </section>
      )}
    </main>
  );
}
