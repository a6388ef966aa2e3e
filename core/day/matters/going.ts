import { keysOf } from '../../planner/index.ts';
import { addDays, dayNumber } from '../../calendar/index.ts';
import { engineName } from '../../fleet/index.ts';
import { nearestLimit, TASKS } from '../../service/index.ts';
import type { BoardTask, DayPerson, PlanBoard } from '../types.ts';
import { DAY_MINUTES, GOING_DAYS, relative, type Desk, type Found, type MatterText } from './desk.ts';

type Standing = PlanBoard['standing'][number];
type Passing = [string, BoardTask][];
interface Going {
  boat: string;
  name: string;
  /** The next hire, in minutes from the first day's midnight. */
  out: number;
  back: number;
}

/**
 * Boats that go out over a limit, or will pass one before they are back; hires that have begun are too late to decide.
 *
 * @param days hires that begin within so many days of the board's first
 */
export function boatsGoing(desk: Desk, people: readonly DayPerson[], days = GOING_DAYS + 1): Found[] {
  const { board, minute } = desk;
  const startOf = new Map(people.flatMap((p) => p.visits.map((v) => [v.jobId, v.start] as const)));
  /** Minutes from the first day; a card without an hour begins when its line of the day says. */
  const beginsAt = (s: Standing) => s.day * DAY_MINUTES + (s.start > 0 ? s.start : (startOf.get(s.jobId) ?? 0));
  const first = dayNumber(board.firstDay);
  const open = openTasks(board);
  const standing = new Map<string, Standing[]>();
  for (const s of board.standing) standing.set(s.boat, [...(standing.get(s.boat) ?? []), s]);
  return Object.entries(board.boats).flatMap(([boat, b]): Found[] => {
    // A held boat does not go out: its own matter says what becomes of the hire.
    if (b.held.length > 0) return [];
    const hire = b.hires.find(([out]) => out > minute && out < days * DAY_MINUTES);
    if (!hire) return [];
    const going = { boat, name: b.name, out: hire[0], back: hire[1] };
    const lateCard = (standing.get(boat) ?? []).find(
      (s) => !s.started && beginsAt(s) >= going.out && s.tasks.some((t) => board.tasks.get(t)?.due.state === 'over'),
    );
    const passing = passingOn(open.get(boat) ?? [], first, going);
    return [
      ...(lateCard
        ? [
            {
              group: 'going out',
              weight: 'now',
              state: 'over',
              boat,
              matter: () => cardTooLate(desk, going, lateCard),
            } as const,
          ]
        : []),
      ...(passing.length > 0 ? [goesOver(desk, going, passing)] : []),
    ];
  });
}

/** Tasks on no card, by boat: looked through once for the whole fleet. */
function openTasks(board: PlanBoard): Map<string, Passing> {
  const carded = new Set(board.standing.flatMap((s) => s.tasks));
  const boatOf = new Map(board.yard.boats.flatMap((b) => b.engines.map((e) => [e.id, String(b.id)] as const)));
  const open = new Map<string, Passing>();
  for (const [id, t] of board.tasks) {
    const boat = boatOf.get(t.engineId);
    if (boat === undefined || carded.has(id)) continue;
    const own = open.get(boat);
    if (own) own.push([id, t]);
    else open.set(boat, [[id, t]]);
  }
  return open;
}

/** Tasks on no card that are over, or likely will be before the boat is back. */
const passingOn = (open: Passing, first: number, { back }: Going): Passing =>
  open.filter(
    ([, t]) =>
      t.due.state === 'over' ||
      (t.likely !== null && dayNumber(t.likely) - first < Math.ceil(back / DAY_MINUTES) && t.due.state !== 'unknown'),
  );

/** Its work is on a card, but only after the hire. */
function cardTooLate(
  { board, plan, name, dayWord, clock, whereText, to }: Desk,
  { boat, name: boatName, out }: Going,
  lateCard: Standing,
): MatterText {
  const before = plan
    .offers({ boat, from: { day: lateCard.day }, tasks: lateCard.tasks })
    .filter(
      (o) =>
        o.change !== null &&
        o.day <= Math.floor(out / DAY_MINUTES) &&
        !(o.day === lateCard.day && o.technician === lateCard.technician),
    )
    .sort((a, b) => a.change! - b.change!)
    .slice(0, 2);
  const [worstId] = lateCard.tasks.filter((t) => board.tasks.get(t)?.due.state === 'over');
  const info = board.tasks.get(worstId!)!;
  return {
    key: `late card ${lateCard.jobId}`,
    weight: 'now',
    state: 'over',
    title: `${boatName} goes out over its limit; its card comes after the hire`,
    text: `${TASKS[info.due.task].word}: ${engineName(boatName, info.position)} ${nearestLimit(info.due)}. ${name(lateCard.technician)} has it ${dayWord(addDays(board.firstDay, lateCard.day))}${lateCard.start > 0 ? ` at ${clock(lateCard.start)}` : ''}.${before.length === 0 ? ' No gap before takes it.' : ''}`,
    options: relative([
      ...before.map((o) => ({
        label: `Move to ${whereText(o)}`,
        cost: o.change,
        act: {
          kind: 'move' as const,
          jobId: lateCard.jobId,
          version: lateCard.version,
          ...to(o),
          tasks: keysOf(board.yard.tasks, lateCard.tasks),
        },
      })),
      { label: 'Accept it', cost: 0, act: { kind: 'leave' as const } },
    ]),
  };
}

/** It goes out over a limit, or passes one on the hire. */
function goesOver(desk: Desk, going: Going, passing: Passing): Found {
  const [, worst] = passing.find(([, t]) => t.due.state === 'over') ?? passing[0]!;
  const how = {
    group: 'going out',
    weight: worst.due.state === 'over' || going.out < DAY_MINUTES ? 'now' : 'soon',
    state: worst.due.state,
  } as const;
  return {
    ...how,
    boat: going.boat,
    matter: () => ({ weight: how.weight, state: how.state, ...goesOverText(desk, going, passing, worst) }),
  };
}

function goesOverText(
  { board, placesFor, dayOf, dayWord, clock, whereText, to }: Desk,
  { boat, name, out, back }: Going,
  passing: Passing,
  worst: BoardTask,
): Omit<MatterText, 'weight' | 'state'> {
  const joined = (day: number) => board.standing.find((s) => s.boat === boat && s.day === day);
  const ids = passing.map(([id]) => id);
  const all = placesFor(boat, ids);
  const places = all.filter((o) => o.day <= Math.floor(out / DAY_MINUTES));
  const later = all.find((o) => o.day >= Math.floor(back / DAY_MINUTES));
  const best = places[0]
    ? [
        places[0],
        ...places.filter((o) => o.day !== places[0]!.day || o.technician !== places[0]!.technician).slice(0, 1),
      ]
    : [];
  const outDay = dayOf(out);
  const at = clock(out);
  const words = [...new Set(passing.map(([, t]) => TASKS[t.due.task].word.toLowerCase()))].join(', ');
  return {
    key: `going ${boat}`,
    title:
      worst.due.state === 'over'
        ? `${name} goes out ${dayWord(outDay)} ${at} over its limit`
        : `${name} will pass a limit on the hire of ${dayWord(outDay)} ${at}`,
    text: `${cap(words)}: ${engineName(name, worst.position)} ${nearestLimit(worst.due)}. ${best.length === 0 ? 'No gap before takes it with anybody who can.' : ''}`.trim(),
    options: relative(
      [
        ...best.map((o) => {
          const card = o.joins ? joined(o.day) : undefined;
          return card
            ? {
                label: `Add to ${whereText(o)}`,
                cost: o.change,
                act: {
                  kind: 'move' as const,
                  jobId: card.jobId,
                  version: card.version,
                  ...to(o),
                  tasks: keysOf(board.yard.tasks, [...card.tasks, ...ids]),
                },
              }
            : {
                label: `Fit in ${whereText(o)}`,
                cost: o.change,
                act: { kind: 'add' as const, boatId: Number(boat), ...to(o), tasks: keysOf(board.yard.tasks, ids) },
              };
        }),
        ...(later && !best.some((o) => o.day === later.day && o.technician === later.technician)
          ? [
              {
                label: `Let it go, then ${whereText(later)}`,
                cost: later.change,
                act: { kind: 'add' as const, boatId: Number(boat), ...to(later), tasks: keysOf(board.yard.tasks, ids) },
              },
            ]
          : []),
        { label: 'Accept it', cost: 0, act: { kind: 'leave' as const } },
      ].slice(0, 4),
    ),
  };
}

const cap = (s: string) => s.charAt(0).toUpperCase() + s.slice(1);
