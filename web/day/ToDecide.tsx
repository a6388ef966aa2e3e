import { storesApi } from '../stores/api.ts';
import { Button } from '@mui/material';
import type { DayAct, Matter } from '@diurna/contract/day';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { hiresApi } from '../hires/api.ts';
import { WriteOutside } from '../messages/index.ts';
import { messagesApi } from '../messages/api.ts';
import { jobsApi } from '../jobs/api.ts';
import { AllTheSame } from '../jobs/index.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { plural } from '../ui/format.ts';
import { Wrong } from '../ui/parts.tsx';
import { useStored } from '../ui/useDraft.ts';

const GROUPS: Record<Matter['group'], string> = {
  held: 'Held',
  'going out': 'Going out',
  cards: 'Cards',
  hires: 'Hires',
  findings: 'Findings',
  parts: 'Parts',
  readings: 'Hours',
  calendars: 'Calendars',
};

/** Every matter that needs a person, a line each, what waits dearest first; one click takes an option. */
export function ToDecide({ matters, day, currency }: { matters: readonly Matter[]; day: string; currency: string }) {
  const [put, setPut] = useStored<string[]>(`decided.${day}`, []);
  const [opened, setOpened] = useState<string | null | undefined>(undefined);
  const open = matters.filter((m) => !put.includes(m.key));
  const now = open.filter((m) => m.weight === 'now').length;
  const soon = open.length - now;
  // Until somebody opens another, the first stands open.
  const shown = opened === undefined ? open[0]?.key : opened;
  const groups = [...new Set(open.map((m) => m.group))];
  const away = matters.filter((m) => put.includes(m.key)).length;
  return (
    <section className="block decide">
      <h2>
        To decide{' '}
        {open.length > 0 && (
          <span className="faint">
            {[now > 0 && `${now} now`, soon > 0 && `${soon} soon`].filter(Boolean).join(', ')}
          </span>
        )}
      </h2>
      {open.length === 0 && (
        <p className="faint">Nothing needs you just now. What the plan cannot hold by itself comes here.</p>
      )}
      {groups.map((group) => (
        <section key={group} aria-label={GROUPS[group]}>
          <h3 className="decide-group">{GROUPS[group]}</h3>
          {open
            .filter((m) => m.group === group)
            .map((m) => (
              <One
                key={m.key}
                matter={m}
                currency={currency}
                open={m.key === shown}
                onOpen={(on) => {
                  setOpened(on ? m.key : null);
                }}
                away={() => {
                  setPut([...put, m.key]);
                }}
              />
            ))}
        </section>
      ))}
      {away > 0 && (
        <button
          type="button"
          className="link-button"
          onClick={() => {
            setPut([]);
          }}>
          show {plural(away, 'matter')} put away
        </button>
      )}
    </section>
  );
}

function One({
  matter: m,
  currency,
  open,
  onOpen,
  away,
}: {
  matter: Matter;
  currency: string;
  open: boolean;
  onOpen: (on: boolean) => void;
  away: () => void;
}) {
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const [edit, editing] = jobsApi.useEditJobMutation();
  const [add, adding] = jobsApi.useAddJobMutation();
  const [cancel, cancelling] = jobsApi.useCancelJobMutation();
  const [order, ordering] = storesApi.useAddArrivalMutation();
  const [give, giving] = hiresApi.useGiveHireMutation();
  const [message, setMessage] = useState<string | null>(null);
  const busy = [editing, adding, cancelling, ordering, giving].some((x) => x.isLoading);
  const [taken, setTaken] = useState<{ act: DayAct; label: string } | null>(null);
  const take = async (act: DayAct, label: string, insist?: string) => {
    setTaken({ act, label });
    const said = insist === undefined ? {} : { insist };
    if (act.kind === 'leave') {
      away();
      return;
    }
    if (act.kind === 'look') {
      void navigate(act.to);
      return;
    }
    if (act.kind === 'message') {
      setMessage(act.text);
      return;
    }
    const answer =
      act.kind === 'move'
        ? await edit({ ...moveOf(act), ...said })
        : act.kind === 'add'
          ? await add({ ...addOf(act), ...said })
          : act.kind === 'call off'
            ? await cancel({ id: act.jobId, version: act.version, reason: 'Decided on the day.' })
            : act.kind === 'stand in'
              ? await give({ id: act.hireId, version: act.version, boatId: act.boatId })
              : await order({ ...orderOf(act), note: 'ordered from the day' });
    if (answer.error !== undefined) return;
    dispatch(
      say({
        tone: 'done',
        text: `${m.title}: ${label.charAt(0).toLowerCase()}${label.slice(1)}. Done.`,
        changeId: 'changeId' in answer.data ? answer.data.changeId : null,
      }),
    );
  };
  return (
    <article className={`matter ${m.weight}`}>
      <h4>
        <button
          type="button"
          className="link-button plain"
          aria-expanded={open}
          onClick={() => {
            onOpen(!open);
          }}>
          {m.title}
        </button>
        {m.waiting !== null && m.waiting >= 0.5 && (
          <span className="figure matter-waits">
            {Math.round(m.waiting)} {currency} if left
          </span>
        )}
      </h4>
      {open && <p>{m.text}</p>}
      <div className="matter-acts" hidden={!open}>
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
              <span className="figure matter-cost">
                {o.cost < 0.5 ? 'cheapest' : `+${Math.round(o.cost)} ${currency}`}
              </span>
            )}
          </Button>
        ))}
      </div>
      {message !== null && <ForTheDesk subject={m.title} text={message} />}
      <Wrong error={editing.error ?? adding.error ?? cancelling.error ?? ordering.error ?? giving.error} />
      <AllTheSame
        error={editing.error ?? adding.error}
        onGive={(reason) => {
          if (taken) void take(taken.act, taken.label, reason);
        }}
      />
    </article>
  );
}

/** Words ready for the hire desk: to read out, to copy, or to send by mail. */
function ForTheDesk({ subject, text }: { subject: string; text: string }) {
  const { data } = messagesApi.useListContactsQuery();
  const [writing, setWriting] = useState(false);
  const [copied, setCopied] = useState(false);
  return (
    <div className="matter-message" role="group" aria-label="For the hire desk">
      <p>{text}</p>
      <Button
        size="small"
        onClick={() => {
          void navigator.clipboard.writeText(text).then(() => {
            setCopied(true);
          });
        }}>
        {copied ? 'Copied' : 'Copy the words'}
      </Button>
      {data?.mail && data.contacts.length > 0 ? (
        <Button
          size="small"
          onClick={() => {
            setWriting(true);
          }}>
          Send it by mail
        </Button>
      ) : (
        <Button size="small" href={`mailto:?body=${encodeURIComponent(text)}`}>
          Write it as a mail
        </Button>
      )}
      {writing && data && (
        <WriteOutside
          contacts={data.contacts}
          subject={subject}
          text={text}
          onClose={() => {
            setWriting(false);
          }}
        />
      )}
    </div>
  );
}

type Of<K extends DayAct['kind']> = Extract<DayAct, { kind: K }>;
const moveOf = ({ jobId, kind: _, ...place }: Of<'move'>) => ({ id: jobId, ...place });
const addOf = ({ kind: _, ...place }: Of<'add'>) => place;
const orderOf = ({ kind: _, ...what }: Of<'order'>) => what;
