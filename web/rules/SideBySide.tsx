import { Autocomplete, TextField } from '@mui/material';
import { schoolOf, TASKS, type SchoolKey } from '@diurna/core/service';
import { useState } from 'react';
import { fleetApi } from '../fleet/api.ts';
import { rulesApi } from './api.ts';
import { StateShape } from '../ui/DueMark.tsx';
import { fullDay, hoursText } from '../ui/format.ts';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { Lines } from '../ui/Lines.tsx';

interface Chosen {
  id: number;
  title: string;
  detail: string;
}

/** Finds an engine by its boat or serial. */
export function EnginePick({
  value,
  onChange,
  label = 'Engine',
}: {
  value: Chosen | null;
  onChange: (engine: Chosen | null) => void;
  label?: string;
}) {
  const [q, setQ] = useState('');
  const { data } = fleetApi.useSearchQuery({ q: q.trim() }, { skip: q.trim() === '' || q === value?.title });
  return (
    <Autocomplete
      size="small"
      options={(data ?? [])
        .filter((h) => h.kind === 'engine')
        .map(({ id, title, detail }): Chosen => ({ id, title, detail }))}
      value={value}
      autoHighlight
      getOptionLabel={(e) => e.title}
      isOptionEqualToValue={(a, b) => a.id === b.id}
      filterOptions={(all) => all}
      noOptionsText={q.trim() === '' ? 'Type a boat or a serial' : 'No engine of that name'}
      renderOption={({ key, ...props }, e) => (
        <li key={key} {...props}>
          {e.title} <span className="faint beside">{e.detail}</span>
        </li>
      )}
      onInputChange={(_, text) => {
        setQ(text);
      }}
      onChange={(_, engine) => {
        onChange(engine);
      }}
      renderInput={(params) => <TextField {...params} label={label} />}
    />
  );
}

/** One engine under every answer of a question, side by side. */
export function SideBySide({ school, answer }: { school: SchoolKey; answer: string }) {
  const [engine, setEngine] = useState<Chosen | null>(null);
  const { data } = rulesApi.useCompareSchoolQuery({ school, engineId: engine?.id ?? 0 }, { skip: engine === null });
  const tasks = data?.[0]?.tasks.map((t) => t.task) ?? [];
  return (
    <div className="side-by-side">
      <div className="narrow-column">
        <EnginePick value={engine} onChange={setEngine} label="See it on one engine" />
      </div>
      {data && engine && (
        <Lines>
          <caption className="visually-hidden">{engine.title} under each answer</caption>
          <thead>
            <tr>
              <th scope="col">{engine.title}</th>
              {tasks.map((t) => (
                <th scope="col" key={t}>
                  <span className="task">
                    <TaskGlyph task={t} silent size={18} /> {TASKS[t].word}
                  </span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {data.map((c) => (
              <tr key={c.answer} className={c.answer === answer ? 'picked' : ''}>
                <th scope="row">
                  {schoolOf(school).options.find((o) => o.key === c.answer)?.word}
                  {c.answer === answer && <span className="faint">, now</span>}
                </th>
                {c.tasks.map((t) => (
                  <td key={t.task}>
                    <span className={`due-mark ${t.state}`}>
                      <StateShape state={t.state} />
                      {t.text}
                    </span>
                    <div className="faint small">
                      {[
                        t.limitHours === null ? null : `at ${hoursText(t.limitHours)} h`,
                        t.on?.likely ? `likely ${fullDay(t.on.likely)}` : null,
                      ]
                        .filter(Boolean)
                        .join(', ')}
                    </div>
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </Lines>
      )}
    </div>
  );
}
