import type { SoldAs } from '../fleet/index.ts';
import type { TaskKind } from '../service/index.ts';
import { isAmong } from '../fleet/index.ts';
import { AS_USUAL, equivalentsAllowed, type PartsBy } from './choose.ts';
import { fitmentQuantity, partsForEngine, type ModelVolumes, type PartNeed } from './fitment.ts';
import { mayServe, newestOf, type PartLink } from './links.ts';
import type { Fitment, PartKind } from './part.ts';
import { volumesApart } from './volumes-apart.ts';

/** What a doubt about a part is about. */
export type PartDoubt =
  | { about: 'two fit'; partIds: number[] }
  | { about: 'none known' }
  | { about: 'transom' }
  | { about: 'figures'; saidMl: number; modelMl: number };

/** The part of one kind a task takes on one engine. */
export interface WhichPart {
  task: TaskKind;
  kind: PartKind | null;
  /** The newest number; null when nobody can say. */
  partId: number | null;
  quantity: number | null;
  /** Older numbers that fit by themselves, newer ones and equivalents that may be fitted instead. */
  instead: number[];
  doubts: PartDoubt[];
}

const FLUIDS: readonly (PartKind | null)[] = ['oil', 'gear lube'];
/** Of these a task takes several different ones. */
const MANY: readonly PartKind[] = ['gasket', 'washer'];

/**
 * The parts tasks take on one engine: each with exactly one answer, or with the doubt that stands in its way. Where an
 * older number fits beside the one that superseded it, the newer is the answer. Common practice, no source.
 */
export function whichParts(
  engine: SoldAs,
  volumes: ModelVolumes,
  tasks: readonly TaskKind[],
  fitments: readonly Fitment[],
  links: readonly PartLink[],
  by: PartsBy = AS_USUAL,
): WhichPart[] {
  return tasks.flatMap((task): WhichPart[] => {
    const { needs, unknown } = partsForEngine(engine, volumes, [task], fitments, by);
    const fitting = fitments.filter((f) => f.task === task && isAmong(engine, f));
    const kindOf = (partId: number) => fitting.find((f) => f.partId === partId)?.kind ?? null;
    const groups = new Map<string, { kind: PartKind | null; partIds: number[] }>();
    for (const { partId } of needs) {
      const kind = kindOf(partId);
      const key = kind !== null && MANY.includes(kind) ? `${kind} ${partId}` : String(kind);
      const group = groups.get(key) ?? { kind, partIds: [] };
      group.partIds.push(partId);
      groups.set(key, group);
    }
    const transom: PartDoubt[] =
      engine.transom === null && fitments.some((f) => f.task === task && f.transom != null)
        ? [{ about: 'transom' }]
        : [];
    if (groups.size === 0) {
      if (unknown.length === 0) return [];
      const [first] = fitting;
      return [
        {
          task,
          kind: first?.kind ?? null,
          partId: first?.partId ?? null,
          quantity: null,
          instead: [],
          doubts: first || transom.length > 0 ? transom : [{ about: 'none known' }],
        },
      ];
    }
    const at: Look = { task, needs, fitting, volumes, links, by };
    return [...groups.values()].map((group) => answerOf(group, transom, at));
  });
}

/** What one task takes, and by what it is chosen. */
interface Look {
  task: TaskKind;
  needs: readonly PartNeed[];
  fitting: readonly Fitment[];
  volumes: ModelVolumes;
  links: readonly PartLink[];
  by: PartsBy;
}

/** The one answer of a kind, or what keeps it from being one. */
function answerOf(
  { kind, partIds }: { kind: PartKind | null; partIds: readonly number[] },
  before: readonly PartDoubt[],
  { task, needs, fitting, volumes, links, by }: Look,
): WhichPart {
  // Numbers that were superseded by another that fits as well are no second answer.
  const newest = [...new Set(partIds.map((p) => newestOf(p, links)))];
  const answer = newest.length === 1 ? newest[0]! : null;
  const need = needs.find((n) => n.partId === answer) ?? needs.find((n) => partIds.includes(n.partId))!;
  const others = (p: number) => mayServe(p, links, equivalentsAllowed(kind, by.choices)).map((m) => m.partId);
  const instead =
    answer === null
      ? []
      : [
          // Older numbers that fit by themselves are used up.
          ...fitting.map((f) => f.partId).filter((p) => newestOf(p, links) === answer),
          ...partIds.flatMap(others),
          ...others(answer),
        ];
  const doubts: PartDoubt[] = [...before];
  if (answer === null) doubts.push({ about: 'two fit', partIds: newest });
  const said = fitting.find((f) => f.partId === need.partId)!;
  const modelMl = fitmentQuantity({ ...said, quantity: null }, volumes);
  // A washer goes with the oil, and is no filling.
  if (FLUIDS.includes(kind) && said.quantity !== null && modelMl !== null && volumesApart(said.quantity, modelMl))
    doubts.push({ about: 'figures', saidMl: said.quantity, modelMl });
  return {
    task,
    kind,
    partId: answer,
    quantity: need.quantity,
    instead: [...new Set(instead)].filter((p) => p !== answer),
    doubts,
  };
}
