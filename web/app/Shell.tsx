import { lazy, Suspense, useEffect, useState } from 'react';
import { Link, NavLink, Outlet, useLocation, useNavigate } from 'react-router';
import { Waiting } from '../ui/parts.tsx';
import { serviceApi } from '../service/api.ts';
import { DayRibbon } from '../day/DayRibbon.tsx';
import { MODES, type Mode } from './palette.ts';
import { ROOMS } from './rooms.ts';
import { Signal } from '../outbox/Signal.tsx';
import { useOutbox } from '../outbox/useOutbox.ts';
import { useLive } from './live.ts';
import { Told } from './Told.tsx';
import { TakeBack } from '../changes/index.ts';
import { light, say, turnTo, useAppDispatch, useAppSelector } from './store.ts';
import { useBases, useMe } from './useBook.ts';

const Guide = lazy(() => import('../help/Guide.tsx').then((m) => ({ default: m.Guide })));
const Scan = lazy(() => import('../labels/Scan.tsx').then((m) => ({ default: m.Scan })));
const Find = lazy(() => import('./Find.tsx').then((m) => ({ default: m.Find })));
/** More than a tab has room for. */
const MOST_TOLD = 999;
const MODE_WORD: Record<Mode, string> = { day: 'Paper', dark: 'Dark', sun: 'Sun' };

function typing(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName))
  );
}

/** The open book: tabs at the left, the ribbon on top, the page. */
export function Shell() {
  const me = useMe();
  const rooms = ROOMS.filter((r) => r.roles.includes(me.role));
  const [finding, setFinding] = useState(false);
  const [scanning, setScanning] = useState(false);
  /** The guide that is open: of this page, or of the one named. */
  const [guide, setGuide] = useState<{ of: string | null } | null>(null);
  const navigate = useNavigate();
  const dispatch = useAppDispatch();
  const { pathname } = useLocation();
  useLive(useOutbox());
  const over = serviceApi.useDueListQuery({ size: 1 }).data?.counts.over ?? 0;

  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (e.ctrlKey || e.metaKey || e.altKey || typing(e.target)) return;
      const room = ROOMS.find((r) => r.key === e.key && r.roles.includes(me.role));
      if (room) void navigate(room.path);
      else if (e.key === '/') setFinding(true);
      else if (e.key === '?') setGuide({ of: null });
      else if (e.key === '.') dispatch(turnTo(null));
      else return;
      e.preventDefault();
    };
    addEventListener('keydown', onKey);
    return () => {
      removeEventListener('keydown', onKey);
    };
  }, [dispatch, me.role, navigate]);
  useEffect(() => {
    scrollTo(0, 0);
  }, [pathname]);

  return (
    <div className="book">
      <a className="skip" href="#page">
        To the page
      </a>
      <aside className="spine">
        <Link to="/" className="mark" aria-label="Diurna, to your first page">
          <img src="/mark.svg" alt="" width="58" height="44" className="mark-drawing" />
          <span>Diurna</span>
        </Link>
        <nav className="tabs" aria-label="Rooms">
          {rooms.map((room) => (
            <NavLink key={room.path} to={room.path} aria-keyshortcuts={room.key} className="tab">
              {room.word}
              {room.path === '/due' && over > 0 && (
                <span className="badge" aria-label={`, ${over} over`}>
                  {over > MOST_TOLD ? `${MOST_TOLD}+` : over}
                </span>
              )}
            </NavLink>
          ))}
        </nav>
        <Corner
          onFind={() => {
            setFinding(true);
          }}
          onHelp={() => {
            setGuide({ of: null });
          }}
        />
      </aside>
      <DayRibbon />
      <main id="page" className="page" tabIndex={-1}>
        <Signal />
        <Told />
        <Suspense fallback={<Waiting />}>
          <Outlet />
        </Suspense>
      </main>
      <Notice />
      {scanning && (
        <Suspense>
          <Scan
            onClose={() => {
              setScanning(false);
            }}
          />
        </Suspense>
      )}
      {finding && (
        <Suspense>
          <Find
            onClose={() => {
              setFinding(false);
            }}
            onGuide={(of) => {
              setGuide({ of });
            }}
            onScan={() => {
              setFinding(false);
              setScanning(true);
            }}
          />
        </Suspense>
      )}
      {guide && (
        <Suspense>
          <Guide
            of={guide.of}
            onClose={() => {
              setGuide(null);
            }}
          />
        </Suspense>
      )}
    </div>
  );
}

function Corner({ onFind, onHelp }: { onFind: () => void; onHelp: () => void }) {
  const me = useMe();
  const mode = useAppSelector((s) => s.book.mode);
  const dispatch = useAppDispatch();
  const home = useBases().find((b) => b.id === me.baseId)?.name;
  const next = MODES[(MODES.indexOf(mode) + 1) % MODES.length]!;
  return (
    <div className="corner">
      <button type="button" onClick={onFind} aria-keyshortcuts="/">
        Find
      </button>
      <button
        type="button"
        onClick={() => {
          dispatch(light(next));
        }}
        aria-label={`Light: ${MODE_WORD[mode]}. Change to ${MODE_WORD[next]}`}>
        {MODE_WORD[mode]}
      </button>
      <button type="button" className="keys-button" onClick={onHelp} aria-keyshortcuts="?">
        Guide
      </button>
      <NavLink to="/yard" className="who">
        <b>{me.name.split(' ')[0]}</b>
        <span>{me.role}</span>
        {home && <span className="where">{home}</span>}
      </NavLink>
    </div>
  );
}

/** The last thing that was done or went wrong; stays until it is put away or followed. */
function Notice() {
  const notice = useAppSelector((s) => s.book.notice);
  const dispatch = useAppDispatch();
  useEffect(() => {
    if (notice?.tone !== 'done') return undefined;
    const timer = setTimeout(() => {
      dispatch(say(null));
    }, 9000);
    return () => {
      clearTimeout(timer);
    };
  }, [dispatch, notice]);
  return (
    <div className="notice-place" aria-live="polite">
      {notice && (
        <div className={`notice ${notice.tone}`}>
          <span>{notice.text}</span>
          {notice.link && (
            <Link
              to={notice.link.to}
              onClick={() => {
                dispatch(say(null));
              }}>
              {notice.link.word}
            </Link>
          )}
          {notice.changeId != null && <TakeBack quiet changeId={notice.changeId} />}
          <button
            type="button"
            onClick={() => {
              dispatch(say(null));
            }}
            aria-label="Put this away">
            ×
          </button>
        </div>
      )}
    </div>
  );
}
