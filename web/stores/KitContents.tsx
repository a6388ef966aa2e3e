import type { PartPage } from '@diurna/contract/stores';
import { TASKS, TASK_KINDS, type TaskKind } from '@diurna/core/service';
import { useState } from 'react';
import { Link } from 'react-router';
import { fleetApi } from '../fleet/api.ts';
import { quantityText } from '../ui/format.ts';
import { Asked, Choice, Entry } from '../ui/parts.tsx';
import { Lines } from '../ui/Lines.tsx';
import { Ticks } from '../ui/Ticks.tsx';
import { storesApi } from './api.ts';
import './stores.css';

/** Tasks whose parts a kit may bring. */
const WITH_PARTS = TASK_KINDS.filter((t) => TASKS[t].usesParts);
const USUAL: TaskKind[] = [
  'engine-oil',
  'oil-filter',
  'gear-lube',
  'spark-plugs',
  'impeller',
  'fuel-filter',
  'separator',
];

/** What is in a kit, and what a service takes that it does not bring. */
export function KitContents({ part }: { part: PartPage }) {
  if (part.contents.length === 0) return null;
  return (
    <section className="block" aria-label="In the kit">
      <h2>In the kit</h2>
      <Lines>
        <tbody>
          {part.contents.map((c) => {
            const p = part.others.find((o) => o.id === c.partId)!;
            return (
              <tr key={c.partId}>
                <th scope="row">
                  <Link to={`/stores/parts/${c.partId}`}>{p.number}</Link>
                </th>
                <td>{p.name}</td>
                <td className="num figure">{quantityText(c.quantity, p.unit)}</td>
              </tr>
            );
          })}
        </tbody>
      </Lines>
      <KitCheck part={part} />
    </section>
  );
}

/** Holds the kit against a service of a model. */
function KitCheck({ part }: { part: PartPage }) {
  const { data: models = [] } = fleetApi.useListModelsQuery();
  const [modelId, setModel] = useState<number | ''>('');
  const [serial, setSerial] = useState('');
  const [tasks, setTasks] = useState<TaskKind[]>(USUAL);
  const own = models.find((m) => m.id === (modelId || part.kitModels[0])) ?? models[0];
  const { data, error } = storesApi.useCheckKitQuery(
    { id: part.id, modelId: own?.id ?? 0, serial: serial.trim(), tasks: tasks.join(',') },
    { skip: !own || tasks.length === 0 },
  );
  return (
    <div role="group" aria-label="Kit check">
      <h3>Is it enough?</h3>
      <div className="tools">
        <Choice
          label="For a service of"
          value={own?.id ?? ''}
          onChange={setModel}
          options={models.map((m) => [m.id, `${m.maker} ${m.name}`])}
        />
        <Entry label="Serial" short value={serial} onType={setSerial} />
      </div>
      <Ticks
        inRow
        label="With"
        value={tasks}
        options={WITH_PARTS.map((t): [TaskKind, string] => [t, TASKS[t].word])}
        onChange={setTasks}
      />
      {tasks.length > 0 && <Asked data={data} error={error} />}
      {data && (
        <div role="status" className="above-s">
          {data.missing.length === 0 && data.unknown.length === 0 && <p>It brings all that is taken.</p>}
          {data.missing.length > 0 && (
            <>
              <p className="minus">Not in it:</p>
              <ul className="lacking">
                {data.missing.map((m) => (
                  <li key={m.id}>
                    <span className="figure">{quantityText(m.quantity, m.unit)}</span>{' '}
                    <Link to={`/stores/parts/${m.id}`}>{m.number}</Link> {m.name}
                  </li>
                ))}
              </ul>
            </>
          )}
          {data.links.map((l) => (
            <p key={l.wanted} className="faint">
              It brings {l.brings} for {l.wanted}: {l.why}.
            </p>
          ))}
          {data.unknown.length > 0 && (
            <p className="soon">No part known for {data.unknown.map((t) => TASKS[t].word.toLowerCase()).join(', ')}.</p>
          )}
          {data.over.length > 0 && (
            <p className="faint">
              Not taken by it: {data.over.map((o) => `${quantityText(o.quantity, o.unit)} ${o.number}`).join(', ')}.
            </p>
          )}
        </div>
      )}
    </div>
  );
}
