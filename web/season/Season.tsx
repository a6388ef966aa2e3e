import type { SeasonBoat } from '@diurna/contract/season';
import type { Day } from '@diurna/core/calendar';
import { VISIT_WORDS } from '@diurna/core/season';
import { TASKS } from '@diurna/core/service';
import { minutesText } from '@diurna/core/visit';
import { Button } from '@mui/material';
import { lazy, Suspense, useState } from 'react';
import { Link } from 'react-router';
import type { Reply } from '../app/api.ts';
import { useMay } from '../app/useBook.ts';
import { plural, shortDay } from '../ui/format.ts';
import { Lines } from '../ui/Lines.tsx';
import { Entry, Heads, Pager } from '../ui/parts.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { Pace } from './Pace.tsx';
import { SeasonHead } from './SeasonHead.tsx';
import { useSeason } from './useSeason.ts';

import { YearStrip } from './YearStrip.tsx';

const BoatSheet = lazy(() => import('./BoatSheet.tsx').then((m) => ({ default: m.BoatSheet })));
const HandOut = lazy(() => import('./HandOut.tsx').then((m) => ({ default: m.HandOut })));
const SIZE = 50;

/** The boats of a base through lay-up and recommission: what comes next for each, and whether the pace is enough. */
export function Season() {
  const season = useSeason();
  const { data } = season;
  const maySteer = useMay('administrator', 'coordinator');
  const [open, setOpen] = useState<number | null>(null);
  const [handing, setHanding] = useState(false);
  const [q, setQ] = useState('');
  const [page, setPage] = useState(1);
  const boats = data?.boats.filter((b) => b.boatName.toLowerCase().includes(q.trim().toLowerCase())) ?? [];
  const picked = data?.boats.find((b) => b.boatId === open);
  return (
    <>
      <SeasonHead
        of={season}
        acts={
          maySteer &&
          data?.off && (
            <Button
              variant="contained"
              onClick={() => {
                setHanding(true);
              }}>
              Hand out the next visits
            </Button>
          )
        }
      />
      {data?.off && (
        <>
          <YearStrip data={data} />
          <div className="season-paces">
            <Paces data={data} />
            <Entry
              label="Find a boat"
              value={q}
              onType={(text) => {
                setQ(text);
                setPage(1);
              }}
            />
          </div>
          <Lines className="as-cards season-boats" aria-label="Boats of the season">
            <Heads of={['Boat', 'Comes next', 'Wanted by', 'Work', { num: 'Time' }, 'Stands', 'Card']} />
            <tbody>
              {boats.slice((page - 1) * SIZE, page * SIZE).map((b) => (
                <BoatRow
                  key={b.boatId}
                  boat={b}
                  today={data.today}
                  place={data.places.find((p) => p.id === b.placeId)?.name ?? null}
                  onOpen={() => {
                    setOpen(b.boatId);
                  }}
                />
              ))}
            </tbody>
          </Lines>
          <Pager page={page} size={SIZE} total={boats.length} turn={setPage} />
        </>
      )}
      <Suspense>
        {picked && data?.off && (
          <BoatSheet
            boat={picked}
            season={data}
            onClose={() => {
              setOpen(null);
            }}
          />
        )}
        {handing && data && (
          <HandOut
            season={data}
            onClose={() => {
              setHanding(false);
            }}
          />
        )}
      </Suspense>
    </>
  );
}

/** The campaign that is under way: lay-up until the boats are brought out again. */
function Paces({ data: { off, phase, today, layUp, recommission } }: { data: Reply<'readSeason'> }) {
  if (phase === 'opening')
    return recommission && <Pace title="Recommission" of={recommission} goal="the opening" today={today} />;
  const goal = off?.frost === off?.putAwayBy ? 'before frost' : 'four weeks after closing';
  return layUp && <Pace title="Lay-up" of={layUp} goal={goal} today={today} />;
}

/** When the next visit is wanted: before the last hire goes out, after it is back, before the first one in spring. */
function wantedBy(b: SeasonBoat): string {
  if (b.next === 'before') return b.lastOut ? `goes out ${shortDay(b.lastOut)}` : '';
  if (b.next === 'after') return b.lastBack ? `back ${shortDay(b.lastBack)}` : 'from now on';
  if (b.next === 'spring') return b.firstOut ? `first hire ${shortDay(b.firstOut)}` : 'no hire yet';
  return '';
}

function stateOf(b: SeasonBoat): string {
  if (b.staysOut) return 'stays out';
  if (b.next !== null) return VISIT_WORDS[b.next];
  return b.readyOn ? `ready since ${shortDay(b.readyOn)}` : `laid up since ${b.laidUpOn ? shortDay(b.laidUpOn) : ''}`;
}

/** It is on hire, or was, without the work that belongs before. */
const isLate = (b: SeasonBoat, today: Day) => b.next === 'spring' && b.firstOut !== null && b.firstOut <= today;

function BoatRow({
  boat: b,
  place,
  today,
  onOpen,
}: {
  boat: SeasonBoat;
  place: string | null;
  today: Day;
  onOpen: () => void;
}) {
  const visit = b.visits.find((v) => v.visit === b.next);
  const left = visit?.tasks.filter((t) => t.doneOn === null) ?? [];
  const kinds = [...new Set(left.map((t) => t.task))];
  const jobs = [...new Map(left.flatMap((t) => (t.job ? [[t.job.id, t.job] as const] : []))).values()];
  return (
    <tr>
      <th scope="row">
        <button type="button" className="link-button" onClick={onOpen}>
          {b.boatName}
        </button>
        {b.berth && <span className="faint"> {b.berth}</span>}
      </th>
      <td>
        {stateOf(b)}
        {b.held.length > 0 && <b className="minus"> held</b>}
      </td>
      <td className={isLate(b, today) ? 'minus' : 'faint'}>{wantedBy(b)}</td>
      <td>
        <span className="task-glyphs" title={kinds.map((k) => TASKS[k].word).join(', ')}>
          {kinds.map((k) => (
            <TaskGlyph key={k} task={k} size={20} />
          ))}
        </span>
        {visit && visit.done > 0 && <span className="faint"> {visit.done} done</span>}
      </td>
      <td className="num figure">{visit && visit.open > 0 ? minutesText(visit.minutes) : ''}</td>
      <td className="faint">{b.staysOut ? 'afloat' : (place ?? '')}</td>
      <td>
        {jobs.map((j) => (
          <Link key={j.id} to={`/jobs/${j.id}`} className="whole">
            {j.technician}, {shortDay(j.day)}
          </Link>
        ))}
        {jobs.length === 0 && left.length > 0 && (
          <span className="faint">{plural(left.length, 'task')} on no card</span>
        )}
      </td>
    </tr>
  );
}
