import { useMediaQuery } from '@mui/material';
import { useState } from 'react';
import { Link, useMatch } from 'react-router';
import { useMe } from './useBook.ts';
import { messagesApi } from '../messages/api.ts';
import { plural } from '../ui/format.ts';
import { ShowAll } from '../ui/ShowAll.tsx';
import { useStored } from '../ui/useDraft.ts';
import './told.css';

/**
 * What the person was told and has not put away: cards handed out, moved, called off. One line; the rest opens. Put
 * off,
 * it folds into the corner with its count until something newer is told.
 */
export function Told() {
  const { data } = messagesApi.useListNoticesQuery(undefined, { pollingInterval: 60_000 });
  const [read] = messagesApi.useReadNoticesMutation();
  const [all, setAll] = useState(false);
  const { id } = useMe();
  // Folded away until something newer is told; each for themselves on a phone that others use too.
  const [folded, setFolded] = useStored(`told.folded.${id}`, 0);
  // On a phone the card has the screen: messages stand in its head as a count until they are looked at.
  const narrow = useMediaQuery('(max-width: 760px)');
  const onCard = useMatch('/jobs/:id') !== null && narrow;
  const [looked, setLooked] = useState(false);
  if (!data || data.length === 0) return null;
  const newest = data.at(-1)!.id;
  if (newest <= folded || (onCard && !looked))
    return (
      <button
        type="button"
        className="told-corner no-print"
        onClick={() => {
          setFolded(0);
          setLooked(true);
        }}>
        {plural(data.length, 'message')}
      </button>
    );
  // The latest is what one has to know; older ones open with the rest.
  const latest = [...data].reverse();
  return (
    <section className={all ? 'told no-print' : 'told folded no-print'} aria-label="Told to you">
      <ul>
        {(all ? latest : latest.slice(0, 1)).map((n) => (
          <li key={n.id}>{n.jobId ? <Link to={`/jobs/${n.jobId}`}>{n.text}</Link> : n.text}</li>
        ))}
      </ul>
      {data.length > 1 && <ShowAll all={all} rest={data.length - 1} less="the latest only" onChange={setAll} />}
      <button
        type="button"
        className="link-button"
        onClick={() => {
          setAll(false);
          setLooked(false);
          setFolded(newest);
        }}>
        later
      </button>
      <button
        type="button"
        className="told-seen"
        onClick={() => {
          setAll(false);
          void read({ upTo: newest });
        }}>
        Seen
      </button>
    </section>
  );
}
