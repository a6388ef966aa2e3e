import { Dialog } from '@mui/material';
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import type { SearchHit } from '@diurna/contract/fleet';
import { fleetApi } from '../fleet/api.ts';

const PLACE: Record<SearchHit['kind'], (id: number) => string> = {
  boat: (id) => `/fleet/boats/${id}`,
  engine: (id) => `/fleet/engines/${id}`,
  model: (id) => `/fleet/models/${id}`,
  part: (id) => `/stores/parts/${id}`,
  person: () => '/yard',
};

/** `/` finds any boat, engine, model, part or person. */
export function Find({ onClose }: { onClose: () => void }) {
  const [text, setText] = useState('');
  const [asked, setAsked] = useState('');
  const [at, setAt] = useState(0);
  const navigate = useNavigate();
  useEffect(() => {
    const timer = setTimeout(() => {
      setAsked(text.trim());
      setAt(0);
    }, 120);
    return () => {
      clearTimeout(timer);
    };
  }, [text]);
  const { data = [], isFetching } = fleetApi.useSearchQuery({ q: asked }, { skip: asked === '' });
  const hits = asked === '' ? [] : data;
  const go = (hit: SearchHit | undefined) => {
    if (!hit) return;
    onClose();
    void navigate(PLACE[hit.kind](hit.id));
  };
  return (
    <Dialog
      open
      onClose={onClose}
      maxWidth="sm"
      fullWidth
      aria-label="Find"
      slotProps={{ paper: { className: 'find' } }}>
      <input
        autoFocus
        className="find-input"
        placeholder="Boat, engine, serial, part, person"
        aria-label="Find a boat, engine, part or person"
        role="combobox"
        aria-expanded={hits.length > 0}
        aria-controls="find-hits"
        aria-activedescendant={hits[at] ? `hit-${at}` : undefined}
        value={text}
        onChange={(e) => {
          setText(e.target.value);
        }}
        onKeyDown={(e) => {
          if (e.key === 'ArrowDown') {
            e.preventDefault();
            setAt((n) => Math.min(hits.length - 1, n + 1));
          }
          if (e.key === 'ArrowUp') {
            e.preventDefault();
            setAt((n) => Math.max(0, n - 1));
          }
          if (e.key === 'Enter') {
            e.preventDefault();
            go(hits[at]);
          }
        }}
      />
      <div id="find-hits" role="listbox" aria-label="Found">
        {hits.map((hit, i) => (
          <div
            key={`${hit.kind} ${hit.id}`}
            id={`hit-${i}`}
            role="option"
            aria-selected={i === at}
            className={i === at ? 'hit at' : 'hit'}
            onClick={() => {
              go(hit);
            }}>
            <span className="hit-kind">{hit.kind}</span>
            <b>{hit.title}</b> <span className="faint">{hit.detail}</span>
          </div>
        ))}
      </div>
      {asked !== '' && !isFetching && hits.length === 0 && (
        <p className="find-none" role="status">
          Nothing in the book is called “{asked}”. Try a piece of the name or the serial.
        </p>
      )}
    </Dialog>
  );
}
