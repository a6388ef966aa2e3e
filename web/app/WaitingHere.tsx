import { useEffect, useState } from 'react';
import { allWaiting } from '../outbox/outbox.ts';
import { plural } from '../ui/format.ts';
import { nameHere } from './device.ts';

/** What waits on this device for the book, by whose it is: it goes when they sign in here, and under no other name. */
export function WaitingHere() {
  const [waiting, setWaiting] = useState<ReadonlyMap<number, number>>(new Map());
  useEffect(() => {
    let here = true;
    void allWaiting()
      .then((all) => {
        const of = new Map<number, number>();
        for (const w of all) of.set(w.personId, (of.get(w.personId) ?? 0) + 1);
        if (here) setWaiting(of);
      })
      // A private window has no store of its own: nothing waits there.
      .catch(() => undefined);
    return () => {
      here = false;
    };
  }, []);
  if (waiting.size === 0) return null;
  return (
    <ul className="door-waiting soon" aria-label="Waiting on this device">
      {[...waiting].map(([id, n]) => (
        <li key={id}>
          {plural(n, 'entry', 'entries')} of {nameHere(id)} {n === 1 ? 'waits' : 'wait'} on this device and{' '}
          {n === 1 ? 'goes' : 'go'} into the book when {nameHere(id)} signs in here.
        </li>
      ))}
    </ul>
  );
}
