import { dosesFor, keepsUntil, poured, rateOf } from '@diurna/core/season';
import type { Day } from '@diurna/core/calendar';
import { useState } from 'react';
import { fullDay, millilitresText } from '../ui/format.ts';
import { Entry } from '../ui/parts.tsx';
import './season.css';

const figure = (text: string): number | null =>
  /^\d+([.,]\d+)?$/.test(text.trim()) ? Number(text.trim().replace(',', '.')) : null;

/** What a tank is given for its time of standing: two doses, from what its gauge lets one guess. */
export function Doses({
  tank,
  dose: doseMlPerTen,
  opens,
  today,
}: {
  tank: number;
  /** mL to 10 L, as the bottle says; null = the usual. */
  dose: number | null;
  opens: Day;
  today: Day;
}) {
  const rate = rateOf(doseMlPerTen);
  const [least, setLeast] = useState('');
  const [most, setMost] = useState('');
  const [given, setGiven] = useState('');
  const [a, b] = [figure(least) ?? 0, Math.min(tank, figure(most) ?? tank)];
  const range = { least: Math.min(a, b), most: Math.max(a, b) };
  const { firstMl, addLeast, addMost, secondMl } = dosesFor({ litres: tank, ...range }, rate);
  const dose = figure(given);
  const short = dose === null ? null : poured(dose, range, rate).warning;
  return (
    <div className="full doses" aria-live="polite">
      <Entry kind="figure" short label="Fuel in it, at least (L)" value={least} onType={setLeast} />
      <Entry kind="figure" short label="at most (L)" value={most} onType={setMost} />
      <Entry kind="figure" short label="First dose given (mL)" value={given} onType={setGiven} />
      <p>
        First dose <b className="figure">{millilitresText(firstMl)}</b>, for the most that may be in it. Then{' '}
        {addLeast === addMost ? addMost : `${addLeast} to ${addMost}`} L to 95 %, with up to{' '}
        <b className="figure">{millilitresText(secondMl)}</b>. {rate * 10} mL to 10 L; what the bottle says outranks it
        and is kept under Year and places.
      </p>
      {short && <p className="minus">{short}</p>}
      <p className="faint small">
        Treated today it keeps until {fullDay(keepsUntil(today))}
        {keepsUntil(today) < opens ? ': pump it out before the opening.' : '.'}
      </p>
    </div>
  );
}
