import type { DueRow } from '@diurna/contract/service';
import { onlyWith, TASKS, type TaskKind } from '@diurna/core/service';
import { useMemo, useState } from 'react';
import type { Query } from '../app/api.ts';
import { useDay, useToday } from '../app/useBook.ts';
import { dealOut, Several, type SeveralLine } from '../jobs/index.ts';
import { peopleApi } from '../people/api.ts';
import { plural, shortDay } from '../ui/format.ts';
import { Entry } from '../ui/parts.tsx';
import { serviceApi } from './api.ts';

const SIZE = 200;
const WANTED = new Set(['over', 'due', 'soon']);

interface BoatWork {
  boatId: number;
  boatName: string;
  baseId: number;
  worst: string;
  tasks: { engineId: number; task: TaskKind }[];
  words: string;
}

/** What is over, due or soon by boat and on no card, the worst boat first. */
function boatsOf(rows: readonly DueRow[]): BoatWork[] {
  const free = rows.filter((r) => WANTED.has(r.due.state) && r.job === null && r.deferral === null);
  const boats = new Map<number, DueRow[]>();
  for (const r of free) boats.set(r.boatId, [...(boats.get(r.boatId) ?? []), r]);
  return [...boats.values()].map((own) => {
    const { boatId, boatName, baseId, due } = own[0]!;
    const tasks = own.map((r) => ({ engineId: r.engineId, task: r.due.task }));
    // A filter brings its oil.
    const more = tasks.flatMap(({ engineId, task }) => {
      const other = onlyWith(task);
      return other === null || tasks.some((t) => t.engineId === engineId && t.task === other)
        ? []
        : [{ engineId, task: other }];
    });
    return { boatId, boatName, baseId, worst: due.state, tasks: [...tasks, ...more], words: wordsOf(own) };
  });
}

/** "port + starboard: engine oil, gear lube; kicker: anodes". */
function wordsOf(rows: readonly DueRow[]): string {
  const byTasks = new Map<string, string[]>();
  for (const engineId of new Set(rows.map((r) => r.engineId))) {
    const own = rows.filter((r) => r.engineId === engineId);
    const words = own.map((r) => TASKS[r.due.task].word.toLowerCase()).join(', ');
    byTasks.set(words, [...(byTasks.get(words) ?? []), own[0]!.position]);
  }
  return [...byTasks]
    .map(([words, positions]) => (positions[0] === 'single' ? words : `${positions.join(' + ')}: ${words}`))
    .join('; ');
}

/** Hands what is due on several boats out in one decision: a day for all, a technician for each. */
export function SeveralBoats({
  filters,
  onClose,
}: {
  filters: Omit<Query<'dueList'>, 'page' | 'size' | 'state'>;
  onClose: () => void;
}) {
  const today = useToday();
  const turned = useDay();
  const [day, setDay] = useState(turned < today ? today : turned);
  const { data } = serviceApi.useDueListQuery({ ...filters, sort: 'worst', page: 1, size: SIZE });
  const { data: people = [] } = peopleApi.useListPeopleQuery();
  const hands = useMemo(() => people.filter((p) => p.active && p.role === 'technician'), [people]);
  const boats = useMemo(() => boatsOf(data?.rows ?? []), [data]);
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const [chosen, setChosen] = useState<ReadonlyMap<string, number>>(new Map());
  const dealt = dealOut(boats, hands, chosen, ticked);
  const workOf = new Map(boats.map((b) => [String(b.boatId), b]));
  const lines = boats.map((b): SeveralLine => {
    const technicianId = dealt.get(String(b.boatId));
    return {
      key: String(b.boatId),
      name: b.boatName,
      words: `${b.worst}: ${b.words}`,
      card:
        technicianId === undefined || day === ''
          ? null
          : { card: { boatId: b.boatId, technicianId, day, tasks: b.tasks } },
    };
  });
  return (
    <Several
      title="Hand out several boats"
      lines={lines}
      more={
        (data?.total ?? 0) > SIZE
          ? `From the ${SIZE} tasks that press most. Narrow the list in Due, by base or model, to see others.`
          : null
      }
      ticked={ticked}
      setTicked={setTicked}
      hands={{
        of: (l) => {
          const at = workOf.get(l.key)?.baseId;
          return [...hands]
            .sort((a, b) => Number(b.baseId === at) - Number(a.baseId === at) || a.name.localeCompare(b.name))
            .map((p) => [p.id, p.name]);
        },
        chosen: (l) => dealt.get(l.key) ?? '',
        choose: (l, id) => {
          setChosen(new Map(chosen).set(l.key, id));
        },
      }}
      act={(n) => (n === 0 ? 'Hand them out' : `Hand out ${plural(n, 'boat')}`)}
      done={(n) => `${plural(n, 'boat')} handed out for ${shortDay(day)}.`}
      none={data ? 'Nothing is over, due or soon that is on no card.' : 'Looking …'}
      onClose={onClose}>
      <Entry kind="date" label="Day" value={day} onType={setDay} />
    </Several>
  );
}
