import { useEffect } from 'react';
import { peopleApi } from '../people/api.ts';
import { unlock } from './device.ts';
import { store } from './store.ts';
import { WaitingHere } from './WaitingHere.tsx';
import './door.css';

/** How often it is tried to tell the book. */
const AGAIN_MS = 5_000;

/** Signed out without signal: the session is ended as soon as the book can be told; until then nothing opens. */
export function Locked({ onOpen }: { onOpen: () => void }) {
  useEffect(() => {
    let over = false;
    const tell = async () => {
      // The token every write carries comes with the session.
      const session = await store.dispatch(
        peopleApi.endpoints.readSession.initiate(undefined, { forceRefetch: true, subscribe: false }),
      );
      if (!session.data) return;
      if (session.data.person !== null) {
        const left = await store.dispatch(peopleApi.endpoints.signOut.initiate(undefined, { track: false }));
        if (!left.data) return;
      }
      if (over) return;
      over = true;
      unlock();
      onOpen();
    };
    void tell();
    const again = () => void tell();
    const timer = setInterval(again, AGAIN_MS);
    addEventListener('online', again);
    return () => {
      over = true;
      clearInterval(timer);
      removeEventListener('online', again);
    };
  }, [onOpen]);
  return (
    <main className="door">
      <div className="door-mark">
        <img src="/mark.svg" alt="" width="120" height="90" className="mark-drawing" />
        <h1>Signed out</h1>
        <p role="status">
          There was no signal, so this device is locked until it can tell the book. Then it can be opened again.
        </p>
      </div>
      <WaitingHere />
    </main>
  );
}
