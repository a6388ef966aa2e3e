import { valueText } from '@diurna/core/findings';
import type { CardAct } from '@diurna/core/visit';
import { useState } from 'react';
import { Link } from 'react-router';
import { clockText, hoursText, shortDay } from '../ui/format.ts';
import { saveFile } from '../ui/save.ts';
import { pictureBytes, type DockAct, type Picture, type Refused } from './outbox.ts';
import { useDockActs, useNotTaken } from './useOutbox.ts';
import './signal.css';

/** What the book did not take, and why; it stays on this device until a person does something with it. */
export function NotTaken({ refused: r }: { refused: Refused }) {
  const { throwAway, tryAgain } = useNotTaken();
  return (
    <p className="minus">
      <b>Not taken:</b>{' '}
      {r.entry ? actText(r.entry.act) : r.dock ? <DockText act={r.dock} /> : `the finish of ${r.finish!.boatName}.`}{' '}
      {r.because} {r.finish && <Link to={`/jobs/${r.jobId}`}>See the card</Link>}{' '}
      <Act word="try again" act={() => tryAgain(r)} />
      {(r.entry ?? r.dock) && (
        <Act
          word="save to a file"
          act={() => {
            const of = r.jobId === null ? {} : { card: r.jobId };
            const text = JSON.stringify({ ...of, because: r.because, ...r.entry, ...r.dock }, null, 2);
            const name = r.jobId === null ? 'dock' : `card-${r.jobId}`;
            saveFile(`${name}-${r.id.slice(0, 8)}.json`, [text], 'application/json');
          }}
        />
      )}
      <ThrowAway act={() => throwAway(r)} />
    </p>
  );
}

/**
 * What of the dock the book did not take, where the boat stands.
 *
 * @param boatId of one boat; without it, of all boats but those named by `not`
 */
export function DockNotTaken({
  boatId,
  kinds,
  not = [],
}: {
  boatId?: number;
  kinds?: readonly DockAct['kind'][];
  not?: readonly number[];
}) {
  const { refused } = useDockActs();
  return (
    <>
      {refused
        .filter(({ dock }) =>
          boatId === undefined
            ? !not.includes(dock!.boatId) && (kinds?.includes(dock!.kind) ?? true)
            : dock!.boatId === boatId && (kinds?.includes(dock!.kind) ?? true),
        )
        .map((r) => (
          <div key={r.id} className="dock-not-taken" role="alert">
            <NotTaken refused={r} />
          </div>
        ))}
    </>
  );
}

function DockText({ act }: { act: DockAct }) {
  const at = clockText(new Date(act.at).toISOString());
  switch (act.kind) {
    case 'out':
      return <>{act.out ? `${act.boatName} went out, ${at}.` : `${act.boatName} is still here, ${at}.`}</>;
    case 'back':
      return <>{act.back ? `${act.boatName} is back, ${at}.` : `${act.boatName} is not back yet, ${at}.`}</>;
    case 'hours':
      return (
        <>
          hours of {act.boatName} on {shortDay(act.day)}: {act.readings.map((x) => hoursText(x.count)).join(' and ')}.
        </>
      );
    case 'battery':
      return (
        <>
          the look at the battery of {act.boatName}, {at}
          {act.look.volts === null ? '' : `, ${act.look.volts} V`}.
        </>
      );
    case 'snag':
      return (
        <>
          the snag of {act.boatName}: “{act.snag.text === '' ? act.snag.symptom : act.snag.text}”.
        </>
      );
  }
}

/** A picture the book did not take. */
export function PictureNotTaken({ picture: p }: { picture: Picture }) {
  const { throwPictureAway, tryPictureAgain } = useNotTaken();
  return (
    <p className="minus">
      <b>Not taken:</b> a picture of card {p.jobId}. {p.because} <Act word="try again" act={() => tryPictureAgain(p)} />
      <Act
        word="save to a file"
        act={async () => {
          const bytes = await pictureBytes(p.id);
          if (bytes) saveFile(`card-${p.jobId}-${p.id.slice(0, 8)}.${p.type.slice(6)}`, [bytes], p.type);
        }}
      />
      <ThrowAway act={() => throwPictureAway(p)} />
    </p>
  );
}

function Act({ word, act }: { word: string; act: () => void | Promise<void> }) {
  return (
    <>
      <button type="button" className="link-button" onClick={() => void act()}>
        {word}
      </button>{' '}
    </>
  );
}

/** Asked twice: what is thrown away is nowhere else. */
function ThrowAway({ act }: { act: () => Promise<void> }) {
  const [sure, setSure] = useState(false);
  return sure ? (
    <>
      <Act word="yes, throw it away" act={act} />
      <Act
        word="keep it"
        act={() => {
          setSure(false);
        }}
      />
    </>
  ) : (
    <Act
      word="throw it away"
      act={() => {
        setSure(true);
      }}
    />
  );
}

function actText(act: CardAct): string {
  switch (act.kind) {
    case 'tick':
      return `the tick of “${act.step.replace(/^\d+ /, '')}”.`;
    case 'read':
      return `${act.key.replace(/^\d+ /, '')}, ${valueText(act.key, act.value)}.`;
    case 'remark':
      return `the remark “${act.text}”.`;
    case 'type':
      return `“${act.text}”.`;
    case 'hold':
      return `the hold: “${act.why}”.`;
    case 'photo':
      return 'that there is a picture.';
    case 'skip':
      return `that “${act.step.replace(/^\d+ /, '')}” is left out.`;
    case 'say':
      return `your word “${act.text}”.`;
    case 'join':
      return 'who else writes on the card.';
    default:
      return 'what you decided.';
  }
}
