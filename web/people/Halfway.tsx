import { Button } from '@mui/material';
import { useLeave } from './useLeave.ts';
import { peopleApi } from './api.ts';
import { SetUpSecondFactor } from './SecondFactor.tsx';
import '../app/door.css';

/** Signed in, but the yard asks a second factor of the role: nothing else is open before it is set up. */
export function Halfway({ name }: { name: string }) {
  const { refetch } = peopleApi.useReadSessionQuery();
  const { signOut } = useLeave();
  return (
    <main className="door">
      <div className="door-mark">
        <img src="/mark.svg" alt="" width="120" height="90" className="mark-drawing" />
        <h1>One thing first</h1>
        <p>{name}, your yard asks a second factor of whoever lets people in or hands out work.</p>
        <Button onClick={() => void signOut()}>Sign out</Button>
      </div>
      <SetUpSecondFactor onDone={() => void refetch()} />
    </main>
  );
}
