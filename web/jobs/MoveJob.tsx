import { Button } from '@mui/material';
import type { JobCard } from '@diurna/contract/jobs';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { jobsApi } from './api.ts';
import { Against, useAgainst } from './Against.tsx';
import { peopleApi } from '../people/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { TASK_KINDS, TASKS, taskApplies, type TaskKind } from '@diurna/core/service';
import { useMay, useToday, useShort } from '../app/useBook.ts';
import { shortDay } from '../ui/format.ts';
import { AskReason, Choice, Entry, Wrong } from '../ui/parts.tsx';

/** The coordinator moves an open card to another day or person, or calls it off. */
export function MoveJob({ card }: { card: JobCard }) {
  const short = useShort();
  const maySteer = useMay('administrator', 'coordinator');
  const today = useToday();
  const { data: people = [] } = peopleApi.useListPeopleQuery();
  const [day, setDay] = useState(card.day);
  const [technicianId, setTechnicianId] = useState<number | ''>(card.technicianId);
  const [edit, { isLoading, error }] = jobsApi.useEditJobMutation();
  const [cancel, { error: notCancelled }] = jobsApi.useCancelJobMutation();
  const [asking, setAsking] = useState(false);
  const dispatch = useAppDispatch();
  const navigate = useNavigate();
  const hands = people.filter((p) => p.active && (p.role === 'technician' || p.id === card.technicianId));
  const changed = day !== card.day || technicianId !== card.technicianId;
  const tasks = card.tasks.map(({ engineId, task }) => ({ engineId, task }));
  const against = useAgainst({ boatId: card.boatId, tasks, technicianId, day, jobId: card.id }, !changed, error);
  if (!maySteer) return null;
  const move = async () => {
    const answer = await edit({
      id: card.id,
      version: card.version,
      day,
      technicianId: technicianId as number,
      tasks,
      ...against.said,
    });
    if (answer.data)
      dispatch(
        say({
          tone: 'done',
          text: `${card.boatName} is now with ${short(hands.find((h) => h.id === technicianId)?.name ?? '')} on ${shortDay(day)}.`,
          changeId: answer.data.changeId,
        }),
      );
  };
  return (
    <section className="block no-print above-l">
      <h2>Move or call off</h2>
      <div className="tools">
        <Choice
          label="Technician"
          value={technicianId}
          onChange={setTechnicianId}
          options={hands.map((h): [number, string] => [h.id, h.name])}
        />
        <Entry kind="date" label="Day" value={day} min={card.day < today ? card.day : today} onType={setDay} />
        <Button
          disabled={!changed || isLoading || technicianId === '' || day === '' || !against.ready}
          onClick={() => void move()}>
          Move the card
        </Button>
        <Button
          color="error"
          onClick={() => {
            setAsking(true);
          }}>
          Call the job off
        </Button>
      </div>
      <Against reasons={against.reasons} insist={against.insist} onInsist={against.setInsist} />
      <AddTask card={card} />
      <Wrong error={error} />
      {asking && (
        <AskReason
          open
          title={`Call ${card.boatName} off`}
          act="Call it off"
          error={notCancelled}
          onClose={() => {
            setAsking(false);
          }}
          sentence="Its tasks are due again at once and can be handed out anew. The card stays in the records."
          onGive={(reason) => {
            void cancel({ id: card.id, version: card.version, reason }).then((answer) => {
              if (!answer.data) return;
              dispatch(
                say({
                  tone: 'done',
                  text: `${card.boatName} is called off.`,
                  link: { to: '/due', word: 'See what is due' },
                  changeId: answer.data.changeId,
                }),
              );
              void navigate('/jobs');
            });
          }}
        />
      )}
    </section>
  );
}

/** Work besides what is due: added to the card as it stands. */
function AddTask({ card }: { card: JobCard }) {
  const [engineId, setEngineId] = useState<number | ''>(card.engines[0]?.id ?? '');
  const [task, setTask] = useState<TaskKind | ''>('');
  const [edit, { isLoading, error }] = jobsApi.useEditJobMutation();
  const engine = card.engines.find((e) => e.id === engineId);
  const free = TASK_KINDS.filter(
    (t) => engine && taskApplies(t, engine.stroke) && !card.tasks.some((x) => x.engineId === engineId && x.task === t),
  );
  const tasks = [
    ...card.tasks.map((t) => ({ engineId: t.engineId, task: t.task })),
    ...(engineId === '' || task === '' ? [] : [{ engineId, task }]),
  ];
  const { boatId, technicianId, day } = card;
  const against = useAgainst(
    { boatId, tasks, technicianId, day, jobId: card.id },
    engineId === '' || task === '',
    error,
  );
  const add = async () => {
    const answer = await edit({ id: card.id, version: card.version, day, technicianId, tasks, ...against.said });
    if (answer.data) setTask('');
  };
  return (
    <div className="tools">
      {card.engines.length > 1 && (
        <Choice
          label="Engine"
          value={engineId}
          onChange={setEngineId}
          options={card.engines.map((e): [number, string] => [e.id, e.position])}
        />
      )}
      <Choice
        label="Add a task"
        value={task}
        onChange={setTask}
        options={[['', 'choose'], ...free.map((t): [TaskKind, string] => [t, TASKS[t].word])]}
      />
      <Button disabled={task === '' || engineId === '' || isLoading || !against.ready} onClick={() => void add()}>
        Add it to the card
      </Button>
      <Against reasons={against.reasons} insist={against.insist} onInsist={against.setInsist} />
      <Wrong error={error} />
    </div>
  );
}
