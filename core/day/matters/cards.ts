import { minutesText } from '../../visit/index.ts';
import { planTaskId } from '../../planner/index.ts';
import type { DayPerson, Matter, OldCard } from '../types.ts';
import { relative, type Desk, type Found } from './desk.ts';

/** Cards that cannot be done as they stand today. */
export function cardsInTrouble(desk: Desk, people: readonly DayPerson[]): Found[] {
  return people.flatMap((p) =>
    p.visits
      .filter((v) => v.status === 'open' && (v.trouble !== null || v.start === null))
      .map((v) => ({ weight: 'now', state: 'over', boat: String(v.boatId), matter: () => cardInTrouble(desk, p, v) })),
  );
}

function cardInTrouble({ board, plan, whereText, to }: Desk, p: DayPerson, v: DayPerson['visits'][number]): Matter {
  const boat = String(v.boatId);
  const tasks = v.tasks
    .filter((t) => t.state === 'open')
    .map((t) => planTaskId(t.engineId, t.task))
    .filter((t) => board.tasks.has(t));
  const card = { jobId: v.jobId, version: v.version, tasks: v.tasks.map(({ engineId, task }) => ({ engineId, task })) };
  // A card that still stands on the board is picked up there; one that was refused stands nowhere.
  const stands = plan.visits().some((s) => s.boat === boat && s.day === 0 && tasks.every((t) => s.tasks.includes(t)));
  const places = plan
    .offers({ boat, from: stands ? { day: 0 } : null, tasks })
    .filter((o) => o.change !== null && !(o.day === 0 && o.technician === String(p.id)) && !o.joins)
    .sort((a, b) => a.change! - b.change!);
  const best = places[0] ? [places[0], ...places.filter((o) => o.day !== places[0]!.day).slice(0, 1)] : [];
  return {
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
  };
}

/** Cards of days gone by that nobody finished. */
export function oldCards(desk: Desk, old: readonly OldCard[]): Found[] {
  return old
    .filter((j) => String(j.boatId) in desk.board.boats)
    .map((j) => ({ weight: 'now', state: 'due', boat: String(j.boatId), matter: () => oldCard(desk, j) }));
}

function oldCard({ board, dayWord, placesFor, whereText, to }: Desk, j: OldCard): Matter {
  const boat = String(j.boatId);
  const tasks = j.tasks
    .filter((t) => t.state === 'open')
    .map((t) => planTaskId(t.engineId, t.task))
    .filter((t) => board.tasks.has(t));
  const places = placesFor(boat, tasks).filter((o) => !o.joins);
  const best = places[0] ? [places[0], ...places.filter((o) => o.day !== places[0]!.day).slice(0, 1)] : [];
  return {
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
  };
}
