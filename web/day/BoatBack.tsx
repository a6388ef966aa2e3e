import { Button } from '@mui/material';
import type { Hire } from '@diurna/contract/hires';
import type { HoursRow } from '@diurna/contract/usage';
import type { Day } from '@diurna/core/calendar';
import { useState } from 'react';
import { usageApi } from '../usage/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay } from '../app/useBook.ts';
import { useDock, useDockActs } from '../outbox/index.ts';
import { SnagForm } from '../snags/index.ts';
import { hoursText } from '../ui/format.ts';
import { Asked } from '../ui/parts.tsx';
import { useDraft } from '../ui/useDraft.ts';
import { judge, readingsOf, type Sheet } from '../usage/index.ts';
import { atDock } from './at-dock.ts';
import { Box } from '../ui/Box.tsx';

interface Props {
  boat: { id: number; name: string };
  /** The hire it comes back from today. */
  hire: Hire | null;
  /** Its engines' meters, where the list has them. */
  rows: HoursRow[] | null;
  today: Day;
  onDone: () => void;
}

/** One boat at the dock: that it is back, a figure for each engine, and what is wrong with it. */
export function BoatBack(props: Props) {
  const { boat, rows } = props;
  const { data, error } = usageApi.useHoursSheetQuery({ boatId: boat.id, size: 20 }, { skip: rows !== null });
  const known = rows ?? data?.rows;
  if (!known) return <Asked data={data} error={error} />;
  return <BoatHours {...props} rows={known} />;
}

const word = (position: string) => (position === 'single' ? 'engine' : position);

function BoatHours({ boat, hire, rows, today, onDone }: Props & { rows: HoursRow[] }) {
  const [sheet, setSheet, clear] = useDraft<Sheet>(`back ${boat.id}`, {});
  const [snag, setSnag] = useState(false);
  // Tapped twice it is written down once.
  const [saving, setSaving] = useState(false);
  const mayType = useMay('administrator', 'coordinator', 'technician', 'dock');
  const { write } = useDock();
  const { waiting } = useDockActs();
  const dispatch = useAppDispatch();
  const { readings, open } = readingsOf(rows, sheet, today);
  const isBack = hire === null || atDock(hire, waiting).back !== null;
  const of = { boatId: boat.id, boatName: boat.name };
  const comeBack = async () => {
    if (hire) await write({ ...of, kind: 'back', hireId: hire.id, back: true });
  };
  const save = async () => {
    setSaving(true);
    const written = await write({ ...of, kind: 'hours', day: today, readings });
    // Its hours cannot be read before it is here.
    if (written && !isBack) await comeBack();
    setSaving(false);
    if (!written) return;
    clear();
    dispatch(say({ tone: 'done', text: `Hours of ${boat.name} are written down.` }));
    onDone();
  };
  if (snag)
    return (
      <SnagForm
        boatId={boat.id}
        boatName={boat.name}
        engines={rows.map((r) => ({ id: r.engineId, word: word(r.position) }))}
        onDone={() => {
          setSnag(false);
        }}
      />
    );
  return (
    <form
      className="back-form"
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}>
      {rows.length === 0 && <p className="faint">No engine of this boat has a meter.</p>}
      {rows.map((r, i) => (
        <Meter
          key={r.engineId}
          row={r}
          today={today}
          typed={sheet[r.engineId]}
          first={i === 0}
          onType={(typed) => {
            setSheet((old) => ({ ...old, [r.engineId]: typed }));
          }}
        />
      ))}
      <div className="side-acts">
        {mayType && rows.length > 0 && (
          <Button
            type="submit"
            variant="contained"
            color="primary"
            disabled={readings.length === 0 || open > 0 || saving}>
            Write it down
          </Button>
        )}
        {mayType && !isBack && <Button onClick={() => void comeBack()}>It is back</Button>}
        {mayType && (
          <Button
            onClick={() => {
              setSnag(true);
            }}>
            Something is wrong
          </Button>
        )}
      </div>
    </form>
  );
}

interface MeterProps {
  row: HoursRow;
  today: Day;
  typed: Sheet[number] | undefined;
  first: boolean;
  onType: (typed: Sheet[number]) => void;
}

/** What one meter shows, judged as it is typed. */
function Meter({ row: r, today, typed, first, onType }: MeterProps) {
  const mayType = useMay('administrator', 'coordinator', 'technician', 'dock');
  const verdict = judge(r, typed, today);
  return (
    <div className="back-engine">
      <label htmlFor={`back-${r.engineId}`}>
        {word(r.position)}{' '}
        <span className="faint">
          was <span className="figure">{r.lastCount === null ? 'new' : hoursText(r.lastCount)}</span>
        </span>
      </label>
      <Box
        id={`back-${r.engineId}`}
        figure
        autoComplete="off"
        autoFocus={first}
        value={typed?.count ?? ''}
        placeholder="h"
        disabled={!mayType}
        aria-invalid={verdict.state === 'bad' || verdict.state === 'question'}
        aria-describedby={`back-${r.engineId}-says`}
        onChange={(e) => {
          onType({ count: e.target.value, reason: typed?.reason ?? '' });
        }}
      />
      <p id={`back-${r.engineId}-says`} className={verdict.state === 'good' ? 'fine small' : 'minus small'}>
        {verdict.text}
      </p>
      {verdict.state === 'question' && (
        <Box
          aria-label={`Why is it right, ${word(r.position)}`}
          placeholder="it is right, because"
          value={typed?.reason ?? ''}
          onChange={(e) => {
            onType({ count: typed?.count ?? '', reason: e.target.value });
          }}
        />
      )}
    </div>
  );
}
