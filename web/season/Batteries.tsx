import { seasonRoutes, type StoredBattery } from '@diurna/contract/season';
import { CHARGE_BELOW, REST_HOURS } from '@diurna/core/season';
import { zodResolver } from '@hookform/resolvers/zod';
import { Button } from '@mui/material';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import type { z } from 'zod';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay } from '../app/useBook.ts';
import { Field, FormSheet, Pick } from '../ui/form.tsx';
import { plural, shortDay } from '../ui/format.ts';
import { Lines } from '../ui/Lines.tsx';
import { Empty, Heads } from '../ui/parts.tsx';
import { seasonApi } from './api.ts';
import { SeasonHead } from './SeasonHead.tsx';
import { useSeason } from './useSeason.ts';

const SAID: Record<StoredBattery['verdict'], string> = {
  fine: 'fine',
  charge: 'charge it',
  replace: 'replace it: charged, and low again',
  'measure again': 'measure again, rested',
  'not looked at': 'not looked at yet',
};
const BAD: readonly StoredBattery['verdict'][] = ['charge', 'replace'];

/** The round of the batteries in store: whose turn it is, and what the last look said. */
export function Batteries() {
  const season = useSeason();
  const { data } = season;
  const mayLook = useMay('administrator', 'coordinator', 'technician');
  const [at, setAt] = useState<StoredBattery | null>(null);
  const place = (id: number | null) => data?.places.find((p) => p.id === id)?.name ?? '';
  const overdue = data?.batteries.filter((b) => b.overdueDays > 0).length ?? 0;
  return (
    <>
      <SeasonHead of={season} />
      {data?.off && data.batteries.length === 0 && (
        <Empty title="No battery is in store.">
          A battery comes on the round when its boat’s lay-up says that it is out and charged.
        </Empty>
      )}
      {data?.off && data.batteries.length > 0 && (
        <>
          <p>
            {plural(data.batteries.length, 'battery', 'batteries')} in store
            {overdue > 0 ? <b className="minus">, {overdue} past their round</b> : ', none past its round'}. Below{' '}
            {CHARGE_BELOW} % it is charged; low again after that it is replaced.
          </p>
          <Lines className="as-cards" aria-label="Batteries in store">
            <Heads of={['Boat', 'Stands', 'Last look', { num: 'Charge' }, 'Says', 'Next look', '']} />
            <tbody>
              {data.batteries.map((b) => (
                <tr key={b.boatId}>
                  <th scope="row">{b.boatName}</th>
                  <td className="faint">{place(b.placeId)}</td>
                  <td className="faint">
                    {b.looks[0]
                      ? `${shortDay(b.looks[0].day)}${b.looks[0].volts === null ? ', lamp' : `, ${b.looks[0].volts.toFixed(2)} V`}${b.looks[0].charged ? ', charged' : ''}`
                      : `in store ${shortDay(b.since)}`}
                  </td>
                  <td className="num figure">{b.percent === null ? '' : `${b.percent} %`}</td>
                  <td className={BAD.includes(b.verdict) ? 'minus' : undefined}>{SAID[b.verdict]}</td>
                  <td className={b.overdueDays > 0 ? 'minus' : 'faint'}>
                    {shortDay(b.nextLook)}
                    {b.overdueDays > 0 && `, ${plural(b.overdueDays, 'day')} over`}
                  </td>
                  <td className="keep">
                    {mayLook && (
                      <Button
                        size="small"
                        aria-label={`Write down a look at ${b.boatName}`}
                        onClick={() => {
                          setAt(b);
                        }}>
                        Look
                      </Button>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </Lines>
        </>
      )}
      {at && (
        <Look
          of={at}
          onClose={() => {
            setAt(null);
          }}
        />
      )}
    </>
  );
}

const schema = seasonRoutes.addBatteryLook.body;

function Look({ of, onClose }: { of: StoredBattery; onClose: () => void }) {
  const [add, { error, isLoading }] = seasonApi.useAddBatteryLookMutation();
  const dispatch = useAppDispatch();
  const { control, handleSubmit } = useForm<z.input<typeof schema>>({
    resolver: zodResolver(schema),
    defaultValues: { volts: null, celsius: null, restedHours: 24, kind: 'flooded', charged: false, remark: null },
  });
  const save = handleSubmit(async (values) => {
    const answer = await add({ id: of.boatId, ...values });
    if (!answer.data) return;
    const { percent, verdict } = answer.data;
    dispatch(
      say({ tone: 'done', text: `${of.boatName}: ${percent === null ? '' : `${percent} %, `}${SAID[verdict]}.` }),
    );
    onClose();
  });
  return (
    <FormSheet
      title={`Battery of ${of.boatName}`}
      act="Write it down"
      onClose={onClose}
      onSubmit={() => void save()}
      error={error}
      busy={isLoading}>
      <Field
        control={control}
        name="volts"
        label="Volts, rested"
        kind="number"
        help="empty: its lamp was looked at"
        autoFocus
      />
      <Field control={control} name="celsius" label="Temperature (°C)" kind="number" help="empty: not measured" />
      <Field
        control={control}
        name="restedHours"
        label="Hours at rest"
        kind="number"
        help={`under ${REST_HOURS} they say little`}
      />
      <Pick
        control={control}
        name="kind"
        label="Battery"
        options={[
          ['flooded', 'with caps, acid to look at'],
          ['sealed', 'sealed'],
        ]}
      />
      <Pick
        control={control}
        name="charged"
        label="Now"
        options={[
          [false, 'left as it is'],
          [true, 'put on charge'],
        ]}
      />
      <p className="full faint small no-margin">
        No spark near a battery on charge; gloves and glasses for acid. Follow the battery maker’s manual.
      </p>
    </FormSheet>
  );
}
