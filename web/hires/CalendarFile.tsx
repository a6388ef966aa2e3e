import { Button } from '@mui/material';
import type { CalendarResult } from '@diurna/contract/hires';
import { useState } from 'react';
import { hiresApi } from './api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useBases, useMe } from '../app/useBook.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { plural } from '../ui/format.ts';
import { Heads, Wrong } from '../ui/parts.tsx';
import { chooseAgain } from '../ui/save.ts';
import { Lines } from '../ui/Lines.tsx';
import { Box } from '../ui/Box.tsx';

const DOES: Record<CalendarResult['events'][number]['does'], string> = {
  add: 'new',
  change: 'changes',
  same: 'in the book',
  cancel: 'called off',
  faulty: 'left out',
};
const SHOWN = 100;

/** Reads a calendar file (iCalendar) in, with a look before anything is written. */
export function CalendarFile() {
  const bases = useBases();
  const me = useMe();
  const [baseId, setBaseId] = useState<number>(me.baseId ?? bases[0]?.id ?? 0);
  const [file, setFile] = useState<{ name: string; text: string } | null>(null);
  const [preview, previewing] = hiresApi.usePreviewCalendarMutation();
  const [write, writing] = hiresApi.useImportCalendarMutation();
  const dispatch = useAppDispatch();
  const result = writing.data ?? previewing.data;
  const look = async (chosen: { name: string; text: string } | null, base: number) => {
    previewing.reset();
    writing.reset();
    setFile(chosen);
    if (chosen) await preview({ baseId: base, text: chosen.text });
  };
  const keep = async () => {
    if (!file) return;
    const answer = await write({ baseId, text: file.text });
    if (answer.data)
      dispatch(
        say({
          tone: 'done',
          text: `${file.name} is in the book: ${answer.data.counts.add} new, ${answer.data.counts.change} changed, ${answer.data.counts.cancel} called off.`,
          link: { to: '/due', word: 'See what falls due' },
        }),
      );
  };
  const moves = result ? result.counts.add + result.counts.change + result.counts.cancel : 0;
  return (
    <section className="block">
      <h2>Read a calendar file in</h2>
      <p className="faint">
        iCalendar (.ics), repeating bookings and time zones included. A booking names its boat in the title, the place
        or the resources. Reading a file twice changes nothing.
      </p>
      <div className="tools">
        <BaseChoice
          label="Times without a zone are those of"
          value={baseId}
          onChange={(v) => {
            if (v !== '') {
              setBaseId(v);
              void look(file, v);
            }
          }}
        />
        <label className="choice">
          <span className="choice-label">Calendar file</span>
          <Box
            type="file"
            onClick={chooseAgain}
            accept=".ics,text/calendar"
            onChange={(e) => {
              const chosen = e.target.files?.[0];
              if (chosen) void chosen.text().then((text) => look({ name: chosen.name, text }, baseId));
            }}
          />
        </label>
      </div>
      <Wrong error={previewing.error ?? writing.error} />
      {previewing.isLoading && <p role="status">Reading the file ...</p>}
      {result && file && (
        <>
          <p role="status">
            <b>{file.name}</b>: {plural(result.counts.add, 'new booking')}, {result.counts.change}{' '}
            {result.written ? 'changed' : 'to change'}, {result.counts.cancel} called off, {result.counts.same} in the
            book already{result.counts.faulty > 0 && <b className="minus">, {result.counts.faulty} left out</b>}
            {result.written ? '. Written.' : '.'}
          </p>
          {!result.written && moves > 0 && (
            <Button variant="contained" color="primary" disabled={writing.isLoading} onClick={() => void keep()}>
              Write {plural(moves, 'booking')} into the book
            </Button>
          )}
          {!result.written && moves === 0 && <p>Nothing in this file is new to the book.</p>}
          <Lines>
            <Heads of={['Booking', 'Boat', 'Out', 'Back', 'In the file as']} />
            <tbody>
              {result.events.slice(0, SHOWN).map((e, i) => (
                <tr key={`${e.uid} ${e.out ?? i}`}>
                  <td className={e.fault ? 'minus' : ''}>
                    {DOES[e.does]}
                    {e.fault ? `: ${e.fault}` : ''}
                  </td>
                  <td>
                    <b>{e.boatName}</b>
                  </td>
                  <td className="figure">{e.outText}</td>
                  <td className="figure">{e.backText}</td>
                  <td className="faint">{e.title}</td>
                </tr>
              ))}
            </tbody>
          </Lines>
          {result.events.length > SHOWN && (
            <p className="faint small">Shown: the first {SHOWN}, those left out first.</p>
          )}
        </>
      )}
    </section>
  );
}
