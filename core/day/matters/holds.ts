import { engineName } from '../../fleet/index.ts';
import { standInsFor, type StandIn } from '../../hires/index.ts';
import { planPartId, planTaskId, type Offer } from '../../planner/index.ts';
import { TASKS } from '../../service/index.ts';
import type { HeldEngine, HireAhead, Matter, UndecidedHold } from '../types.ts';
import { DAY_MINUTES, GOING_DAYS, relative, type Desk, type Found, type MatterText } from './desk.ts';

type Option = Matter['options'][number];

/** Boats that are held: those that go out soon are for now, each with its ways out worked out and priced. */
export function heldBoats(desk: Desk, holds: readonly HeldEngine[], hires: readonly HireAhead[]): Found[] {
  const byBoat = new Map<number, HeldEngine[]>();
  for (const h of holds) byBoat.set(h.boatId, [...(byBoat.get(h.boatId) ?? []), h]);
  return [...byBoat].map(([boatId, own]): Found => {
    const hire = nextHire(desk, boatId, hires);
    const weight = hire !== null && hire.out < (GOING_DAYS + 1) * DAY_MINUTES ? 'now' : 'soon';
    return {
      group: 'held',
      weight,
      state: 'over',
      boat: String(boatId),
      matter: () => heldBoat(desk, own, hire, weight),
    };
  });
}

const nextHire = ({ minute }: Desk, boatId: number, hires: readonly HireAhead[]): HireAhead | null =>
  hires.filter((h) => h.boatId === boatId && h.out > minute).sort((a, b) => a.out - b.out)[0] ?? null;

function heldBoat(
  desk: Desk,
  holds: readonly HeldEngine[],
  hire: HireAhead | null,
  weight: Matter['weight'],
): MatterText {
  const [{ boatId, boatName, position }] = holds as [HeldEngine];
  const name = holds.length === 1 ? engineName(boatName, position) : boatName;
  const missing = holds.flatMap((h) => h.missing);
  const wanted = [...new Set(missing.map((t) => TASKS[t].word.toLowerCase()))].join(', ');
  const ready = holds.find((h) => h.missing.length === 0);
  const repair = missing.length > 0 ? repairOf(desk, holds, hire) : { options: [], text: '' };
  return {
    key: `hold ${boatId}`,
    weight,
    state: 'over',
    title: `${name} is held${hire ? ` and goes out ${whenOut(desk, hire)}` : ''}`,
    text: [
      ...new Set(holds.map((h) => h.why)),
      missing.length > 0
        ? `Wanted first: ${wanted}. ${repair.text}`.trim()
        : 'Its checks are in the log: look at it and let it go, or keep it.',
    ].join(' '),
    options: relative([
      ...(ready ? [look('Look and let it go', ready)] : []),
      ...repair.options,
      ...(missing.length > 0 && repair.options.length === 0 ? [look('Look at the engine', holds[0]!)] : []),
      ...(hire ? waysForHire(desk, boatName, hire) : []),
      { label: 'Leave it held', cost: hire ? lossOf(desk, hire) : null, act: { kind: 'leave' } },
    ]),
  };
}

const look = (label: string, h: HeldEngine): Option => ({
  label,
  cost: null,
  act: { kind: 'look', to: `/fleet/engines/${h.engineId}` },
});

const whenOut = ({ dayOf, dayWord, clock }: Desk, hire: HireAhead) => `${dayWord(dayOf(hire.out))} ${clock(hire.out)}`;

/** What the hire brings in, which is lost when no boat goes out on it. */
export function lossOf({ board }: Desk, hire: HireAhead): number {
  const income = board.yard.boats.find((b) => b.id === hire.boatId)?.hireIncome ?? 0;
  return income * Math.max(1, Math.ceil((hire.back - hire.out) / DAY_MINUTES));
}

/**
 * The repair as work of the next days: where it stands on a card, or the places it would find, before the hire first.
 */
function repairOf(
  desk: Desk,
  holds: readonly HeldEngine[],
  hire: HireAhead | null,
): { options: Option[]; text: string } {
  const { board, plan, placesFor, whereText, to, dayOf, dayWord, clock, name } = desk;
  const boat = String(holds[0]!.boatId);
  const wanted = new Set(holds.flatMap((h) => h.missing.map((t) => planTaskId(h.engineId, t))));
  const card = board.standing.find((s) => s.boat === boat && s.tasks.some((t) => wanted.has(t)));
  const ids = board.yard.tasks
    .filter((t) => wanted.has(planTaskId(t.engineId, t.task)))
    .map((t) => planTaskId(t.engineId, t.task));
  if (card) {
    const at = plan.visits().find((v) => v.boat === boat && v.day === card.day);
    const end = at ? card.day * DAY_MINUTES + at.start + at.elapsed : null;
    return {
      options: [{ label: 'Look at the card', cost: null, act: { kind: 'look', to: `/jobs/${card.jobId}` } }],
      text: `${name(card.technician)} has it ${dayWord(dayOf(card.day * DAY_MINUTES))}${end === null ? '' : `, done about ${clock(end)}`}${
        hire && (end === null || end > hire.out) ? '; that is not before the hire' : ''
      }.`,
    };
  }
  if (ids.length === 0) return { options: [], text: '' };
  const picked = { boat, from: null, tasks: ids };
  const places = placesFor(boat, ids).map((o) => {
    const times = plan.timesAt(picked, o.day, o.technician);
    return { o, end: times ? o.day * DAY_MINUTES + times.end : Infinity };
  });
  const inTime = hire ? places.filter((p) => p.end <= hire.out) : [];
  const first = inTime[0] ?? places[0];
  const loss = hire ? lossOf(desk, hire) : 0;
  const option = ({ o, end }: { o: Offer; end: number }): Option => {
    const late = hire !== null && end > hire.out;
    return {
      label: `Repair ${whereText(o)}, ${late ? 'not before the hire' : `ready ${clock(end)}`}`,
      cost: (o.change ?? 0) + (late ? loss : 0),
      act: { kind: 'add', boatId: Number(boat), ...to(o), tasks: keysWith(board.yard.tasks, ids) },
    };
  };
  const other = places.find((p) => p !== first && (p.o.day !== first?.o.day || p.o.technician !== first.o.technician));
  return {
    options: [...(first ? [option(first)] : []), ...(other && !(hire && inTime.length === 0) ? [option(other)] : [])],
    text: [partsText(desk, boat, ids), first ? '' : noPlace(desk, ids)].filter(Boolean).join(' '),
  };
}

/** The tasks with what each brings along. */
function keysWith(tasks: Desk['board']['yard']['tasks'], ids: readonly string[]) {
  return tasks
    .filter((t) => ids.includes(planTaskId(t.engineId, t.task)))
    .flatMap((t) => [t.task, ...(t.brings ?? [])].map((task) => ({ engineId: t.engineId, task })));
}

/** What the repair takes from the shelf, and whether it is there. */
function partsText({ board }: Desk, boat: string, ids: readonly string[]): string {
  const baseId = board.boats[boat]!.baseId;
  const wanted = new Map<string, number>();
  for (const t of board.yard.tasks)
    if (ids.includes(planTaskId(t.engineId, t.task)))
      for (const { partId, quantity } of t.parts) {
        const key = planPartId(partId, baseId);
        wanted.set(key, (wanted.get(key) ?? 0) + quantity);
      }
  const lines = [...wanted].flatMap(([key, quantity]) => {
    const part = board.parts[key];
    if (!part) return [];
    const onHand = board.yard.parts.find((p) => planPartId(p.partId, p.baseId) === key)?.onHand ?? 0;
    const amount = part.unit === 'mL' ? `${Math.round(quantity)} mL ` : quantity === 1 ? '' : `${quantity} `;
    return [`${amount}${part.name}${onHand + 1e-6 < quantity ? ' (not on the shelf)' : ''}`];
  });
  return lines.length === 0 ? '' : `It takes ${lines.join(', ')}.`;
}

/** Why the repair finds no place at all. */
function noPlace({ plan }: Desk, ids: readonly string[]): string {
  const reasons = plan.whyLeft(ids).flatMap((r) => r.reasons);
  return ['No place for the repair in the next two weeks.', ...new Set(reasons)].slice(0, 2).join(' ');
}

/** What becomes of the hire: another boat of the class, or a word to the desk that took the booking. */
function waysForHire(desk: Desk, boatName: string, hire: HireAhead): Option[] {
  const { dayOf, dayWord, clock } = desk;
  const fit = fitFor(desk, hire);
  const names = fit.map(({ b }) => b.name);
  const text =
    `${boatName} cannot go out on ${dayWord(dayOf(hire.out))} at ${clock(hire.out)}` +
    `${hire.reference ? ` (${hire.reference})` : ''}: it is held for a repair. ` +
    (names.length > 0 ? `We can give ${names.join(' or ')} instead.` : 'We have no boat like it free then.');
  return [
    ...fit.map(({ b, cost }): Option => ({
      label: `Give the hire to ${b.name}${b.over ? ', over a limit itself' : ''}`,
      cost,
      act: { kind: 'stand in', hireId: hire.id, version: hire.version, boatId: b.id },
    })),
    { label: 'Call the hire desk', cost: lossOf(desk, hire), act: { kind: 'message', text } },
  ];
}

/** The best two boats that can go out on a hire instead, by what they would likely have earned themselves. */
function fitFor(desk: Desk, hire: HireAhead) {
  const own = desk.board.boats[String(hire.boatId)];
  if (!own) return [];
  const asked = { ...hire, baseId: own.baseId, classKey: own.classKey };
  return standInsFor(asked, standIns(desk))
    .map((b) => ({ b, cost: missedBy(desk, b.id, hire) }))
    .sort((x, y) => x.cost - y.cost || x.b.id - y.b.id)
    .slice(0, 2);
}

const giveTo = (hire: HireAhead, { b, cost }: ReturnType<typeof fitFor>[number]): Option => ({
  label: `Give the hire to ${b.name}${b.over ? ', over a limit itself' : ''}`,
  cost,
  act: { kind: 'stand in', hireId: hire.id, version: hire.version, boatId: b.id },
});

/** Boats that a hire could be given to, each as an option. */
export const offersOfHire = (desk: Desk, hire: HireAhead): Option[] => fitFor(desk, hire).map((f) => giveTo(hire, f));

/** The boats of the board as they might go out: what stands on them, what holds them, what is over. */
function standIns({ board }: Desk): StandIn[] {
  const boatOf = new Map(board.yard.boats.flatMap((b) => b.engines.map((e) => [e.id, b.id] as const)));
  const over = new Set(
    [...board.tasks.values()].flatMap((t) => (t.due.state === 'over' ? [boatOf.get(t.engineId)] : [])),
  );
  return Object.entries(board.boats).map(([id, b]): StandIn => ({
    id: Number(id),
    name: b.name,
    baseId: b.baseId,
    classKey: b.classKey,
    held: b.held.length > 0,
    over: over.has(Number(id)),
    taken: [
      ...b.hires.map(([out, back]) => ({ out, back, by: 'hire' as const })),
      ...board.standing
        .filter((s) => s.boat === id)
        .map((s) => ({
          // A card without an hour may be worked at any time of its day.
          out: s.day * DAY_MINUTES + s.start,
          back: s.start > 0 && s.elapsed > 0 ? s.day * DAY_MINUTES + s.start + s.elapsed : (s.day + 1) * DAY_MINUTES,
          by: 'work' as const,
        })),
    ],
  }));
}

/** What the stand-in would likely have earned on those days by itself. */
function missedBy({ board }: Desk, boatId: number, hire: HireAhead): number {
  const boat = board.yard.boats.find((b) => b.id === boatId);
  if (!boat) return 0;
  const days = boat.hireChance.slice(Math.floor(hire.out / DAY_MINUTES), Math.ceil(hire.back / DAY_MINUTES));
  return days.reduce((sum, chance) => sum + chance * boat.hireIncome, 0);
}

/** Findings that would hold an engine and nobody has decided; a hire that waits on one has its ways out too. */
export function undecidedFindings(
  desk: Desk,
  undecided: readonly UndecidedHold[],
  hires: readonly HireAhead[],
): Found[] {
  return undecided.map((f): Found => {
    const hire = nextHire(desk, f.boatId, hires);
    const matter = (): MatterText => ({
      key: `finding ${f.id}`,
      weight: 'now',
      state: 'over',
      title: `${engineName(f.boatName, f.position)}: ${f.seen.charAt(0).toLowerCase()}${f.seen.slice(1).replace(/\.$/, '')}`,
      text: `${f.does} Nobody has said yet what becomes of it; until then the boat does not go out${hire ? `; it is booked ${whenOut(desk, hire)}` : ''}.`,
      options: relative([
        { label: 'Decide on the card', cost: null, act: { kind: 'look', to: `/jobs/${f.jobId}` } },
        ...(hire ? waysForHire(desk, f.boatName, hire) : []),
        { label: 'Leave it to the technician', cost: null, act: { kind: 'leave' } },
      ]),
    });
    return { group: 'held', weight: 'now', state: 'over', boat: String(f.boatId), matter };
  });
}
