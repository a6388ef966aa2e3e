import { plannerApi } from '../planner/api.ts';
import { zodResolver } from '@hookform/resolvers/zod';
import { Button } from '@mui/material';
import { planSettings } from '@diurna/contract/planner';
import { workCalendarRoutes, type WorkingPerson } from '@diurna/contract/work-calendar';
import { SKILLS, type Skill } from '@diurna/core/service';
import { useState } from 'react';
import { Controller, useForm, useWatch } from 'react-hook-form';
import type { z } from 'zod';
import { type Reply } from '../app/api.ts';
import { workCalendarApi } from './api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useBases, useMay, useSession, useToday } from '../app/useBook.ts';
import { fullDay, moneyText, plural, shortDay } from '../ui/format.ts';
import { Field, FormSheet, MoneyField } from '../ui/form.tsx';
import { Choice, Waiting, WIDE, Wrong } from '../ui/parts.tsx';

const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const clock = (m: number) => `${String(Math.floor(m / 60)).padStart(2, '0')}:${String(m % 60).padStart(2, '0')}`;
const minuteOf = (text: string) => {
  const [h, m] = text.split(':').map(Number);
  return (h ?? 0) * 60 + (m ?? 0);
};

/** When people work, at which base and with which skills; days without work, the lift, and what plans are weighed by. */
export function Work() {
  const today = useToday();
  const bases = useBases();
  const maySteer = useMay('administrator', 'coordinator');
  const { data, error } = workCalendarApi.useReadWorkCalendarQuery({ from: today });
  const currency = useSession()?.currency ?? 'EUR';
  const [open, setOpen] = useState<WorkingPerson | null>(null);
  if (!data)
    return (
      <section className="block">
        <h2>Working hours</h2>
        <Wrong error={error} />
        {!error && <Waiting />}
      </section>
    );
  const base = (id: number | null) => bases.find((b) => b.id === id)?.name ?? '';
  const people = data.people.filter((p) => p.role === 'technician');
  return (
    <>
      <section className="block">
        <h2>Working hours</h2>
        <div {...WIDE}>
          <table className="lines">
            <thead>
              <tr>
                <th scope="col">Name</th>
                <th scope="col">Can do besides</th>
                <th scope="col">Usual week</th>
                <th scope="col" className="num">
                  Pace
                </th>
                <th scope="col" className="num">
                  An hour
                </th>
                <th scope="col">Other days</th>
                <th scope="col">
                  <span className="visually-hidden">Act</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {people.map((p) => (
                <tr key={p.id}>
                  <td>
                    <b>{p.name}</b>
                  </td>
                  <td>{p.skills.join(', ') || <span className="faint">everyday work</span>}</td>
                  <td>{weekText(p, base)}</td>
                  <td className="num figure">{p.pace.toFixed(2)}</td>
                  <td className="num figure">{moneyText(p.rateMinor ?? data.settings.rateMinor, currency)}</td>
                  <td>
                    {p.exceptions.slice(0, 2).map((x) => (
                      <div key={x.id}>
                        {shortDay(x.firstDay)}
                        {x.lastDay !== x.firstDay && ` to ${shortDay(x.lastDay)}`}:{' '}
                        {x.kind === 'away'
                          ? 'away'
                          : x.kind === 'base'
                            ? `at ${base(x.baseId)}`
                            : `${clock(x.fromMinute!)} to ${clock(x.toMinute!)}`}
                        {x.reason ? `, ${x.reason}` : ''}
                      </div>
                    ))}
                    {p.exceptions.length > 2 && <span className="faint">and {p.exceptions.length - 2} more</span>}
                  </td>
                  <td className="keep">
                    {maySteer && (
                      <button
                        type="button"
                        className="link-button"
                        aria-label={`edit the working hours of ${p.name}`}
                        onClick={() => {
                          setOpen(p);
                        }}>
                        edit
                      </button>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
        {people.length === 0 && <p className="faint">Add a technician first.</p>}
      </section>
      <Closed data={data} maySteer={maySteer} />
      <Lift data={data} maySteer={maySteer} />
      {maySteer && <Weights key={data.settings.version} settings={data.settings} />}
      {open && (
        <WorkForm
          key={open.id}
          person={data.people.find((p) => p.id === open.id) ?? open}
          onClose={() => {
            setOpen(null);
          }}
        />
      )}
    </>
  );
}

function weekText(p: WorkingPerson, base: (id: number | null) => string): string {
  if (p.shifts.length === 0) return 'the base’s working days';
  const groups = new Map<string, number[]>();
  for (const s of p.shifts) {
    const key = `${clock(s.fromMinute)} to ${clock(s.toMinute)}${s.baseId === null || s.baseId === p.baseId ? '' : ` at ${base(s.baseId)}`}`;
    groups.set(key, [...(groups.get(key) ?? []), s.weekday]);
  }
  return [...groups].map(([key, days]) => `${days.map((d) => DAYS[d - 1]).join(' ')} ${key}`).join('; ');
}

type Edit = z.input<typeof workCalendarRoutes.editPersonWork.body>;

function WorkForm({ person, onClose }: { person: WorkingPerson; onClose: () => void }) {
  const bases = useBases();
  const dispatch = useAppDispatch();
  const [edit, editing] = workCalendarApi.useEditPersonWorkMutation();
  const [remove] = workCalendarApi.useRemoveExceptionMutation();
  const currency = useSession()?.currency ?? 'EUR';
  const {
    control,
    handleSubmit,
    setValue,
    formState: { errors },
  } = useForm<Edit>({
    resolver: zodResolver(workCalendarRoutes.editPersonWork.body),
    defaultValues: {
      skills: person.skills,
      pace: person.pace,
      rateMinor: person.rateMinor,
      overtimeMinutes: person.overtimeMinutes,
      overtimePercent: person.overtimePercent,
      shifts: person.shifts,
      version: person.version,
    },
  });
  const shifts = useWatch({ control, name: 'shifts' });
  const save = handleSubmit(async (values) => {
    const answer = await edit({ id: person.id, ...values, version: person.version });
    if (!answer.data) return;
    dispatch(
      say({ tone: 'done', text: `The working hours of ${person.name} are kept. Plans count on them from now on.` }),
    );
    onClose();
  });
  const set = (weekday: number, change: Partial<Edit['shifts'][number]> | null) => {
    const others = shifts.filter((s) => s.weekday !== weekday);
    const old = shifts.find((s) => s.weekday === weekday) ?? { weekday, fromMinute: 480, toMinute: 960, baseId: null };
    setValue(
      'shifts',
      change === null ? others : [...others, { ...old, ...change }].sort((a, b) => a.weekday - b.weekday),
      { shouldDirty: true },
    );
  };
  return (
    <FormSheet
      wide
      title={`Working hours of ${person.name}`}
      act="Keep them"
      onClose={onClose}
      onSubmit={() => void save()}
      error={editing.error}
      busy={editing.isLoading}>
      <Controller
        control={control}
        name="skills"
        render={({ field }) => (
          <fieldset className="full bare">
            <legend className="field-label">Can do besides everyday work</legend>
            <div className="chips">
              {SKILLS.map((s: Skill) => {
                const on = field.value.includes(s);
                return (
                  <button
                    key={s}
                    type="button"
                    className="chip"
                    aria-pressed={on}
                    onClick={() => {
                      const next = new Set<string>(field.value);
                      if (on) next.delete(s);
                      else next.add(s);
                      field.onChange([...next]);
                    }}>
                    {s}
                  </button>
                );
              })}
            </div>
          </fieldset>
        )}
      />
      <Field control={control} name="pace" label="Pace" kind="number" help="1 = estimates hold, 1.2 = a fifth slower" />
      <MoneyField
        control={control}
        name="rateMinor"
        label={`An hour costs (${currency})`}
        help="empty: the book’s usual"
      />
      <Field control={control} name="overtimeMinutes" label="Overtime a day (minutes)" kind="number" />
      <Field
        control={control}
        name="overtimePercent"
        label="Overtime is paid (%)"
        kind="number"
        help="150 = half as much again"
      />
      <fieldset className="full bare">
        <legend className="field-label">Usual week</legend>
        <table className="lines week">
          <tbody>
            {DAYS.map((word, i) => {
              const s = shifts.find((x) => x.weekday === i + 1);
              return (
                <tr key={word}>
                  <th scope="row">
                    <label>
                      <input
                        type="checkbox"
                        className="tick"
                        checked={s !== undefined}
                        onChange={(e) => {
                          set(i + 1, e.target.checked ? {} : null);
                        }}
                      />{' '}
                      {word}
                    </label>
                  </th>
                  <td>
                    {s && (
                      <input
                        type="time"
                        aria-label={`${word} from`}
                        className="plain-input short"
                        value={clock(s.fromMinute)}
                        onChange={(e) => {
                          set(i + 1, { fromMinute: minuteOf(e.target.value) });
                        }}
                      />
                    )}
                  </td>
                  <td>
                    {s && (
                      <input
                        type="time"
                        aria-label={`${word} to`}
                        className="plain-input short"
                        value={clock(s.toMinute)}
                        onChange={(e) => {
                          set(i + 1, { toMinute: minuteOf(e.target.value) });
                        }}
                      />
                    )}
                  </td>
                  <td>
                    {s && bases.length > 1 && (
                      <Choice
                        label={`${word} at`}
                        hideLabel
                        value={s.baseId ?? ''}
                        onChange={(v) => {
                          set(i + 1, { baseId: v === '' ? null : v });
                        }}
                        options={[['', 'own base'], ...bases.map((b): [number, string] => [b.id, b.name])]}
                      />
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
        {shifts.map((s, i) => {
          const wrong = errors.shifts?.[i]?.toMinute?.message ?? errors.shifts?.[i]?.fromMinute?.message;
          return (
            wrong && (
              <p key={s.weekday} className="minus small" role="alert">
                {DAYS[s.weekday - 1]} {wrong}
              </p>
            )
          );
        })}
        {shifts.length === 0 && <p className="faint small">No day ticked: the working days of the base count.</p>}
      </fieldset>
      <div className="full">
        <p className="field-label">Away, elsewhere, or at other hours</p>
        {person.exceptions.map((x) => (
          <p key={x.id} className="kept-line">
            {fullDay(x.firstDay)}
            {x.lastDay !== x.firstDay && ` to ${fullDay(x.lastDay)}`}:{' '}
            {x.kind === 'away'
              ? 'away'
              : x.kind === 'base'
                ? bases.find((b) => b.id === x.baseId)?.name
                : `${clock(x.fromMinute!)} to ${clock(x.toMinute!)}`}
            {x.reason ? `, ${x.reason}` : ''}{' '}
            <button type="button" className="link-button" onClick={() => void remove(x.id)}>
              take back
            </button>
          </p>
        ))}
        <AddException personId={person.id} />
      </div>
    </FormSheet>
  );
}

function AddException({ personId }: { personId: number }) {
  const bases = useBases();
  const today = useToday();
  const [add, { error, isLoading }] = workCalendarApi.useAddExceptionMutation();
  const [kind, setKind] = useState<'away' | 'base' | 'hours'>('away');
  const [firstDay, setFirst] = useState(today);
  const [lastDay, setLast] = useState(today);
  const [baseId, setBase] = useState<number | ''>(bases[0]?.id ?? '');
  const [from, setFrom] = useState('08:00');
  const [to, setTo] = useState('16:00');
  const [reason, setReason] = useState('');
  const send = async () => {
    const days = { firstDay, lastDay: lastDay < firstDay ? firstDay : lastDay, reason: reason.trim() || null };
    const body =
      kind === 'away'
        ? { kind, ...days }
        : kind === 'base'
          ? { kind, baseId: baseId as number, ...days }
          : { kind, fromMinute: minuteOf(from), toMinute: minuteOf(to), ...days };
    if (!(await add({ id: personId, ...body })).error) setReason('');
  };
  return (
    <div className="tools">
      <Choice
        label="What"
        hideLabel
        value={kind}
        onChange={(k) => {
          if (k !== '') setKind(k);
        }}
        options={[
          ['away', 'away'],
          ['base', 'at another base'],
          ['hours', 'at other hours'],
        ]}
      />
      <label className="choice">
        <span className="choice-label">First day</span>
        <input
          type="date"
          className="plain-input"
          value={firstDay}
          onChange={(e) => {
            setFirst(e.target.value);
          }}
        />
      </label>
      <label className="choice">
        <span className="choice-label">Last day</span>
        <input
          type="date"
          className="plain-input"
          value={lastDay < firstDay ? firstDay : lastDay}
          onChange={(e) => {
            setLast(e.target.value);
          }}
        />
      </label>
      {kind === 'base' && (
        <Choice
          label="Base"
          value={baseId}
          onChange={setBase}
          options={bases.map((b): [number, string] => [b.id, b.name])}
        />
      )}
      {kind === 'hours' && (
        <>
          <label className="choice">
            <span className="choice-label">From</span>
            <input
              type="time"
              className="plain-input short"
              value={from}
              onChange={(e) => {
                setFrom(e.target.value);
              }}
            />
          </label>
          <label className="choice">
            <span className="choice-label">To</span>
            <input
              type="time"
              className="plain-input short"
              value={to}
              onChange={(e) => {
                setTo(e.target.value);
              }}
            />
          </label>
        </>
      )}
      <label className="choice">
        <span className="choice-label">Why</span>
        <input
          className="plain-input"
          value={reason}
          maxLength={200}
          onChange={(e) => {
            setReason(e.target.value);
          }}
        />
      </label>
      <Button disabled={isLoading || firstDay === ''} onClick={() => void send()}>
        Write it down
      </Button>
      <Wrong error={error} />
    </div>
  );
}

type Calendar = Reply<'readWorkCalendar'>;

/** Public holidays and the like, by hand or from a calendar file. */
function Closed({ data, maySteer }: { data: Calendar; maySteer: boolean }) {
  const bases = useBases();
  const today = useToday();
  const dispatch = useAppDispatch();
  const [add, adding] = workCalendarApi.useAddClosedDayMutation();
  const [remove] = workCalendarApi.useRemoveClosedDayMutation();
  const [bring, bringing] = workCalendarApi.useImportClosedDaysMutation();
  const [baseId, setBase] = useState<number | ''>(bases[0]?.id ?? '');
  const [day, setDay] = useState(today);
  const [name, setName] = useState('');
  const read = async (file: File | undefined) => {
    if (!file || baseId === '') return;
    const answer = await bring({ id: baseId, text: await file.text() });
    if (answer.data)
      dispatch(
        say({
          tone: 'done',
          text: `${plural(answer.data.added, 'day')} without work read in${answer.data.known > 0 ? `, ${answer.data.known} known already` : ''}.`,
        }),
      );
  };
  return (
    <section className="block">
      <h2>Days without work</h2>
      {data.closed.length === 0 && <p className="faint">None ahead.</p>}
      <ul className="plain-list">
        {data.closed.slice(0, 12).map((c) => (
          <li key={c.id}>
            <span className="figure">{fullDay(c.day)}</span> {c.name}, {bases.find((b) => b.id === c.baseId)?.name}{' '}
            {maySteer && (
              <button
                type="button"
                className="link-button"
                onClick={() => void remove(c.id)}
                aria-label={`take back ${fullDay(c.day)}`}>
                take back
              </button>
            )}
          </li>
        ))}
      </ul>
      {data.closed.length > 12 && <p className="faint">and {data.closed.length - 12} more</p>}
      {maySteer && (
        <div className="tools">
          <Choice
            label="Base"
            value={baseId}
            onChange={setBase}
            options={bases.map((b): [number, string] => [b.id, b.name])}
          />
          <label className="choice">
            <span className="choice-label">Day</span>
            <input
              type="date"
              className="plain-input"
              value={day}
              min={today}
              onChange={(e) => {
                setDay(e.target.value);
              }}
            />
          </label>
          <label className="choice">
            <span className="choice-label">Name of the day</span>
            <input
              className="plain-input"
              value={name}
              maxLength={80}
              onChange={(e) => {
                setName(e.target.value);
              }}
            />
          </label>
          <Button
            disabled={adding.isLoading || baseId === '' || day === '' || name.trim() === ''}
            onClick={() =>
              void add({ id: baseId as number, day, name: name.trim() }).then((a) => {
                if (a.data) setName('');
              })
            }>
            Add the day
          </Button>
          <label className="choice">
            <span className="choice-label">Or from a calendar file (.ics)</span>
            <input
              type="file"
              accept=".ics,text/calendar"
              onChange={(e) => {
                void read(e.target.files?.[0]);
                e.target.value = '';
              }}
            />
          </label>
        </div>
      )}
      <Wrong error={adding.error ?? bringing.error} />
    </section>
  );
}

function Lift({ data, maySteer }: { data: Calendar; maySteer: boolean }) {
  const bases = useBases();
  const today = useToday();
  const [add, { error, isLoading }] = workCalendarApi.useAddLiftOutMutation();
  const [remove] = workCalendarApi.useRemoveLiftOutMutation();
  const [baseId, setBase] = useState<number | ''>(bases[0]?.id ?? '');
  const [firstDay, setFirst] = useState(today);
  const [lastDay, setLast] = useState(today);
  const [slots, setSlots] = useState(0);
  const [reason, setReason] = useState('');
  return (
    <section className="block">
      <h2>The lift</h2>
      <p>
        {bases.map((b) => `${b.name}: ${plural(b.liftSlots, 'visit')} a day`).join('; ')}. Changed on the page of bases.
      </p>
      <ul className="plain-list">
        {data.liftOut.map((l) => (
          <li key={l.id}>
            {bases.find((b) => b.id === l.baseId)?.name}, {fullDay(l.firstDay)} to {fullDay(l.lastDay)}:{' '}
            {l.slots === 0 ? 'out' : `${l.slots} a day`}, {l.reason}{' '}
            {maySteer && (
              <button type="button" className="link-button" onClick={() => void remove(l.id)}>
                take back
              </button>
            )}
          </li>
        ))}
      </ul>
      {maySteer && (
        <div className="tools">
          <Choice
            label="Base"
            value={baseId}
            onChange={setBase}
            options={bases.map((b): [number, string] => [b.id, b.name])}
          />
          <Choice
            label="Takes"
            value={slots}
            onChange={(n) => {
              if (n !== '') setSlots(n);
            }}
            options={[[0, 'none'], ...[1, 2, 3, 4, 5].map((n): [number, string] => [n, plural(n, 'visit')])]}
          />
          <label className="choice">
            <span className="choice-label">From</span>
            <input
              type="date"
              className="plain-input"
              value={firstDay}
              onChange={(e) => {
                setFirst(e.target.value);
              }}
            />
          </label>
          <label className="choice">
            <span className="choice-label">Until</span>
            <input
              type="date"
              className="plain-input"
              value={lastDay < firstDay ? firstDay : lastDay}
              onChange={(e) => {
                setLast(e.target.value);
              }}
            />
          </label>
          <label className="choice">
            <span className="choice-label">Why</span>
            <input
              className="plain-input"
              value={reason}
              maxLength={80}
              onChange={(e) => {
                setReason(e.target.value);
              }}
            />
          </label>
          <Button
            disabled={isLoading || baseId === '' || firstDay === '' || reason.trim() === ''}
            onClick={() =>
              void add({
                id: baseId as number,
                firstDay,
                lastDay: lastDay < firstDay ? firstDay : lastDay,
                slots,
                reason: reason.trim(),
              }).then((a) => {
                if (a.data) setReason('');
              })
            }>
            Write it down
          </Button>
        </div>
      )}
      <Wrong error={error} />
    </section>
  );
}

function Weights({ settings }: { settings: Calendar['settings'] }) {
  const dispatch = useAppDispatch();
  const [edit, { error, isLoading }] = plannerApi.useEditPlanSettingsMutation();
  const currency = useSession()?.currency ?? 'EUR';
  const { control, handleSubmit } = useForm<z.input<typeof planSettings>>({
    resolver: zodResolver(planSettings),
    defaultValues: settings,
  });
  const save = handleSubmit(async (values) => {
    if ((await edit({ ...values, version: settings.version })).data)
      dispatch(say({ tone: 'done', text: 'Plans are weighed by these figures from now on.' }));
  });
  return (
    <form
      noValidate
      className="block"
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}>
      <h2>What plans are weighed by</h2>
      <div className="form-grid" style={{ maxWidth: 900, marginBottom: 12 }}>
        <Field
          control={control}
          name="lateWeightPercent"
          label="Late work weighs (%)"
          kind="number"
          help="100 = as estimated; more: earlier work"
        />
        <MoneyField
          control={control}
          name="moveCostMinor"
          label={`Moving a task (${currency})`}
          help="more: new plans change less"
        />
        <MoneyField control={control} name="rateMinor" label={`An hour of work (${currency})`} />
        <MoneyField
          control={control}
          name="hireDayMinor"
          label={`A day on hire (${currency})`}
          help="usually; boats may have their own"
        />
      </div>
      <Wrong error={error} />
      <Button type="submit" disabled={isLoading}>
        Keep the figures
      </Button>
    </form>
  );
}
