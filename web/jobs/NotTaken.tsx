import { valueText } from '@diurna/core/findings';
import type { CardAct } from '@diurna/core/visit';
import { useState } from 'react';
import { Link } from 'react-router';
import { saveFile } from '../ui/save.ts';
import { pictureBytes, type Picture, type Refused } from './outbox.ts';
import { useNotTaken } from './useOutbox.ts';

/** What the book did not take, and why; it stays on this device until a person does something with it. */
export function NotTaken({ refused: r }: { refused: Refused }) {
  const { throwAway, tryAgain } = useNotTaken();
  return (
    <p className="minus">
      <b>Not taken:</b> {r.entry ? actText(r.entry.act) : `the finish of ${r.finish!.boatName}.`} {r.because}{' '}
      {r.finish && <Link to={`/jobs/${r.jobId}`}>See the card</Link>} <Act word="try again" act={() => tryAgain(r)} />
      {r.entry && (
        <Act
          word="save to a file"
          act={() => {
            const text = JSON.stringify({ card: r.jobId, because: r.because, ...r.entry }, null, 2);
            saveFile(`card-${r.jobId}-${r.id.slice(0, 8)}.json`, [text], 'application/json');
          }}
        />
      )}
      <ThrowAway act={() => throwAway(r)} />
    </p>
  );
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
