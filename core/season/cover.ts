import type { Day } from '../calendar/index.ts';
import type { TaskKind } from '../service/index.ts';
import { keepsUntil } from './dose.ts';

/** What of a boat's lay-up its card needs. */
export interface LaidUp {
  visits: readonly { visit: string; tasks: readonly { task: TaskKind; doneOn: Day | null }[] }[];
  laidUpOn: Day | null;
  held: readonly string[];
}

/** What stands on the card that hangs at the boat's cover while it stands. */
export interface CoverCard {
  /** Why nobody may start it as it stands, in the order it is seen to. */
  beforeStart: string[];
  /** The fuel in its tank is good until then; null = it was not treated. */
  fuelUntil: Day | null;
  /** Work of lay-up that is still open. */
  open: TaskKind[];
  /** Work of the spring. */
  spring: TaskKind[];
}

/** What was done that whoever starts the engine has to know, in the order it is seen to. Common practice, no source. */
const KNOW: readonly (readonly [TaskKind, string])[] = [
  ['hull', 'The drain bungs are out: in with them before it floats.'],
  ['battery', 'The battery is out: charge and fit it, negative last.'],
  ['bowls', 'The carburettor bowls are dry: prime the fuel by hand.'],
  ['fogging', 'It is fogged: it smokes at first, and the plugs may foul.'],
  ['antifreeze', 'Antifreeze stands in the cooling: catch what runs out at the first start.'],
];

/** The card of one boat; held engines come first. */
export function coverCard({ visits, held }: LaidUp): CoverCard {
  const tasksOf = (spring: boolean) => visits.filter((v) => (v.visit === 'spring') === spring).flatMap((v) => v.tasks);
  const lay = tasksOf(false);
  const doneOn = (task: TaskKind) => lay.find((t) => t.task === task && t.doneOn !== null)?.doneOn ?? null;
  const dosed = doneOn('second-dose') ?? doneOn('stabiliser');
  const kinds = (tasks: typeof lay) => [...new Set(tasks.filter((t) => t.doneOn === null).map((t) => t.task))];
  return {
    beforeStart: [...held, ...KNOW.flatMap(([task, words]) => (doneOn(task) === null ? [] : [words]))],
    fuelUntil: dosed && keepsUntil(dosed),
    open: kinds(lay),
    spring: kinds(tasksOf(true)),
  };
}
