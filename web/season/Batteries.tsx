import { batteryRoutes, type StoredBattery } from '@diurna/contract/batteries';
import { dayInZone } from '@diurna/core/calendar';
import { batteryState, CHARGE_BELOW, REST_HOURS } from '@diurna/core/season';
import { zodResolver } from '@hookform/resolvers/zod';
import { Button } from '@mui/material';
import { useState, type ReactNode } from 'react';
import { useForm } from 'react-hook-form';
import type { z } from 'zod';
import { say, useAppDispatch } from '../app/store.ts';
import { useBases, useMay, useToday } from '../app/useBook.ts';
import { placeOf, ScanButton } from '../labels/index.ts';
import { DockNotTaken, useDock, useDockActs } from '../outbox/index.ts';
import { Field, FormSheet, Pick } from '../ui/form.tsx';
import { plural, shortDay } from '../ui/format.ts';
import { Lines } from '../ui/Lines.tsx';
import { Empty, Entry, Heads } from '../ui/parts.tsx';
import { SeasonHead } from './SeasonHead.tsx';
import { useBatteryRound } from './useSeason.ts';

const SAID: Record<StoredBattery['verdict'], string> = {
  fine: 'fine',
  charge: 'charge it',
  replace: 'replace it: charged, and low again',
  'measure again': 'measure again, rested',
  'not looked at': 'not looked at yet',
};
const BAD: readonly StoredBattery['verdict'][] = ['charge', 'replace'];

/** A battery with the looks this device still holds. */
type OnRound = StoredBattery & { kept: number };

/** The batteries of the round as they stand with what waits on this device. */
function useRound(of: readonly StoredBattery[], baseId: number | null, today: string): OnRound[] {
  const { waiting } = useDockActs();
  const zone = useBases().find((b) => b.id === baseId)?.timeZone ?? 'UTC';
  return of.map((b) => {
    const kept = waiting
      .flatMap((w) =>
        w.kind === 'battery' && w.boatId === b.boatId ? [{ ...w.look, day: dayInZone(new Date(w.at), zone) }] : [],
      )
      .toReversed();
    if (kept.length === 0) return { ...b, kept: 0 };
    const looks = [...kept, ...b.looks];
    return { ...b, ...batteryState(looks, b.since, today), looks, kept: kept.length };
  });
}

/** The round of the batteries in store: whose turn it is, and what the last look said; works without signal. */
export function Batteries() {
  const round = useBatteryRound();
  const { data } = round;
  const mayLook = useMay('administrator', 'coordinator', 'technician');
  const [at, setAt] = useState<number | null>(null);
  const batteries = useRound(data?.batteries ?? [], round.baseId, data?.today ?? '');
  const overdue = batteries.filter((b) => b.overdueDays > 0).length;
  const open = batteries.find((b) => b.boatId === at);
  return (
    <>
      <SeasonHead of={round} />
      {data?.off && batteries.length === 0 && (
        <Empty title="No battery is in store.">
          A battery comes on the round when its boat’s lay-up says that it is out and charged.
        </Empty>
      )}
      {data?.off && batteries.length > 0 && (
        <>
          <p>
            {plural(batteries.length, 'battery', 'batteries')} in store
            {overdue > 0 ? <b className="minus">, {overdue} past their round</b> : ', none past its round'}.{' '}
            {data.charger
              ? 'They stay on a charger: look that its lamp is on, and measure where it is not.'
              : `Below ${CHARGE_BELOW} % it is charged; low again after that it is replaced.`}
          </p>
          <DockNotTaken kinds={['battery']} />
          {mayLook && <FindBattery of={batteries} onFound={setAt} />}
          <Lines className="as-cards" aria-label="Batteries in store">
            <Heads of={['Boat', 'Stands', 'Last look', { num: 'Charge' }, 'Says', 'Next look', '']} />
            <tbody>
              {batteries.map((b) => (
                <BatteryRow
                  key={b.boatId}
                  of={b}
                  act={
                    mayLook && (
                      <Button
                        size="small"
                        aria-label={`Write down a look at ${b.boatName}`}
                        onClick={() => {
                          setAt(b.boatId);
                        }}>
                        Look
                      </Button>
                    )
                  }
                />
              ))}
            </tbody>
          </Lines>
        </>
      )}
      {open && data && (
        <Look
          of={open}
          charger={data.charger}
          onClose={() => {
            setAt(null);
          }}
        />
      )}
    </>
  );
}

function BatteryRow({ of: b, act }: { of: OnRound; act: ReactNode }) {
  const [last] = b.looks;
  return (
    <tr>
      <th scope="row">{b.boatName}</th>
      <td className="faint">{b.place}</td>
      <td className="faint">
        {last
          ? `${shortDay(last.day)}${last.volts === null ? ', lamp' : `, ${last.volts.toFixed(2)} V`}${last.charged ? ', charged' : ''}`
          : `in store ${shortDay(b.since)}`}
        {b.kept > 0 && <b> on this device, not sent yet</b>}
      </td>
      <td className="num figure">{b.percent === null ? '' : `${b.percent} %`}</td>
      <td className={BAD.includes(b.verdict) ? 'minus' : undefined}>{SAID[b.verdict]}</td>
      <td className={b.overdueDays > 0 ? 'minus' : 'faint'}>
        {shortDay(b.nextLook)}
        {b.overdueDays > 0 && `, ${plural(b.overdueDays, 'day')} over`}
      </td>
      <td className="keep">{act}</td>
    </tr>
  );
}

/** The boat of the battery in front of one, by its name or its label. */
function FindBattery({ of, onFound }: { of: readonly OnRound[]; onFound: (boatId: number) => void }) {
  const [text, setText] = useState('');
  const [unknown, setUnknown] = useState<string | null>(null);
  /** @param place the page of a label; null = a name was typed */
  const find = (place: string | null, typed: string) => {
    const found = of.find(
      (b) => place === `/fleet/boats/${b.boatId}` || b.boatName.toLowerCase() === typed.toLowerCase(),
    );
    setUnknown(found ? null : place === null ? typed : 'That boat');
    if (found) onFound(found.boatId);
    setText('');
  };
  return (
    <form
      className="tools"
      onSubmit={(e) => {
        e.preventDefault();
        const typed = text.trim();
        if (typed !== '') find(placeOf(typed), typed);
      }}>
      <Entry label="Boat: scan or name" value={text} onType={setText} />
      <ScanButton
        onPlace={(place) => {
          find(place, place);
        }}
      />
      {unknown !== null && (
        <span className="minus" role="alert">
          {unknown} has no battery in store here.
        </span>
      )}
    </form>
  );
}

const schema = batteryRoutes.addBatteryLook.body;

function Look({ of, charger, onClose }: { of: OnRound; charger: boolean; onClose: () => void }) {
  const { write } = useDock();
  const today = useToday();
  const dispatch = useAppDispatch();
  const [busy, setBusy] = useState(false);
  const { control, handleSubmit } = useForm<z.input<typeof schema>>({
    resolver: zodResolver(schema),
    defaultValues: {
      ...{ volts: null, celsius: null, restedHours: charger ? null : 24, charged: charger, remark: null },
      kind: of.looks[0]?.kind ?? 'flooded',
    },
  });
  const save = handleSubmit(async (look) => {
    setBusy(true);
    const kept = await write({ kind: 'battery', boatId: of.boatId, boatName: of.boatName, look });
    setBusy(false);
    if (!kept) return;
    const { percent, verdict } = batteryState([{ ...look, day: today }, ...of.looks], of.since, today);
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
      busy={busy}>
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
