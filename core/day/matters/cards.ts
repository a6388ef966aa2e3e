import { minutesText } from '../../visit/index.ts';
import { plural } from '../../units/index.ts';
import { addDays } from '../../calendar/index.ts';
import { hindrancesText, keysOf, planTaskId } from '../../planner/index.ts';
import type { DayPerson, OldCard } from '../types.ts';
import { endOf } from '../visits.ts';
import { relative, type Desk, type Found, type MatterText } from './desk.ts';

/** Cards that cannot be done as they stand today. */
export function cardsInTrouble(desk: Desk, people: readonly DayPerson[]): Found[] {
  return people.flatMap((p) =>
    p.visits
      .filter((v) => v.status === 'open' && (v.trouble !== null || v.start === null))
      .map((v) => ({
        group: 'cards',
        weight: 'now',
        state: 'over',
        boat: String(v.boatId),
        matter: () => cardInTrouble(desk, p, v),
      })),
  );
}

function cardInTrouble(desk: Desk, p: DayPerson, v: Visit): MatterText {
  return {
    key: `card ${v.jobId}`,
    weight: 'now',
    state: 'over',
    title: `${v.boatName} cannot be done by ${desk.name(String(p.id)) || p.name} as it stands`,
    text: v.trouble
      ? `${v.trouble}. ${plural(v.tasks.length, 'task waits', 'tasks wait')}.`
      : `There is no time left for it beside the rest of the day; it takes ${minutesText(v.minutes)}.`,
    options: relative([
      ...placesOfVisit(desk, p, v),
      {
        label: 'Call it off',
        cost: openTasks(desk, v).length > 0 ? 0 : null,
        act: { kind: 'call off' as const, jobId: v.jobId, version: v.version },
      },
    ]),
  };
}

type Visit = DayPerson['visits'][number];

/** What is still to be done on a card, by the plan's names. */
const openTasks = ({ board }: Desk, v: Pick<Visit, 'tasks'>) =>
  v.tasks
    .filter((t) => t.state === 'open')
    .map((t) => planTaskId(t.engineId, t.task))
    .filter((t) => board.tasks.has(t));

/** The best two places for a card of the day elsewhere. */
function placesOfVisit(desk: Desk, p: DayPerson, v: Visit): MatterText['options'] {
  const { plan, whereText, to } = desk;
  const boat = String(v.boatId);
  const tasks = openTasks(desk, v);
  const card = { jobId: v.jobId, version: v.version, tasks: v.tasks.map(({ engineId, task }) => ({ engineId, task })) };
  // A card that still stands on the board is picked up there; one that was refused stands nowhere.
  const stands = plan.visits().some((s) => s.boat === boat && s.day === 0 && tasks.every((t) => s.tasks.includes(t)));
  const places = plan
    .offers({ boat, from: stands ? { day: 0 } : null, tasks })
    .filter((o) => o.change !== null && !(o.day === 0 && o.technician === String(p.id)) && !o.joins)
    .sort((a, b) => a.change! - b.change!);
  const best = places[0] ? [places[0], ...places.filter((o) => o.day !== places[0]!.day).slice(0, 1)] : [];
  return best.map((o) => ({
    label: `Move to ${whereText(o)}`,
    cost: o.change,
    act: { kind: 'move' as const, ...card, ...to(o) },
  }));
}

/** Cards of days gone by that nobody finished. */
export function oldCards(desk: Desk, old: readonly OldCard[]): Found[] {
  return old
    .filter((j) => String(j.boatId) in desk.board.boats)
    .map((j) => ({
      group: 'cards',
      weight: 'now',
      state: 'due',
      boat: String(j.boatId),
      matter: () => oldCard(desk, j),
    }));
}

function oldCard({ board, dayWord, placesFor, whereText, to }: Desk, j: OldCard): MatterText {
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
    text: `${j.technician} had it. If it was done, finish the card; else give it another day.`,
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

/** Past its planned end a card is looked after: so many minutes are nothing. */
const LATE_MINUTES = 10;

/** Cards of today that should have been done by now. */
export function cardsPastTheirEnd(desk: Desk, people: readonly DayPerson[]): Found[] {
  return people.flatMap((p) =>
    p.visits.flatMap((v): Found[] => {
      if (v.status !== 'open' || v.trouble !== null || v.start === null) return [];
      const end = endOf(v);
      if (end + LATE_MINUTES > desk.minute) return [];
      const begun = v.tasks.some((t) => t.state === 'done');
      const matter = (): MatterText => ({
        key: `past ${v.jobId}`,
        weight: 'now',
        state: 'due',
        title: `${v.boatName} should have been done at ${desk.clock(Math.round(end))}`,
        text: begun
          ? `${p.name} is at it. What comes after it on that line is late too.`
          : `Nothing is ticked on ${p.name}’s card. What comes after it on that line is late too.`,
        options: relative([
          { label: 'Look at the card', cost: null, act: { kind: 'look', to: `/jobs/${v.jobId}` } },
          ...(begun ? [] : placesOfVisit(desk, p, v)),
          { label: 'Leave it', cost: 0, act: { kind: 'leave' } },
        ]),
      });
      return [{ group: 'cards', weight: 'now', state: 'due', boat: String(v.boatId), matter }];
    }),
  );
}

/** Cards of later days that cannot stand where they are any more: leave entered over them, a hire booked over them. */
export function cardsRefused({ board, plan, name, say, dayWord, placesFor, whereText, to }: Desk): Found[] {
  return plan.refused.flatMap(({ visit, why }): Found[] => {
    const card = board.standing.find((s) => s.boat === visit.boat && s.day === visit.day && !s.started);
    if (!card || visit.day === 0) return [];
    const day = addDays(board.firstDay, visit.day);
    const boatName = board.boats[visit.boat]?.name ?? '';
    const tasks = keysOf(board.yard.tasks, card.tasks);
    const matter = (): MatterText => ({
      key: `stands ${card.jobId}`,
      weight: visit.day <= 2 ? 'now' : 'soon',
      state: 'due',
      title: `${boatName} on ${dayWord(day)} cannot be done by ${name(card.technician)} as it stands`,
      text: `${upper(hindrancesText(why, name(card.technician), say))}.`,
      options: relative([
        ...placesFor(visit.boat, card.tasks)
          .filter((o) => !o.joins)
          .slice(0, 2)
          .map((o) => ({
            label: `Move to ${whereText(o)}`,
            cost: o.change,
            act: { kind: 'move' as const, jobId: card.jobId, version: card.version, tasks, ...to(o) },
          })),
        { label: 'Look at the card', cost: null, act: { kind: 'look', to: `/jobs/${card.jobId}` } },
        { label: 'Leave it', cost: 0, act: { kind: 'leave' } },
      ]),
    });
    return [{ group: 'cards', weight: visit.day <= 2 ? 'now' : 'soon', state: 'due', boat: visit.boat, matter }];
  });
}

const upper = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
