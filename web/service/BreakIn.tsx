import { Button } from '@mui/material';
import { breakInAt, BREAK_IN_CAUTION, BREAK_IN_HOURS, BREAK_IN_PHASES, MANUAL_FIRST } from '@diurna/core/service';
import { useState } from 'react';
import { serviceApi } from './api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay } from '../app/useBook.ts';
import { fullDay, hoursText } from '../ui/format.ts';
import { Entry, Wrong } from '../ui/parts.tsx';
import { useDraft } from '../ui/useDraft.ts';
import '../ui/curve.css';
import { Lines } from '../ui/Lines.tsx';
import { Box } from '../ui/Box.tsx';

/** A new engine is run in over ten hours: where it stands, how to run it now, and who did. */
export function BreakIn({ id }: { id: number }) {
  const { data } = serviceApi.useReadBreakInQuery(id);
  const mayWrite = useMay('administrator', 'coordinator', 'technician', 'dock');
  const [draft, setDraft, clear] = useDraft(`break-in ${id}`, { hours: '', remark: '' });
  const [add, { error, isLoading }] = serviceApi.useAddBreakInMutation();
  const [all, setAll] = useState(false);
  const dispatch = useAppDispatch();
  if (!data?.applies || (data.done && data.entries.length === 0)) return null;
  const { phase, left } = breakInAt(data.hours, 0);
  const count = Number(draft.hours.replace(',', '.'));
  const save = async () => {
    const answer = await add({ id, hours: count, remark: draft.remark.trim() || null });
    if (!answer.data) return;
    clear();
    dispatch(say({ tone: 'done', text: `${hoursText(count)} h of running in are written down.` }));
  };
  return (
    <section className="block break-in">
      <h2>Running in</h2>
      <div
        className="break-in-bar"
        role="img"
        aria-label={`${hoursText(data.hours)} of ${BREAK_IN_HOURS} hours run in`}>
        {BREAK_IN_PHASES.map((p) => (
          <span key={p.from} style={{ flex: p.to - p.from }}>
            <i style={{ width: `${Math.max(0, Math.min(1, (data.hours - p.from) / (p.to - p.from))) * 100}%` }} />
          </span>
        ))}
      </div>
      <p>
        <b className="figure">{hoursText(data.hours)}</b> of {BREAK_IN_HOURS} h
        {phase ? `, ${hoursText(left)} h left of ${phase.word.toLowerCase()}` : ': run in, it may run as it likes'}.
      </p>
      {phase && (
        <>
          <ul>
            {phase.steps.map((s) => (
              <li key={s}>{s}</li>
            ))}
          </ul>
          <div className="caution">
            <p>{BREAK_IN_CAUTION}</p>
            <p>{MANUAL_FIRST}</p>
          </div>
        </>
      )}
      {phase && mayWrite && (
        <form
          className="tools"
          onSubmit={(e) => {
            e.preventDefault();
            void save();
          }}>
          <Entry
            kind="figure"
            short
            label="Run in today, hours"
            value={draft.hours}
            onType={(text) => {
              setDraft((d) => ({ ...d, hours: text.replaceAll(/[^\d.,]/g, '') }));
            }}
          />
          <label className="choice grows">
            <span className="choice-label">What was seen</span>
            <Box
              maxLength={500}
              value={draft.remark}
              onChange={(e) => {
                setDraft((d) => ({ ...d, remark: e.target.value }));
              }}
            />
          </label>
          <Button type="submit" variant="contained" color="primary" disabled={!(count > 0) || isLoading}>
            Write it down
          </Button>
        </form>
      )}
      <Wrong error={error} />
      {data.entries.length > 0 && (
        <Lines>
          <tbody>
            {(all ? data.entries : data.entries.slice(-5)).map((e) => (
              <tr key={e.id}>
                <td className="faint">{fullDay(e.day)}</td>
                <td className="num figure">{hoursText(e.hours)} h</td>
                <td>{e.by}</td>
                <td>{e.remark}</td>
              </tr>
            ))}
          </tbody>
        </Lines>
      )}
      {data.entries.length > 5 && !all && (
        <button
          type="button"
          className="link-button"
          onClick={() => {
            setAll(true);
          }}>
          all {data.entries.length} outings
        </button>
      )}
    </section>
  );
}
