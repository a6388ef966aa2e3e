import { storesApi } from '../stores/api.ts';
import { Button } from '@mui/material';
import type { DayAct, Matter } from '@diurna/contract/day';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { jobsApi } from '../jobs/api.ts';
import { AllTheSame } from '../jobs/index.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { plural } from '../ui/format.ts';
import { Wrong } from '../ui/parts.tsx';
import { useStored } from '../ui/useDraft.ts';

const SHOWN = 5;

/** Every matter that needs a person today, worst first, each with options worked out; one click takes one. */
export function ToDecide({ matters, day }: { matters: readonly Matter[]; day: string }) {
  const [put, setPut] = useStored<string[]>(`decided.${day}`, []);
  const [all, setAll] = useStored<boolean>('decide.all', false);
  const open = matters.filter((m) => !put.includes(m.key));
  const shown = all ? open : open.slice(0, SHOWN);
  const now = open.filter((m) => m.weight === 'now').length;
  return (
    <section className="block decide">
      <h2>
        To decide{' '}
        {open.length > 0 && (
          <span className="faint">
            {now > 0 ? `${now} now` : ''}
            {now > 0 && open.length > now ? ', ' : ''}
            {open.length > now ? `${open.length - now} soon` : ''}
          </span>
        )}
      </h2>
      {open.length === 0 && (
        <p className="faint">Nothing needs you just now. What the plan cannot hold by itself comes here.</p>
      )}
      {shown.map((m) => (
        <One
          key={m.key}
          matter={m}
          away={() => {
            setPut([...put, m.key]);
          }}
        />
      ))}
      {open.length > SHOWN && (
        <button
          type="button"
          className="link-button"
          onClick={() => {
            setAll(!all);
          }}>
          {all ? 'the worst only' : `and ${open.length - SHOWN} more`}
        </button>
      )}
      {put.length > 0 && matters.some((m) => put.includes(m.key)) && (
        <button
          type="button"
          className="link-button"
          onClick={() => {
            setPut([]);
          }}>
          show {plural(matters.filter((m) => put.includes(m.key)).length, 'matter')} put away
        </button>
      )}
    </section>
  );
}

function One({ matter: m, away }: { matter: Matter; away: () => void }) {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const [edit, editing] = jobsApi.useEditJobMutation();
  const [add, adding] = jobsApi.useAddJobMutation();
  const [cancel, cancelling] = jobsApi.useCancelJobMutation();
  const [order, ordering] = storesApi.useAddArrivalMutation();
  const busy = editing.isLoading || adding.isLoading || cancelling.isLoading || ordering.isLoading;
  const [taken, setTaken] = useState<{ act: DayAct; label: string } | null>(null);
  const take = async (act: DayAct, label: string, insist?: string) => {
    setTaken({ act, label });
    const said = insist === undefined ? {} : { insist };
    let ok = true;
    if (act.kind === 'leave') away();
    else if (act.kind === 'look') void navigate(act.to);
    else if (act.kind === 'move')
      ok =
        (
          await edit({
            id: act.jobId,
            version: act.version,
            day: act.day,
            technicianId: act.technicianId,
            startMinute: act.startMinute,
            tasks: act.tasks,
            ...said,
          })
        ).error === undefined;
    else if (act.kind === 'add')
      ok =
        (
          await add({
            boatId: act.boatId,
            day: act.day,
            technicianId: act.technicianId,
            startMinute: act.startMinute,
            tasks: act.tasks,
            ...said,
          })
        ).error === undefined;
    else if (act.kind === 'call off')
      ok = (await cancel({ id: act.jobId, version: act.version, reason: 'Decided on the day.' })).error === undefined;
    else
      ok =
        (
          await order({
            partId: act.partId,
            baseId: act.baseId,
            quantity: act.quantity,
            day: act.day,
            note: 'ordered from the day',
          })
        ).error === undefined;
    if (ok && act.kind !== 'leave' && act.kind !== 'look')
      dispatch(say({ tone: 'done', text: `${m.title}: ${label.charAt(0).toLowerCase()}${label.slice(1)}. Done.` }));
  };
  return (
    <article className={`matter ${m.weight}`}>
      <h3>{m.title}</h3>
      <p>{m.text}</p>
      <div className="matter-acts">
        {m.options.map((o, i) => (
          <Button
            key={o.label}
            size="small"
            variant={i === 0 ? 'contained' : 'outlined'}
            color="primary"
            disabled={busy}
            onClick={() => void take(o.act, o.label)}>
            {o.label}
            {o.cost !== null && (
              <span className="figure matter-cost">{o.cost < 0.5 ? 'cheapest' : `+${Math.round(o.cost)}`}</span>
            )}
          </Button>
        ))}
      </div>
      <Wrong error={editing.error ?? adding.error ?? cancelling.error ?? ordering.error} />
      <AllTheSame
        error={editing.error ?? adding.error}
        onGive={(reason) => {
          if (taken) void take(taken.act, taken.label, reason);
        }}
      />
    </article>
  );
}
