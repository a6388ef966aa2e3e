import { Button } from '@mui/material';
import type { DueRow } from '@diurna/contract/service';
import { addDays } from '@diurna/core/calendar';
import { MANUAL_FIRST, MOST_DEFERRED_DAYS } from '@diurna/core/service';
import { useState } from 'react';
import { say, useAppDispatch } from '../app/store.ts';
import { fullDay } from '../ui/format.ts';
import { Entry, Wrong } from '../ui/parts.tsx';
import { serviceApi } from './api.ts';
import { Tick } from '../ui/Tick.tsx';

const LATER_DAYS = 14;

interface Props {
  row: DueRow;
  today: string;
  maySteer: boolean;
}

/** A task put off: until when, why and by whom, with the way back; or the form that puts it off. */
export function PutOff({ row, today, maySteer }: Props) {
  const [open, setOpen] = useState(false);
  const [end, ending] = serviceApi.useEndDeferralMutation();
  const dispatch = useAppDispatch();
  const { deferral } = row;
  if (deferral)
    return (
      <div>
        <p>
          Put off {deferral.spring ? `to spring, ${fullDay(deferral.until)}` : `to ${fullDay(deferral.until)}`}
          {deferral.by && `, allowed by ${deferral.by}`}: {deferral.reason}
        </p>
        <p className="faint">By its own limits: {deferral.otherwise}.</p>
        {maySteer && (
          <Button
            disabled={ending.isLoading}
            onClick={() => {
              void end(deferral.id).then((done) => {
                if (done.data) dispatch(say({ tone: 'done', text: 'It stands by its own limits again.' }));
              });
            }}>
            Take it back
          </Button>
        )}
        <Wrong error={ending.error} />
      </div>
    );
  if (!maySteer || row.job !== null || row.due.task === 'running-in') return null;
  return open ? (
    <PutOffForm
      row={row}
      today={today}
      onClose={() => {
        setOpen(false);
      }}
    />
  ) : (
    <p>
      <Button
        onClick={() => {
          setOpen(true);
        }}>
        Put it off
      </Button>
    </p>
  );
}

function PutOffForm({ row, today, onClose }: { row: DueRow; today: string; onClose: () => void }) {
  const [spring, setSpring] = useState(false);
  const [until, setUntil] = useState(addDays(today, LATER_DAYS));
  const [reason, setReason] = useState('');
  const [put, { error, isLoading }] = serviceApi.usePutOffMutation();
  const dispatch = useAppDispatch();
  const save = async () => {
    const done = await put({ id: row.engineId, task: row.due.task, until: spring ? null : until, reason });
    if (!done.data) return;
    dispatch(say({ tone: 'done', text: 'It is put off, and comes back by itself.' }));
    onClose();
  };
  return (
    <form
      aria-label="Put it off"
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}>
      <label className="task-line">
        <Tick
          on={spring}
          onTick={(on) => {
            setSpring(on);
          }}
        />{' '}
        In spring, when boats are brought out again
      </label>
      {!spring && (
        <Entry
          kind="date"
          label="Until"
          value={until}
          min={addDays(today, 1)}
          max={addDays(today, MOST_DEFERRED_DAYS)}
          required
          onType={setUntil}
        />
      )}
      <Entry label="Why" value={reason} maxLength={500} required onType={setReason} />
      <p className="faint small">Your name stands beside it as who allowed it. {MANUAL_FIRST}</p>
      <Wrong error={error} />
      <div className="acts">
        <Button type="submit" variant="contained" color="primary" disabled={isLoading || reason.trim().length < 3}>
          Put it off
        </Button>
        <Button onClick={onClose}>Leave it</Button>
      </div>
    </form>
  );
}
