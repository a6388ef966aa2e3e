import { Button } from '@mui/material';
import { useState } from 'react';
import { useMay, useToday } from '../app/useBook.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { Wrong } from '../ui/parts.tsx';
import { usageApi } from './api.ts';
import { HoursSheet } from './HoursSheet.tsx';
import { readingsOf, type Sheet } from './judge.ts';

/** What the meter of one engine shows today, typed where its readings stand. */
export function TypeHours({ boatId, engineId }: { boatId: number; engineId: number }) {
  const today = useToday();
  const mayType = useMay('administrator', 'coordinator', 'technician', 'dock');
  const { data } = usageApi.useHoursSheetQuery({ boatId, size: 20 }, { skip: !mayType });
  const [sheet, setSheet] = useState<Sheet>({});
  const [typeHours, { isLoading, error }] = usageApi.useTypeHoursMutation();
  const dispatch = useAppDispatch();
  const rows = data?.rows.filter((r) => r.engineId === engineId) ?? [];
  if (rows.length === 0) return null;
  const { readings, open } = readingsOf(rows, sheet, today);
  const save = async () => {
    const answer = await typeHours({ readings });
    if (!answer.data) return;
    setSheet({});
    dispatch(say({ tone: 'done', text: 'The reading is in the book.' }));
  };
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        if (readings.length > 0 && open === 0) void save();
      }}>
      <HoursSheet
        narrow
        rows={rows}
        sheet={sheet}
        day={today}
        onType={(id, typed) => {
          setSheet({ [id]: typed });
        }}
      />
      <Wrong error={error} />
      {(readings.length > 0 || open > 0) && (
        <Button type="submit" variant="contained" disabled={open > 0 || readings.length === 0 || isLoading}>
          Write it into the book
        </Button>
      )}
    </form>
  );
}
