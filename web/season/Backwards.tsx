import { VISIT_WORDS } from '@diurna/core/season';
import { minutesText } from '@diurna/core/visit';
import { useState } from 'react';
import { useSession } from '../app/useBook.ts';
import { fullDay, moneyText, plural, shortDay } from '../ui/format.ts';
import { Lines } from '../ui/Lines.tsx';
import { Asked, Choice, Empty, Heads, Pager } from '../ui/parts.tsx';
import { seasonApi } from './api.ts';
import { SeasonHead } from './SeasonHead.tsx';
import { useSeason } from './useSeason.ts';

const SHARES: [number, string][] = [25, 50, 75, 100].map((n) => [n, `${n} % of the free hands`]);
const SIZE = 40;

/** The campaign planned backwards: a day for each visit, week by week against hands and lift, and what would help. */
export function Backwards() {
  const season = useSeason();
  const [share, setShare] = useState(50);
  const [page, setPage] = useState(1);
  const currency = useSession()?.currency ?? 'EUR';
  const off = season.data?.off;
  const { data, error, isFetching } = seasonApi.usePlanSeasonQuery(
    { baseId: season.baseId ?? 0, share },
    { skip: season.baseId === null || !off },
  );
  const money = (cost: number) => moneyText(Math.round(cost * 100), currency);
  return (
    <>
      <SeasonHead
        of={season}
        acts={
          <Choice
            label="The campaign gets"
            hideLabel
            value={share}
            options={SHARES}
            onChange={(next) => {
              if (next !== '') setShare(next);
            }}
          />
        }
      />
      {off && <Asked data={data} error={error} />}
      {off && data?.visits.length === 0 && (
        <Empty title="No visit wants a day.">What comes next for each boat is done, or on a card already.</Empty>
      )}
      {off && data && data.visits.length > 0 && (
        <div aria-busy={isFetching}>
          <p>
            {plural(data.visits.length, 'visit')} by {data.by && shortDay(data.by)}.{' '}
            {data.finish === null ? (
              <b className="minus">{plural(data.undone, 'visit')} find no day.</b>
            ) : (
              <span className={data.by && data.finish > data.by ? 'minus' : undefined}>
                The last is done on {fullDay(data.finish)}.
              </span>
            )}{' '}
            {data.cost < 0.005
              ? 'Nothing is lost by waiting.'
              : `Being late costs ${money(data.cost)}${data.overtimeMinutes > 0 ? `, ${minutesText(data.overtimeMinutes)} of overtime in it` : ''}; no plan costs less than ${money(data.bound)}.`}
          </p>
          {data.whatIfs.length > 0 && (
            <ul className="lacking" aria-label="What would help">
              {data.whatIfs.map((w) => (
                <li key={w.what}>
                  With {w.what}: <b className="figure">{money(w.cost)}</b>
                  <span className={w.cost < data.cost ? 'in-sea' : 'faint'}>
                    {w.cost < data.cost
                      ? ` saves ${money(data.cost - w.cost)}`
                      : ` costs ${money(w.cost - data.cost)} more`}
                    {w.finish && `, done ${shortDay(w.finish)}`}
                  </span>
                </li>
              ))}
            </ul>
          )}
          <Lines aria-label="The campaign by week">
            <Heads
              of={[
                'Week of',
                { num: 'Visits' },
                { num: 'Work' },
                { num: 'Hands' },
                { num: 'Lift turns' },
                ...(data.room === null ? [] : [{ num: 'Put away' }]),
              ]}
            />
            <tbody>
              {data.weeks.map((w) => (
                <tr key={w.from}>
                  <th scope="row">{shortDay(w.from)}</th>
                  <td className="num figure">{w.boats}</td>
                  <td className={w.minutes > w.available ? 'num figure minus' : 'num figure'}>
                    {minutesText(w.minutes)}
                  </td>
                  <td className="num figure">{minutesText(w.available)}</td>
                  <td className="num figure">
                    {w.lifts} of {w.liftSlots}
                  </td>
                  {data.room !== null && (
                    <td className={w.away > data.room ? 'num figure minus' : 'num figure'}>
                      {w.away} in {data.room} places
                    </td>
                  )}
                </tr>
              ))}
            </tbody>
          </Lines>
          <h2 className="above">By day</h2>
          <Lines className="as-cards" aria-label="Visits by day">
            <Heads of={['Day', 'Boat', 'Visit', { num: 'Time' }, { num: 'Costs' }]} />
            <tbody>
              {data.visits.slice((page - 1) * SIZE, page * SIZE).map((v) => (
                <tr key={`${v.boatId} ${v.visit}`}>
                  <th scope="row">{v.day === null ? <span className="minus">no day</span> : shortDay(v.day)}</th>
                  <td>{v.boatName}</td>
                  <td className="faint">{VISIT_WORDS[v.visit]}</td>
                  <td className="num figure">{minutesText(v.minutes)}</td>
                  <td className="num figure">{v.cost < 0.005 ? '' : money(v.cost)}</td>
                </tr>
              ))}
            </tbody>
          </Lines>
          <Pager page={page} size={SIZE} total={data.visits.length} turn={setPage} />
        </div>
      )}
    </>
  );
}
