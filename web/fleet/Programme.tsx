import { TASKS, TASK_KINDS, taskApplies, usualLimits, type RuleBasis, type TaskKind } from '@diurna/core/service';
import { Button } from '@mui/material';
import { useState } from 'react';
import { Link } from 'react-router';
import { Choice, Heads } from '../ui/parts.tsx';
import { FinePrint, finePrintOf, Limit, type Rule } from './FinePrint.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { Lines } from '../ui/Lines.tsx';
import { Tick } from '../ui/Tick.tsx';

/** Changes a task's rule in part, or takes it out of the programme (null). */
type SetRule = (task: TaskKind, part: Partial<Rule> | null) => void;

const BASIS: [RuleBasis, string][] = [
  ['usual', 'as usual'],
  ['own', 'the yard’s own'],
  ['maker', 'the maker’s'],
];

/** A model's programme: what is done after how many hours or months, and by whose figures. */
export function Programme({
  rules,
  stroke,
  before,
  faulty,
  maySteer,
  setRule,
  usual,
  fillUp,
}: {
  rules: readonly Rule[];
  stroke: 2 | 4;
  /** As it stands in the book. */
  before: readonly Rule[];
  faulty: boolean;
  maySteer: boolean;
  setRule: SetRule;
  /** What is usual for an engine so built. */
  usual: readonly Rule[];
  fillUp: (more: Rule[]) => void;
}) {
  const missing = usual.filter((u) => !rules.some((r) => r.task === u.task));
  const [fine, setFine] = useState<TaskKind | null>(null);
  const shown = TASK_KINDS.filter(
    (t) => taskApplies(t, stroke) && (TASKS[t].group === 'service' || rules.some((r) => r.task === t)),
  );
  return (
    <section className="block measure">
      <h2>Programme</h2>
      <p className="faint">
        Hours or months, whichever comes first; leave one empty when it does not count. Season’s end is 31 October in
        the north, 30 April in the south. Usual figures follow the <Link to="/rules">rules</Link>; the yard’s own and
        the maker’s stand as they are. The engine maker’s manual outranks them.
      </p>
      <Lines>
        <Heads of={['Task', 'Every, hours', 'Every, months', 'Season’s end too', 'Whose figures', { unseen: 'Act' }]} />
        <tbody>
          {shown.map((task) => (
            <ProgrammeLine
              key={task}
              task={task}
              rule={rules.find((r) => r.task === task)}
              before={before.find((r) => r.task === task)}
              maySteer={maySteer}
              fine={fine === task}
              turnFine={() => {
                setFine(fine === task ? null : task);
              }}
              setRule={setRule}
            />
          ))}
        </tbody>
      </Lines>
      {maySteer && missing.length > 0 && (
        <p>
          <Button
            onClick={() => {
              fillUp(missing.map((r) => ({ ...r })));
            }}>
            Add what else is usual
          </Button>{' '}
          <span className="faint">
            {missing.map((r) => TASKS[r.task].word.toLowerCase()).join(', ')}: usual for an engine so built, and not in
            this programme.
          </span>
        </p>
      )}
      {faulty && (
        <p className="minus" role="alert">
          A task in the programme needs hours, months or both, above 0. Early is at most 50 %, late at most 25 %, sand
          and salt 10 to 100 %.
        </p>
      )}
    </section>
  );
}

/** Usual figures that are changed become the yard’s own; the server sees to it, the page says so at once. */
function basisOf(rule: Rule, before: Rule | undefined): RuleBasis {
  const changed =
    before !== undefined && (before.everyHours !== rule.everyHours || before.everyMonths !== rule.everyMonths);
  return rule.basis === undefined || (rule.basis === 'usual' && changed) ? 'own' : rule.basis;
}

interface Line {
  task: TaskKind;
  rule: Rule | undefined;
  before: Rule | undefined;
  maySteer: boolean;
  /** Its fine print is open. */
  fine: boolean;
  turnFine: () => void;
  setRule: SetRule;
}

function ProgrammeLine({ task, rule, before, maySteer, fine, turnFine, setRule }: Line) {
  return (
    <>
      <tr>
        <th scope="row" className="plain-head">
          <span className="task">
            <TaskGlyph task={task} silent /> {TASKS[task].word}
          </span>
        </th>
        {rule ? (
          <RuleCells
            task={task}
            rule={rule}
            before={before}
            maySteer={maySteer}
            fine={fine}
            turnFine={turnFine}
            setRule={setRule}
          />
        ) : (
          <>
            <td colSpan={4} className="faint">
              not in the programme
            </td>
            <td>
              {maySteer && (
                <button
                  type="button"
                  className="link-button"
                  onClick={() => {
                    setRule(task, { ...usualLimits(task), basis: 'own' });
                  }}>
                  add it
                </button>
              )}
            </td>
          </>
        )}
      </tr>
      {rule && fine && (
        <tr>
          <td />
          <td colSpan={5}>
            <FinePrint
              task={task}
              rule={rule}
              onChange={(part) => {
                setRule(task, part);
              }}
            />
          </td>
        </tr>
      )}
    </>
  );
}

/** The figures of a task that is in the programme. */
function RuleCells({ task, rule, before, maySteer, fine, turnFine, setRule }: Line & { rule: Rule }) {
  return (
    <>
      <td>
        <Limit
          label={`${TASKS[task].word}, hours`}
          value={rule.everyHours}
          onChange={(everyHours) => {
            setRule(task, { everyHours });
          }}
        />
      </td>
      <td>
        <Limit
          label={`${TASKS[task].word}, months`}
          value={rule.everyMonths}
          onChange={(everyMonths) => {
            setRule(task, { everyMonths });
          }}
          whole
        />
      </td>
      <td>
        <Tick
          aria-label={`${TASKS[task].word}, at season’s end too`}
          on={rule.seasonEnd ?? false}
          onTick={(on) => {
            setRule(task, { seasonEnd: on });
          }}
        />
      </td>
      <td>
        <Choice
          label={`${TASKS[task].word}, whose figures`}
          hideLabel
          value={basisOf(rule, before)}
          onChange={(v) => {
            if (v) setRule(task, { basis: v });
          }}
          options={BASIS}
        />
      </td>
      <td>
        <button type="button" className="link-button" aria-expanded={fine} onClick={turnFine}>
          {finePrintOf(rule) || 'tolerances'}
        </button>
        {maySteer && (
          <>
            <br />
            <button
              type="button"
              className="link-button"
              onClick={() => {
                setRule(task, null);
              }}>
              not on this model
            </button>
          </>
        )}
      </td>
    </>
  );
}
