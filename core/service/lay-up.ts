import { traitsOf, type BuiltEngine } from '../fleet/index.ts';
import { answerTo, type SchoolChoices } from './schools.ts';
import { taskApplies, type TaskKind } from './tasks.ts';

/**
 * What is done at an engine when it is put away, in the order of the work, by how it is built and how the yard answers.
 * Common practice, no source; the engine maker's manual outranks it.
 */
export function layUpTasks(engine: BuiltEngine, choices: SchoolChoices): TaskKind[] {
  const traits = traitsOf(engine);
  const is = (school: Parameters<typeof answerTo>[0], key: string) => answerTo(school, choices).key === key;
  const bowls = traits.induction === 'carburettor';
  const wanted: Partial<Record<TaskKind, boolean>> = {
    'engine-oil': is('last oil', 'at lay-up'),
    'oil-filter': is('last oil', 'at lay-up'),
    flush: true,
    stabiliser: true,
    'gear-lube': true,
    anodes: true,
    grease: true,
    'prop-shaft': true,
    'steering-rod': true,
    // A two-stroke run dry loses its oil with the fuel.
    fogging: engine.stroke === 2 || is('fogging', 'all'),
    bowls,
    antifreeze: is('antifreeze', 'frost') && traits.drainsPoorly,
    battery: !traits.recoil,
  };
  return (Object.keys(wanted) as TaskKind[]).filter((task) => wanted[task] && taskApplies(task, engine.stroke));
}
