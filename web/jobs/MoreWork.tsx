import { Accordion, AccordionDetails, AccordionSummary, Button } from '@mui/material';
import { TASK_KINDS, taskApplies, TASKS, type TaskKind } from '@diurna/core/service';
import { placedText, stepAtHand, type CardAct } from '@diurna/core/visit';
import { useState, type ReactNode } from 'react';
import { now } from '../app/clock.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay, useMe } from '../app/useBook.ts';
import { peopleApi } from '../people/api.ts';
import { Choice, Entry, Wrong } from '../ui/parts.tsx';
import { Against, useAgainst } from './Against.tsx';
import { jobsApi } from './api.ts';
import type { LiveCard } from './live-card.ts';

interface Props {
  live: LiveCard;
  write: (act: CardAct) => Promise<void>;
  onDone: () => void;
}

/** What is seldom wanted, one below the other: a word to the desk, a helper, more work, a step left out. */
export function MoreWork({ live, write, onDone }: Props) {
  return (
    <>
      <Folded title="Ask the coordinator">
        <Ask write={write} onDone={onDone} />
      </Folded>
      <Folded title="More work on this card">
        <AddWork live={live} onDone={onDone} />
      </Folded>
      <Folded title="Leave a step out">
        <LeaveOut live={live} write={write} onDone={onDone} />
      </Folded>
      <Folded title="A second person writes too">
        <Helper live={live} write={write} />
      </Folded>
    </>
  );
}

function Folded({ title, children }: { title: string; children: ReactNode }) {
  return (
    <Accordion disableGutters elevation={0} slotProps={{ transition: { unmountOnExit: true } }}>
      <AccordionSummary expandIcon={<span aria-hidden="true">▾</span>}>
        <h3>{title}</h3>
      </AccordionSummary>
      <AccordionDetails>{children}</AccordionDetails>
    </Accordion>
  );
}

function Ask({ write, onDone }: Pick<Props, 'write' | 'onDone'>) {
  const [text, setText] = useState('');
  return (
    <div className="tools">
      <Entry full label="What you want to know" value={text} maxLength={1000} onType={setText} />
      <Button
        disabled={text.trim() === ''}
        onClick={() => {
          void write({ kind: 'say', text: text.trim() });
          onDone();
        }}>
        Ask
      </Button>
    </div>
  );
}

function AddWork({ live: { card }, onDone }: Pick<Props, 'live' | 'onDone'>) {
  const [engineId, setEngineId] = useState<number | ''>(card.engines.length === 1 ? card.engines[0]!.id : '');
  const [task, setTask] = useState<TaskKind | ''>('');
  const [why, setWhy] = useState('');
  const [add, { isLoading, error }] = jobsApi.useAddCardTasksMutation();
  const dispatch = useAppDispatch();
  const chosen = engineId !== '' && task !== '';
  const { reasons } = useAgainst(
    {
      boatId: card.boatId,
      technicianId: card.technicianId,
      day: card.day,
      jobId: card.id,
      tasks: chosen
        ? [
            ...card.tasks.filter((t) => t.state !== 'done').map((t) => ({ engineId: t.engineId, task: t.task })),
            { engineId, task },
          ]
        : [],
    },
    !chosen,
    error,
  );
  const engine = card.engines.find((e) => e.id === engineId);
  const known = new Set(card.tasks.filter((t) => t.engineId === engineId).map((t) => t.task));
  const kinds = TASK_KINDS.filter((k) => engine && taskApplies(k, engine.stroke) && !known.has(k));
  return (
    <>
      <div className="tools">
        {card.engines.length > 1 && (
          <Choice
            label="On which engine"
            value={engineId}
            onChange={setEngineId}
            options={[['', 'which?'], ...card.engines.map((e): [number, string] => [e.id, e.position])]}
          />
        )}
        <Choice
          label="Work"
          value={task}
          onChange={setTask}
          options={[['', 'what?'], ...kinds.map((k): [TaskKind, string] => [k, TASKS[k].word])]}
        />
        <Entry label="Why" value={why} maxLength={200} onType={setWhy} />
        <Button
          disabled={engineId === '' || task === '' || why.trim().length < 3 || isLoading}
          onClick={() => {
            if (engineId === '' || task === '') return;
            void add({ id: card.id, version: card.version, tasks: [{ engineId, task }], why: why.trim() }).then((a) => {
              if (!a.data) return;
              dispatch(say({ tone: 'done', text: `${TASKS[task].word} is on the card; the desk knows.` }));
              onDone();
            });
          }}>
          Add it
        </Button>
      </div>
      <Against reasons={reasons} />
      <p className="faint">Needs signal: the order of work is made anew.</p>
      <Wrong error={error} />
    </>
  );
}

function LeaveOut({ live, write, onDone }: Props) {
  const { at } = stepAtHand(live, now());
  const [why, setWhy] = useState('');
  if (!at) return <p className="faint">Every step is done.</p>;
  if (at.step.gate !== null)
    return (
      <p className="faint">
        The step at hand is confirmed by a person and not left out. Finish with the engine left open, and say why.
      </p>
    );
  return (
    <>
      <p>{placedText(live.card.engines, at.step)}</p>
      <div className="tools">
        <Entry full label="Why it is left out" value={why} maxLength={300} onType={setWhy} />
        <Button
          disabled={why.trim().length < 3}
          onClick={() => {
            void write({ kind: 'skip', step: at.step.id, why: why.trim() });
            onDone();
          }}>
          Leave it out
        </Button>
      </div>
    </>
  );
}

function Helper({ live: { card, state, nameOf }, write }: Pick<Props, 'live' | 'write'>) {
  const me = useMe();
  const may = useMay('administrator', 'coordinator') || card.technicianId === me.id;
  const { data: people = [] } = peopleApi.useListPeopleQuery();
  const [who, setWho] = useState<number | ''>('');
  if (!may) return <p className="faint">Whose card it is says who else writes on it.</p>;
  const hands = people.filter(
    (p) => p.active && p.role === 'technician' && p.id !== card.technicianId && !state.helpers.has(p.id),
  );
  return (
    <>
      {[...state.helpers].map((personId) => (
        <p key={personId} className="tools">
          {people.find((p) => p.id === personId)?.name ?? nameOf(personId)}
          <Button size="small" onClick={() => void write({ kind: 'join', personId, on: false })}>
            No longer
          </Button>
        </p>
      ))}
      <div className="tools">
        <Choice
          label="Who"
          value={who}
          onChange={setWho}
          options={[['', 'a colleague'], ...hands.map((h): [number, string] => [h.id, h.name])]}
        />
        <Button
          disabled={who === ''}
          onClick={() => {
            if (who === '') return;
            void write({ kind: 'join', personId: who, on: true });
            setWho('');
          }}>
          Let them write
        </Button>
      </div>
    </>
  );
}
