import { Button } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import { usageApi } from './api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay, useMe, useToday } from '../app/useBook.ts';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { plural } from '../ui/format.ts';
import { Asked, Choice, Empty, Entry, PageHead, Pager, Wrong } from '../ui/parts.tsx';
import { useDraft } from '../ui/useDraft.ts';
import { HoursSheet } from './HoursSheet.tsx';
import { readingsOf, type Sheet, type Typed } from './judge.ts';

const SIZE = 100;

/** Hours of many engines in one go. */
export function Hours() {
  const me = useMe();
  const today = useToday();
  const mayType = useMay('administrator', 'coordinator', 'technician', 'dock');
  const [baseId, setBaseId] = useState<number | ''>(me.baseId ?? '');
  const [wanted, setWanted] = useState<'yes' | 'no'>('no');
  const [day, setDay] = useState(today);
  const [page, setPage] = useState(1);
  const [sheet, setSheet, clearSheet] = useDraft<Sheet>('hours', {});
  const { data, error } = usageApi.useHoursSheetQuery({ page, size: SIZE, wanted, ...(baseId !== '' && { baseId }) });
  const [typeHours, { isLoading, error: refused }] = usageApi.useTypeHoursMutation();
  const dispatch = useAppDispatch();

  const type = (engineId: number, typed: Typed) => {
    setSheet((old) => ({ ...old, [engineId]: typed }));
  };
  const { readings, open } = data ? readingsOf(data.rows, sheet, day) : { readings: [], open: 0 };
  const save = async () => {
    const answer = await typeHours({ readings, ...(day !== today && { day }) });
    if (!answer.data) return;
    clearSheet();
    const { saved, unchanged } = answer.data;
    dispatch(
      say({
        tone: 'done',
        text: `${plural(saved, 'figure')} in the book${unchanged > 0 ? `, ${unchanged} were there already` : ''}.`,
        link: { to: '/due', word: 'See what is due' },
      }),
    );
  };

  return (
    <>
      <PageHead
        tools={
          <div className="tools">
            <BaseChoice
              hideLabel
              value={baseId}
              onChange={(v) => {
                setBaseId(v);
                setPage(1);
              }}
              none="All bases"
            />
            <Choice
              label="Show"
              hideLabel
              value={wanted}
              onChange={(v) => {
                setWanted(v || 'no');
                setPage(1);
              }}
              options={[
                ['no', 'All engines'],
                ['yes', 'Hours wanted: not read for a week'],
              ]}
            />
            <Entry
              kind="date"
              hideLabel
              label="Read on"
              value={day}
              max={today}
              onType={(text) => {
                setDay(text || today);
              }}
            />
          </div>
        }

        title="Hours"
        acts={
          <Button component={Link} to="/day/back">
            Boats back today
          </Button>
        }>
        {data ? `${plural(data.total, 'engine')} with a meter` : ''}
      </PageHead>
      <Asked data={data} error={error} />
      {data?.rows.length === 0 && (
        <Empty title={wanted === 'yes' ? 'No hours are wanted here.' : 'No engine here has a meter.'}>
          {wanted === 'yes'
            ? 'No meter here waits for a reading: each was read within the week, or there is none yet.'
            : 'Fit a meter on the engine’s page, or read a fleet file in.'}
        </Empty>
      )}
      {data && data.rows.length > 0 && (
        <form
          onSubmit={(e) => {
            e.preventDefault();
          }}>
          <HoursSheet rows={data.rows} sheet={sheet} day={day} onType={type} />
          <Pager page={page} size={SIZE} total={data.total} turn={setPage} />
          <Wrong error={refused} />
          {mayType && (
            <div className="hours-save">
              <Button
                variant="contained"
                color="primary"
                disabled={readings.length === 0 || open > 0 || isLoading}
                onClick={() => void save()}>
                {readings.length === 0
                  ? 'Write into the book'
                  : `Write ${plural(readings.length, 'figure')} into the book`}
              </Button>
              {open > 0 && (
                <span className="minus" role="status">
                  {plural(open, 'figure')} {open === 1 ? 'wants' : 'want'} a second look first.
                </span>
              )}
              {readings.length > 0 && open === 0 && <Button onClick={clearSheet}>Clear the column</Button>}
            </div>
          )}
        </form>
      )}
    </>
  );
}
