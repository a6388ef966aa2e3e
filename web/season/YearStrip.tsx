import type { Reply } from '../app/api.ts';
import { addDays, dayNumber, type Day } from '@diurna/core/calendar';
import { DAYS_BEFORE_CLOSING, DAYS_BEFORE_OPENING, frostMonths } from '@diurna/core/season';
import { fullDay, plural } from '../ui/format.ts';
import { MONTHS } from './words.ts';

const WIDE = 1000;
/** So many days of the seasons on both sides are seen. */
const AROUND = 75;

/** One time of standing as a strip: months, frost, when boats come home and go out again, both campaigns, today. */
export function YearStrip({ data }: { data: Reply<'readSeason'> }) {
  const { off, boats, today } = data;
  if (!off) return null;
  const [from, to] = [addDays(off.closes, -AROUND), addDays(off.opens, AROUND)];
  const days = dayNumber(to) - dayNumber(from);
  const x = (day: Day) => ((dayNumber(day) - dayNumber(from)) / days) * WIDE;
  const months = Array.from({ length: 16 }, (_, i) => monthAfter(from, i)).filter((m) => m < to);
  // Of a month that begins or ends off the strip, the word would lie on its neighbour’s.
  const wide = months.filter((m) => {
    const [first, last] = [m < from ? from : m, monthAfter(m, 1) > to ? to : monthAfter(m, 1)];
    return dayNumber(last) - dayNumber(first) > 21;
  });
  const cold = new Set(frostMonths(data.season) ?? []);
  const bar = (first: Day, last: Day) => ({ x: x(first), width: Math.max(2, x(last) - x(first)) });
  const homes = boats.flatMap((b) => (b.lastBack && b.lastBack >= from ? [b.lastBack] : []));
  const outs = boats.flatMap((b) => (b.firstOut && b.firstOut <= to ? [b.firstOut] : []));
  const told = `From ${fullDay(off.closes)} to ${fullDay(off.opens)} boats stand. ${
    off.frost ? `Frost from ${fullDay(off.frost)}.` : 'No frost.'
  } Put away by ${fullDay(off.putAwayBy)}. ${plural(homes.length, 'boat')} with a last hire, ${outs.length} booked after the opening.`;
  return (
    <figure className="year-strip">
      <svg viewBox={`0 0 ${WIDE} 92`} preserveAspectRatio="none" role="img" aria-label={told}>
        <defs>
          <pattern id="frost" width="8" height="8" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <path d="M0 0v8" className="frost-line" />
          </pattern>
        </defs>
        <rect {...bar(from, off.closes)} y="22" height="34" className="season-on" />
        <rect {...bar(off.opens, to)} y="22" height="34" className="season-on" />
        {months
          .filter((m) => cold.has(Number(m.slice(5, 7))))
          .map((m) => {
            const [first, last] = [m < from ? from : m, monthAfter(m, 1) > to ? to : monthAfter(m, 1)];
            return <rect key={m} {...bar(first, last)} y="22" height="34" fill="url(#frost)" />;
          })}
        {homes.map((day, i) => (
          <path key={`h${i}`} d={`M${x(day)} 26v12`} className="hire-end" />
        ))}
        {outs.map((day, i) => (
          <path key={`o${i}`} d={`M${x(day)} 40v12`} className="hire-begin" />
        ))}
        <rect
          {...bar(addDays(off.closes, -DAYS_BEFORE_CLOSING), off.putAwayBy)}
          y="62"
          height="9"
          className="campaign"
        />
        <rect {...bar(addDays(off.opens, -DAYS_BEFORE_OPENING), off.opens)} y="62" height="9" className="campaign" />
        {months.map((m) => (
          <path key={m} d={`M${x(m < from ? from : m)} 18v42`} className="month-line" />
        ))}
        {today >= from && today <= to && <path d={`M${x(today)} 14v62`} className="today-line" />}
      </svg>
      <div className="strip-words" aria-hidden="true">
        {wide.map((m) => (
          <span key={m} style={{ left: `${x(m < from ? from : m) / 10}%` }}>
            {MONTHS[Number(m.slice(5, 7)) - 1]}
          </span>
        ))}
      </div>
      <div className="strip-words strip-foot" aria-hidden="true">
        {today >= from && today <= to && (
          <b className="today-word" style={{ left: `${x(today) / 10}%` }}>
            today
          </b>
        )}
      </div>
      <figcaption className="faint small">
        <span className="key season-on" /> on the water <span className="key frost" /> frost{' '}
        <span className="key campaign" /> lay-up and recommission <span className="key home" /> last hire ends, first
        begins
      </figcaption>
    </figure>
  );
}

/** The first of the month of a day, so many months on. */
function monthAfter(day: Day, months: number): Day {
  const month = Number(day.slice(0, 4)) * 12 + Number(day.slice(5, 7)) - 1 + months;
  return `${Math.floor(month / 12)}-${String((month % 12) + 1).padStart(2, '0')}-01`;
}
