import { Button } from '@mui/material';
import type { Hire } from '@diurna/contract/hires';
import { clockInZone } from '@diurna/core/calendar';
import { BREAK_IN_CAUTION } from '@diurna/core/service';
import { useBases, useMay } from '../app/useBook.ts';
import { DockNotTaken, useDock, useDockActs } from '../outbox/index.ts';
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

/** What whoever lets it go has to know. */
function Why({ hire: h }: { hire: Hire }) {
  return (
    <>
      {h.held.map((why) => (
        <p key={why} className="held-why">
          {why} It stays until a coordinator lets it go.
        </p>
      ))}
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
