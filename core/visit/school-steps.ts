import type { BuiltEngine } from '../fleet/index.ts';
import { tasksAt } from '../season/index.ts';
import { TASK_KINDS, taskApplies, TASKS, type SchoolChoices, type TaskKind } from '../service/index.ts';
import { shippedOf } from './shipped/index.ts';
import { visitSteps } from './steps.ts';
import { workFacts, type Templates, type WorkFacts } from './template.ts';

/** What another answer changes in the words of the work. */
export interface StepsChanged {
  task: TaskKind | 'lay-up';
  /** Steps that go. */
  was: string[];
  /** Steps that come. */
  is: string[];
}

const SECOND = Object.fromEntries(TASK_KINDS.map((task) => [task, 1]));
const FIRST = {};
/** Of which of the two a step is. */
const TURN = /^[01]: /;

/**
 * What another answer changes in the steps of each task and in the list of a lay-up, on an engine so built: those of
 * this time and of the time after, because some answers bear on every second one.
 *
 * @param templates the steps in force; a missing one is taken as shipped
 */
export function stepsChanged(
  engine: BuiltEngine,
  before: SchoolChoices,
  after: SchoolChoices,
  templates: Templates = {},
): StepsChanged[] {
  const changed: StepsChanged[] = [];
  const compare = (task: StepsChanged['task'], was: string[], is: string[]) => {
    const lacks = (own: string[], other: string[]) => [
      ...new Set(own.filter((text) => !other.includes(text)).map((text) => text.replace(TURN, ''))),
    ];
    const [gone, come] = [lacks(was, is), lacks(is, was)];
    if (gone.length + come.length > 0) changed.push({ task, was: gone, is: come });
  };
  const facts = (choices: SchoolChoices) => [FIRST, SECOND].map((times) => workFacts(engine, choices, false, times));
  const [was, is] = [facts(before), facts(after)];
  const moved = new Set(
    was.flatMap((f, turn) =>
      Object.keys({ ...f.switches, ...is[turn]!.switches }).filter((k) => f.switches[k] !== is[turn]!.switches[k]),
    ),
  );
  for (const task of TASK_KINDS) {
    // Most tasks hang on none of what the answer moves.
    const lines = templates[task] ?? shippedOf(task);
    if (!taskApplies(task, engine.stroke) || !lines.some((l) => Object.keys(l.when ?? {}).some((k) => moved.has(k))))
      continue;
    const texts = (turns: readonly WorkFacts[]) =>
      turns.flatMap((f, turn) =>
        visitSteps(
          [{ engineId: 1, task, cylinders: engine.cylinders, engine: { facts: f, sump: null, gearCase: null } }],
          templates,
        )
          .filter((s) => s.task === task)
          .map((s) => `${turn}: ${s.text}`),
      );
    compare(task, texts(was), texts(is));
  }
  const list = (choices: SchoolChoices) => [
    ...tasksAt('before', engine, choices).map((t) => `${TASKS[t].word}, before the last outing`),
    ...tasksAt('after', engine, choices).map((t) => TASKS[t].word),
  ];
  compare('lay-up', list(before), list(after));
  return changed;
}
