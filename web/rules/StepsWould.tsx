import type { SchoolAnswer } from '@diurna/contract/rules';
import { TASKS, type SchoolChoices, type SchoolKey } from '@diurna/core/service';
import { stepsChanged, type StepsChanged, type Templates } from '@diurna/core/visit';
import { useMemo } from 'react';
import { fleetApi } from '../fleet/api.ts';
import { visitApi } from '../visit/api.ts';
import { plural } from '../ui/format.ts';

const wordOf = (task: StepsChanged['task']) => (task === 'lay-up' ? 'Lay-up' : TASKS[task].word);

/** What another answer changes on the cards of the fleet's models: steps that come and go, and the list of a lay-up. */
export function StepsWould({
  school,
  answer,
  answers,
}: {
  school: SchoolKey;
  answer: string;
  answers: readonly SchoolAnswer[];
}) {
  const { data: models } = fleetApi.useListModelsQuery();
  const { data: inForce } = visitApi.useListTemplatesQuery();
  const changes = useMemo(() => {
    const before: SchoolChoices = Object.fromEntries(answers.map((a) => [a.school, a.answer]));
    const after = { ...before, [school]: answer };
    const templates: Templates = Object.fromEntries((inForce ?? []).map((t) => [t.key, t.lines]));
    const found = new Map<string, { change: StepsChanged; models: string[] }>();
    for (const m of models ?? [])
      for (const change of stepsChanged({ ...m, traits: m.traits ?? null }, before, after, templates)) {
        const key = JSON.stringify(change);
        const known = found.get(key) ?? { change, models: [] };
        known.models.push(`${m.maker} ${m.name}`);
        found.set(key, known);
      }
    return [...found.values()];
  }, [models, inForce, answers, school, answer]);
  if (!models || !inForce) return null;
  if (changes.length === 0) return <p className="faint">No step of a card and no lay-up changes.</p>;
  return (
    <ul className="steps-would" aria-label="What changes on cards">
      {changes.map(({ change: { task, was, is }, models: on }) => (
        <li key={`${task} ${on[0]}`}>
          <b>{wordOf(task)}</b>{' '}
          <span className="faint" title={on.join(', ')}>
            {on.length === models.length ? 'on every model' : `on ${plural(on.length, 'model')}`}
          </span>
          {is.map((text) => (
            <p key={text}>
              <span className="fine">comes</span> {text}
            </p>
          ))}
          {was.map((text) => (
            <p key={text} className="faint">
              <span className="minus">goes</span> {text}
            </p>
          ))}
        </li>
      ))}
    </ul>
  );
}
