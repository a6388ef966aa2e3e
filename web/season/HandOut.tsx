import { VISIT_WORDS } from '@diurna/core/season';
import { TASKS } from '@diurna/core/service';
import { useMemo, useState } from 'react';
import type { Reply } from '../app/api.ts';
import { useDay, useToday } from '../app/useBook.ts';
import { dealOut, Several, type SeveralLine } from '../jobs/index.ts';
import { peopleApi } from '../people/api.ts';
import { plural, shortDay } from '../ui/format.ts';
import { Entry } from '../ui/parts.tsx';

/** So many boats are decided at once. */
const MOST = 25;

/** The next visits of several boats, handed out together: with oil and first dose where the last hire went without. */
export function HandOut({ season, onClose }: { season: Reply<'readSeason'>; onClose: () => void }) {
  const today = useToday();
  const turned = useDay();
  const [day, setDay] = useState(turned < today ? today : turned);
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const [chosen, setChosen] = useState<ReadonlyMap<string, number>>(new Map());
  const { data: people = [] } = peopleApi.useListPeopleQuery();
  const hands = useMemo(() => people.filter((p) => p.active && p.role === 'technician'), [people]);
  const boats = season.boats
    .map((b) => ({
      ...b,
      baseId: season.baseId,
      tasks: b.visits
        .filter((v) => v.visit === b.next || (b.next === 'after' && v.visit === 'before'))
        .flatMap((v) => v.tasks.filter((t) => t.doneOn === null && t.job === null))
        .map(({ engineId, task }) => ({ engineId, task })),
    }))
    .filter((b) => b.tasks.length > 0);
  const shown = boats.slice(0, MOST);
  const dealt = dealOut(shown, hands, chosen, ticked);
  return (
    <Several
      title="Hand out the next visits"
      lines={shown.map((b): SeveralLine => {
        const technicianId = dealt.get(String(b.boatId));
        return {
          key: String(b.boatId),
          name: b.boatName,
          words: `${VISIT_WORDS[b.next!]}: ${[...new Set(b.tasks.map((t) => TASKS[t.task].word.toLowerCase()))].join(', ')}${b.note ? `. ${b.note}` : ''}`,
          card:
            technicianId === undefined || day === ''
              ? null
              : { card: { boatId: b.boatId, technicianId, day, tasks: b.tasks } },
        };
      })}
      more={
        boats.length > MOST ? `The first ${MOST} of ${boats.length} boats; the others come when these are out.` : null
      }
      ticked={ticked}
      setTicked={setTicked}
      hands={{
        of: () =>
          [...hands]
            .sort(
              (a, b) =>
                Number(b.baseId === season.baseId) - Number(a.baseId === season.baseId) || a.name.localeCompare(b.name),
            )
            .map((p) => [p.id, p.name]),
        chosen: (l) => dealt.get(l.key) ?? '',
        choose: (l, id) => {
          setChosen(new Map(chosen).set(l.key, id));
        },
      }}
      act={(n) => (n === 0 ? 'Hand them out' : `Hand out ${plural(n, 'boat')}`)}
      done={(n) => `${plural(n, 'boat')} handed out for ${shortDay(day)}.`}
      none="No boat has work of the season that is on no card."
      onClose={onClose}>
      <Entry kind="date" label="Day" value={day} onType={setDay} />
    </Several>
  );
}
