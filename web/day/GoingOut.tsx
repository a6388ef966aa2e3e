import { Button } from '@mui/material';
import type { Hire } from '@diurna/contract/hires';
import { clockInZone } from '@diurna/core/calendar';
import { BREAK_IN_CAUTION } from '@diurna/core/service';
import { useState } from 'react';
import { useBases, useMay } from '../app/useBook.ts';
import { DockNotTaken, useDock, useDockActs } from '../outbox/index.ts';
import { hiresApi } from '../hires/api.ts';
import { FormSheet } from '../ui/form.tsx';
import { Entry, Wrong } from '../ui/parts.tsx';
import { atDock } from './at-dock.ts';

/** The clock of a base, for hours people read. */
export function useClockOf(): (instant: string, baseId: number) => string {
  const bases = useBases();
  return (instant, baseId) => clockInZone(new Date(instant), bases.find((b) => b.id === baseId)?.timeZone ?? 'UTC');
}

/** Boats that go out today: one tap lets one go, another says that it is here after all; a held one stays, with why. */
export function GoingOut({ hires }: { hires: readonly Hire[] }) {
  if (hires.length === 0) return null;
  return (
    <>
      <h2>Going out</h2>
      <ul className="going-out" aria-label="Going out">
        {[...hires]
          .sort((a, b) => (a.outTime < b.outTime ? -1 : 1))
          .map((h) => (
            <Going key={h.id} hire={h} />
          ))}
      </ul>
    </>
  );
}

function Going({ hire: h }: { hire: Hire }) {
  const stand = atDock(h, useDockActs().waiting);
  return (
    <li>
      <span className="figure back-time">{h.outTime}</span>
      <b>{h.boatName}</b>
      <GoingAct hire={h} />
      {stand.out === null && <Why hire={h} />}
      <DockNotTaken boatId={h.boatId} kinds={['out']} />
    </li>
  );
}

/** What can be done with a boat that goes out, or how it stands. */
function GoingAct({ hire: h }: { hire: Hire }) {
  const mayLet = useMay('administrator', 'coordinator', 'technician', 'dock');
  const clockOf = useClockOf();
  const { waiting } = useDockActs();
  const { write, forgo } = useDock();
  const { out, back, keptOut } = atDock(h, waiting);
  const act = { boatId: h.boatId, boatName: h.boatName, kind: 'out' as const, hireId: h.id };
  if (out === null && h.held.length > 0) return <b className="minus">held</b>;
  if (out === null && h.notReady) return <NotReady hire={h} />;
  const word = out === null ? 'It goes out' : 'It is still here';
  const press = () => {
    if (out === null) return write({ ...act, out: true });
    return keptOut ? forgo(keptOut) : write({ ...act, out: false });
  };
  return (
    <span className="dock-state">
      {out !== null && <span className="fine">✓ out {clockOf(out, h.baseId)}</span>}
      {keptOut && out !== null && <span className="faint small"> kept on this phone</span>}
      {out === null && !mayLet && <span className="faint">ready</span>}
      {/* One button for both: whoever works by keyboard stays where they are. */}
      {mayLet && back === null && (
        <Button aria-label={`${word}: ${h.boatName}`} onClick={() => void press()}>
          {word}
        </Button>
      )}
    </span>
  );
}

/** It was put away and is not brought out: whoever plans may let it go once, with a reason that stays in the book. */
function NotReady({ hire: h }: { hire: Hire }) {
  const maySteer = useMay('administrator', 'coordinator');
  const [asking, setAsking] = useState(false);
  const [reason, setReason] = useState('');
  const [letGo, { error, isLoading }] = hiresApi.useLetGoMutation();
  const close = () => {
    setAsking(false);
  };
  const send = async () => {
    const answer = await letGo({ id: h.id, boatId: h.boatId, out: true, reason });
    if (answer.data) close();
  };
  return (
    <span className="dock-state">
      <b className="minus">not brought out</b>
      {maySteer && (
        <Button
          aria-label={`Let ${h.boatName} go all the same`}
          onClick={() => {
            setAsking(true);
          }}>
          Let it go all the same
        </Button>
      )}
      {asking && (
        <FormSheet
          title={`${h.boatName} goes out as it is`}
          act="Let it go"
          onClose={close}
          onSubmit={() => void send()}
          busy={isLoading}>
          <p>{h.notReady} This is for this hire alone; the work stays on its list.</p>
          <Entry label="Why" full required value={reason} maxLength={500} onType={setReason} />
          <Wrong error={error} />
        </FormSheet>
      )}
    </span>
  );
}

/** What whoever lets it go has to know. */
function Why({ hire: h }: { hire: Hire }) {
  return (
    <>
      {h.held.map((why) => (
        <p key={why} className="held-why">
          {why} It stays until a coordinator lets it go.
        </p>
      ))}
      {h.held.length === 0 && h.notReady && (
        <p className="held-why">
          {h.notReady} It goes out once that is done, or a coordinator lets it go with a reason.
        </p>
      )}
      {h.runIn.map((text) => (
        <p key={text} className="held-why">
          <b>Running in.</b> {text} {BREAK_IN_CAUTION}
        </p>
      ))}
      {h.underWay.map((text) => (
        <p key={text} className="held-why soon">
          <b>Work on it.</b> {text}
        </p>
      ))}
      {h.snags.map((text) => (
        <p key={text} className="held-why soon">
          <b>Reported.</b> {text}
        </p>
      ))}
    </>
  );
}
