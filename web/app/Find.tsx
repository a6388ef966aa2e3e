import { Dialog } from '@mui/material';
import { useEffect, useState } from 'react';
import { useNavigate } from 'react-router';
import type { SearchHit } from '@diurna/contract/fleet';
import { SCHOOLS } from '@diurna/core/service';
import { fleetApi } from '../fleet/api.ts';
import { findGuides } from '../help/guides.ts';
import type { Guide } from '../help/guide-type.ts';
import { placeOf } from '../labels/index.ts';
import { useMe } from './useBook.ts';
import { ROOMS } from './rooms.ts';
import './find.css';

const PLACE: Record<SearchHit['kind'], (id: number) => string> = {
  boat: (id) => `/fleet/boats/${id}`,
  engine: (id) => `/fleet/engines/${id}`,
  model: (id) => `/fleet/models/${id}`,
  part: (id) => `/stores/parts/${id}`,
  person: () => '/yard',
};

const STEERS = new Set(ROOMS.find((r) => r.path === '/rules')!.roles);

/** Something that can be opened. */
interface Hit {
  key: string;
  kind: string;
  title: string;
  detail: string;
  open: () => void;
}

const MOST_RULES = 4;
/** Questions of the rules in whose words all of these are found. */
function rulesOf(text: string) {
  const words = text.toLowerCase().split(/\s+/);
  return SCHOOLS.filter((s) => {
    const hay = `${s.question} ${s.options.map((o) => o.word).join(' ')}`.toLowerCase();
    return words.every((w) => hay.includes(w));
  }).slice(0, MOST_RULES);
}

/** What is found for a text, pages first. */
function useHits(asked: string, onGuide: (path: string) => void): { hits: Hit[]; isFetching: boolean } {
  const navigate = useNavigate();
  const { data = [], isFetching } = fleetApi.useSearchQuery({ q: asked }, { skip: asked === '' });
  const me = useMe();
  const to = (path: string) => () => void navigate(path);
  const guides = findGuides(asked, me.role);
  const isPage = (g: Guide) => !g.inside && g.title.toLowerCase().includes(asked.toLowerCase());
  const hits: Hit[] =
    asked === ''
      ? []
      : [
          ...guides
            .filter(isPage)
            .map((g) => ({ key: g.path, kind: 'page', title: g.title, detail: g.about, open: to(g.path) })),
          ...data.map((h) => ({
            key: `${h.kind} ${h.id}`,
            kind: h.kind,
            title: h.title,
            detail: h.detail,
            open: to(PLACE[h.kind](h.id)),
          })),
          ...(STEERS.has(me.role) ? rulesOf(asked) : []).map((s) => ({
            key: `rule ${s.key}`,
            kind: 'rule',
            title: s.question,
            detail: '',
            open: to(`/rules?open=${s.key}`),
          })),
          ...guides
            .filter((g) => !isPage(g))
            .map((g) => ({
              key: `guide ${g.path}`,
              kind: 'guide',
              title: g.title,
              detail: g.how.find((line) => line.toLowerCase().includes(asked.toLowerCase())) ?? g.about,
              open: () => {
                onGuide(g.path);
              },
            })),
        ];
  return { hits, isFetching };
}

/** `/` finds any boat, engine, model, part or person, and pages, rules and what the guides say. */
export function Find({
  onClose,
  onGuide,
  onScan,
}: {
  onClose: () => void;
  onGuide: (path: string) => void;
  onScan: () => void;
}) {
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
  const { hits, isFetching } = useHits(asked, onGuide);
  const go = (hit: Hit | undefined) => {
    if (!hit) return;
    onClose();
    hit.open();
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
        placeholder="Boat, engine, serial, part, person, page, rule"
        aria-label="Find a boat, engine, part, person, page or rule"
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
            // A hand scanner types the label and presses Enter before anything can be looked up.
            const place = placeOf(text);
            if (place === null) go(hits[at]);
            else {
              onClose();
              void navigate(place);
            }
          }
        }}
      />
      {asked === '' && (
        <p className="find-none">
          <button type="button" className="link-button" onClick={onScan}>
            Scan a label with the camera
          </button>
        </p>
      )}
      <div id="find-hits" role="listbox" aria-label="Found">
        {hits.map((hit, i) => (
          <div
            key={hit.key}
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
          Nothing in the book is called “{asked}”, and no guide speaks of it. Try a piece of the name or the serial.
        </p>
      )}
    </Dialog>
  );
}
