import type { SeasonBoat } from '@diurna/contract/season';
import { coverCard, VISIT_WORDS } from '@diurna/core/season';
import { MANUAL_FIRST, TASKS, type TaskKind } from '@diurna/core/service';
import { Button } from '@mui/material';
import { useState } from 'react';
import type { Reply } from '../app/api.ts';
import { fullDay, shortDay } from '../ui/format.ts';
import { Choice, Empty } from '../ui/parts.tsx';
import { Segments } from '../ui/Segments.tsx';
import { SeasonHead } from './SeasonHead.tsx';
import { useSeason } from './useSeason.ts';
import './paper.css';

const WHAT = ['campaign sheet', 'cards for the covers'] as const;
const words = (tasks: readonly TaskKind[]) => tasks.map((t) => TASKS[t].word.toLowerCase()).join('; ');

/** The campaign on paper: a sheet with a box for each visit, and a card for the cover of each boat that stands. */
export function Paper() {
  const season = useSeason();
  const { data, baseId } = season;
  const [what, setWhat] = useState<(typeof WHAT)[number]>('campaign sheet');
  const [boatId, setBoat] = useState<number | ''>('');
  const standing = data?.boats.filter((b) => !b.staysOut && b.visits.length > 0) ?? [];
  const picked = standing.filter((b) => boatId === '' || b.boatId === boatId);
  return (
    <>
      <div className="no-print">
        <SeasonHead
          of={season}
          acts={
            data?.off && (
              <Button
                variant="contained"
                onClick={() => {
                  print();
                }}>
                Print
              </Button>
            )
          }
        />
        {data?.off && (
          <div className="tools">
            <Segments
              label="On paper"
              value={what}
              of={WHAT.map((w) => [w, w.charAt(0).toUpperCase() + w.slice(1)])}
              onChange={setWhat}
            />
            <Choice
              label="Boat"
              hideLabel
              value={boatId}
              onChange={setBoat}
              options={[['', 'All boats'], ...standing.map((b): [number, string] => [b.boatId, b.boatName])]}
            />
            <p className="paper-links">
              <a href={`/api/season/file?baseId=${baseId}`} download={`diurna-season-${baseId}.csv`}>
                As a file
              </a>
              <a href={`/api/season/calendar?baseId=${baseId}`} download={`diurna-season-${baseId}.ics`}>
                As a calendar
              </a>
            </p>
          </div>
        )}
      </div>
      {data?.off &&
        (picked.length === 0 ? (
          <Empty title="No boat to put on paper.">Boats that stay out have no lay-up.</Empty>
        ) : what === 'campaign sheet' ? (
          <CampaignSheet boats={picked} season={data} />
        ) : (
          <div className="cover-cards">
            {picked.map((b) => (
              <Cover key={b.boatId} boat={b} season={data} />
            ))}
          </div>
        ))}
    </>
  );
}

function CampaignSheet({ boats, season }: { boats: readonly SeasonBoat[]; season: Reply<'readSeason'> }) {
  const off = season.off!;
  return (
    <section className="campaign-sheet" aria-label="Campaign sheet" tabIndex={0}>
      <h2>
        Season {off.name}, {fullDay(season.today)}
      </h2>
      <p>
        Closes {fullDay(off.closes)}; put away by {fullDay(off.putAwayBy)}
        {off.frost ? `, frost from ${fullDay(off.frost)}` : ', no frost'}; opens {fullDay(off.opens)}.
      </p>
      <table>
        <thead>
          <tr>
            {['Boat', 'Berth', 'Wanted by', 'Before the last hire', 'Lay-up', 'Recommission', 'Stands'].map((h) => (
              <th key={h} scope="col">
                {h}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {boats.map((b) => (
            <tr key={b.boatId}>
              <th scope="row">{b.boatName}</th>
              <td>{b.berth}</td>
              <td>{b.by ? shortDay(b.by) : ''}</td>
              {b.visits.map((v) => (
                <td key={v.visit}>
                  {v.open === 0 ? (
                    '✓'
                  ) : (
                    <>
                      <span className="paper-box" />
                      {words([...new Set(v.tasks.filter((t) => t.doneOn === null).map((t) => t.task))])}
                    </>
                  )}
                </td>
              ))}
              <td>{season.places.find((p) => p.id === b.placeId)?.name}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p>{MANUAL_FIRST}</p>
    </section>
  );
}

/** Hangs at the boat's cover: how it was put away, and what has to be done before anybody starts it. */
function Cover({ boat: b, season }: { boat: SeasonBoat; season: Reply<'readSeason'> }) {
  const { beforeStart, fuelUntil, open, spring } = coverCard(b);
  const put = season.deferred.filter((d) => d.boatId === b.boatId);
  return (
    <article className="cover-card" aria-label={`Card of ${b.boatName}`}>
      <h2>
        {b.boatName} {b.berth && <span>berth {b.berth}</span>}
      </h2>
      <p>
        {b.laidUpOn ? <b>Laid up {fullDay(b.laidUpOn)}.</b> : <b>Not laid up yet.</b>}{' '}
        {season.places.find((p) => p.id === b.placeId)?.name}
      </p>
      {open.length > 0 && <p>Still open: {words(open)}.</p>}
      {beforeStart.length > 0 && (
        <>
          <h3>Before anybody starts it</h3>
          <ul>
            {beforeStart.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </>
      )}
      <p>
        {fuelUntil
          ? `Its fuel is treated and keeps until ${fullDay(fuelUntil)}.`
          : open.includes('stabiliser')
            ? 'Its fuel is not treated yet.'
            : 'Its fuel was not treated.'}
      </p>
      <h3>In spring, by {fullDay(b.firstOut ?? season.off!.opens)}</h3>
      <p>
        {spring.length > 0 ? `${words(spring)}.` : `All done: ${VISIT_WORDS.spring} is over.`}
        {put.map((d) => ` ${TASKS[d.task].word}: ${d.reason}.`)}
      </p>
      <p className="cover-foot">Lanyard off and battery isolated before hands go near it. {MANUAL_FIRST}</p>
    </article>
  );
}
