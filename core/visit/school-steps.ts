import type { BuiltEngine } from '../fleet/index.ts';
import { layUpTasks, TASK_KINDS, taskApplies, TASKS, type SchoolChoices, type TaskKind } from '../service/index.ts';
import { visitSteps } from './steps.ts';
import { workFacts } from './template.ts';

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
 */
export function stepsChanged(engine: BuiltEngine, before: SchoolChoices, after: SchoolChoices): StepsChanged[] {
  const changed: StepsChanged[] = [];
  const compare = (task: StepsChanged['task'], was: string[], is: string[]) => {
    const lacks = (own: string[], other: string[]) => [
      ...new Set(own.filter((text) => !other.includes(text)).map((text) => text.replace(TURN, ''))),
    ];
    const [gone, come] = [lacks(was, is), lacks(is, was)];
    if (gone.length + come.length > 0) changed.push({ task, was: gone, is: come });
  };
  for (const task of TASK_KINDS) {
    if (!taskApplies(task, engine.stroke)) continue;
    const texts = (choices: SchoolChoices) =>
      [FIRST, SECOND].flatMap((times, turn) =>
        visitSteps([
          {
            engineId: 1,
            task,
            cylinders: engine.cylinders,
            engine: { facts: workFacts(engine, choices, false, times), sump: null, gearCase: null },
          },
        ])
          .filter((s) => s.task === task)
          .map((s) => `${turn}: ${s.text}`),
      );
    compare(task, texts(before), texts(after));
  }
  const list = (choices: SchoolChoices) => layUpTasks(engine, choices).map((t) => TASKS[t].word);
  compare('lay-up', list(before), list(after));
  return changed;
}
