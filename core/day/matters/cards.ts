import { minutesText } from '../../visit/index.ts';
import { planTaskId } from '../../planner/index.ts';
import type { DayPerson, Matter, OldCard } from '../types.ts';
import { relative, type Desk } from './desk.ts';

/** Cards that cannot be done as they stand today. */
export function cardsInTrouble({ board, plan, whereText, to }: Desk, people: readonly DayPerson[]): Matter[] {
  const matters: Matter[] = [];
  for (const p of people) {
    for (const v of p.visits) {
      if (v.status !== 'open' || (v.trouble === null && v.start !== null)) continue;
      const boat = String(v.boatId);
      const tasks = v.tasks
        .filter((t) => t.state === 'open')
        .map((t) => planTaskId(t.engineId, t.task))
        .filter((t) => t in board.tasks);
      const card = {
        jobId: v.jobId,
        version: v.version,
        tasks: v.tasks.map(({ engineId, task }) => ({ engineId, task })),
      };
      // A card that still stands on the board is picked up there; one that was refused stands nowhere.
      const stands = plan
        .visits()
        .some((s) => s.boat === boat && s.day === 0 && tasks.every((t) => s.tasks.includes(t)));
      const places = plan
        .offers({ boat, from: stands ? { day: 0 } : null, tasks })
        .filter((o) => o.change !== null && !(o.day === 0 && o.technician === String(p.id)) && !o.joins)
        .sort((a, b) => a.change! - b.change!);
      const best = places[0] ? [places[0], ...places.filter((o) => o.day !== places[0]!.day).slice(0, 1)] : [];
      matters.push({
        key: `card ${v.jobId}`,
        weight: 'now',
        state: 'over',
        title: `${v.boatName} cannot be done by ${p.name.split(' ')[0]} as it stands`,
        text: v.trouble
          ? `${v.trouble}. ${v.tasks.length} tasks wait.`
          : `There is no time left for it beside the rest of the day; it takes ${minutesText(v.minutes)}.`,
        options: relative([
          ...best.map((o) => ({
            label: `Move to ${whereText(o)}`,
            cost: o.change,
            act: { kind: 'move' as const, ...card, ...to(o) },
          })),
          {
            label: 'Call it off',
            cost: tasks.length > 0 ? 0 : null,
            act: { kind: 'call off' as const, jobId: v.jobId, version: v.version },
          },
        ]),
      });
    }
  }
  return matters;
}

/** Cards of days gone by that nobody finished. */
export function oldCards({ board, dayWord, placesFor, whereText, to }: Desk, old: readonly OldCard[]): Matter[] {
  const matters: Matter[] = [];
  for (const j of old) {
    const boat = String(j.boatId);
    if (!(boat in board.boats)) continue;
    const tasks = j.tasks
      .filter((t) => t.state === 'open')
      .map((t) => planTaskId(t.engineId, t.task))
      .filter((t) => t in board.tasks);
    const places = placesFor(boat, tasks).filter((o) => !o.joins);
    const best = places[0] ? [places[0], ...places.filter((o) => o.day !== places[0]!.day).slice(0, 1)] : [];
    matters.push({
      key: `old ${j.id}`,
      weight: 'now',
      state: 'due',
      title: `${j.boatName}: the card of ${dayWord(j.day)} is still open`,
      text: `${j.technician.split(' ')[0]} had it. If it was done, finish the card; else give it another day.`,
      options: relative([
        ...best.map((o) => ({
          label: `Move to ${whereText(o)}`,
          cost: o.change,
          act: {
            kind: 'move' as const,
            jobId: j.id,
            version: j.version,
            tasks: j.tasks.map(({ engineId, task }) => ({ engineId, task })),
            ...to(o),
          },
        })),
        {
          label: 'Call it off',
          cost: tasks.length > 0 ? 0 : null,
          act: { kind: 'call off' as const, jobId: j.id, version: j.version },
        },
      ]),
    });
  }
  return matters;
}
