import type { DayPerson, Matter } from '@diurna/contract/day';
import type { HoldRow } from '@diurna/contract/findings';
import type { BoardReply } from '@diurna/contract/planner';
import { addDays, dayNumber, type Day } from '@diurna/core/calendar';
import { engineName, type Position } from '@diurna/core/fleet';
import { Board, planTaskId, planTaskOf, type Offer } from '@diurna/core/planner';
import { TASKS } from '@diurna/core/service';
import { and, eq, lt } from 'drizzle-orm';
import { tables, type Db } from '../db/index.ts';
import { jobSummaries } from '../jobs/index.ts';

/** A finding that would hold an engine, which nobody has decided. */
export interface UndecidedHold {
  id: number;
  jobId: number;
  boatName: string;
  position: Position;
  seen: string;
  does: string;
}

/** Boats that go out within so many days are looked at. */
const GOING_DAYS = 2;
const MOST = 14;
const ORDER_DAYS = 7;
const weekday = new Intl.DateTimeFormat('en-GB', { weekday: 'short', day: 'numeric', timeZone: 'UTC' });
const dayWord = (day: Day, today: Day) =>
  day === today ? 'today' : weekday.format(new Date(`${day}T12:00:00Z`)).replace(',', '');
const clock = (minute: number) => `${Math.floor(minute / 60)}:${String(Math.floor(minute % 60)).padStart(2, '0')}`;

/**
 * Every matter that needs a person, worst first, each with options worked out on the board of the next two
 * weeks. Costs are against the cheapest option, so that the figures can be compared as they stand.
 */
export async function mattersOf(
  db: Db,
  now: Date,
  board: BoardReply,
  people: readonly DayPerson[],
  today: Day,
  holds: readonly HoldRow[],
  undecided: readonly UndecidedHold[],
): Promise<Matter[]> {
  const plan = new Board(board.problem, board.standing);
  const name = (technician: string) => board.people[technician]?.name.split(' ')[0] ?? '';
  const matters: Matter[] = [];
  const placesFor = (boat: string, tasks: string[], until = board.days) =>
    plan
      .offers({ boat, from: null, tasks })
      .filter((o) => o.change !== null && o.day < until)
      .sort((a, b) => a.change! - b.change!);
  const whereText = (o: Offer) => `${dayWord(addDays(board.firstDay, o.day), today)} with ${name(o.technician)}`;
  const keysOf = (tasks: readonly string[]) => tasks.map(planTaskOf);
  const joined = (o: Offer, boat: string) => board.standing.find((s) => s.boat === boat && s.day === o.day);
  const to = (o: Offer) => ({
    day: addDays(board.firstDay, o.day),
    technicianId: Number(o.technician),
    startMinute: null,
  });

  // 0. Engines that are held, those whose boat goes out soon first.
  for (const h of holds) {
    const hire = board.boats[String(h.boatId)]?.hires.find(([out]) => out > 0);
    const soon = hire !== undefined && hire[0] < GOING_DAYS + 1;
    matters.push({
      key: `hold ${h.id}`,
      weight: soon ? 'now' : 'soon',
      state: 'over',
      title: `${engineName(h.boatName, h.position)} is held${hire ? ` and goes out ${dayWord(addDays(board.firstDay, Math.floor(hire[0])), today)} ${clock(Math.round((hire[0] % 1) * 1440))}` : ''}`,
      text: `${h.why} ${h.missing.length === 0 ? 'Its checks are in the log: look at it and let it go, or keep it.' : `Wanted first: ${h.missing.map((t) => TASKS[t].word.toLowerCase()).join(', ')}.`}`,
      options: [
        {
          label: h.missing.length === 0 ? 'Look and let it go' : 'Look at the engine',
          cost: null,
          act: { kind: 'look', to: `/fleet/engines/${h.engineId}` },
        },
        { label: 'Leave it held', cost: null, act: { kind: 'leave' } },
      ],
    });
  }

  for (const f of undecided) {
    matters.push({
      key: `finding ${f.id}`,
      weight: 'now',
      state: 'over',
      title: `${engineName(f.boatName, f.position)}: ${f.seen.charAt(0).toLowerCase()}${f.seen.slice(1).replace(/\.$/, '')}`,
      text: `${f.does} Nobody has said yet what becomes of it; until then the boat does not go out.`,
      options: [
        { label: 'Decide on the card', cost: null, act: { kind: 'look', to: `/jobs/${f.jobId}` } },
        { label: 'Leave it to the technician', cost: null, act: { kind: 'leave' } },
      ],
    });
  }

  // 1. Cards that cannot be done as they stand today.
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
          : `There is no time left for it beside the rest of the day; it takes ${Math.round(v.minutes)} min.`,
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

  // 2. Cards of days gone by that nobody finished.
  const old = await jobSummaries(db, now, and(eq(tables.job.status, 'open'), lt(tables.job.day, today)), 40, 0);
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
      title: `${j.boatName}: the card of ${dayWord(j.day, today)} is still open`,
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

  // 3. Boats that go out over a limit, or will pass one before they are back.
  const first = dayNumber(board.firstDay);
  const startOf = new Map(people.flatMap((p) => p.visits.map((v) => [v.jobId, v.start] as const)));
  /** Days from the first day; a card without an hour begins when its line of the day says. */
  const beginsAt = (s: BoardReply['standing'][number]) =>
    s.day + (s.start > 0 ? s.start : (startOf.get(s.jobId) ?? 0)) / 1440;
  const carded = new Set(board.standing.flatMap((s) => s.tasks.map((t) => t)));
  const going = Object.entries(board.boats).flatMap(([boat, b]) =>
    b.hires
      .filter(([out]) => out > 0 && out < GOING_DAYS + 1)
      .slice(0, 1)
      .map((hire) => ({ boat, b, hire })),
  );
  for (const {
    boat,
    b,
    hire: [out, back],
  } of going) {
    const own = board.problem.engines.filter((e) => e.boat === boat).map((e) => Number(e.id));
    const passing = Object.entries(board.tasks).filter(
      ([id, t]) =>
        own.includes(t.engineId) &&
        !carded.has(id) &&
        (t.state === 'over' ||
          (t.likely !== null && dayNumber(t.likely) - first < Math.ceil(back) && t.state !== 'unknown')),
    );
    const lateCard = board.standing.find(
      (s) =>
        s.boat === boat && !s.started && beginsAt(s) >= out && s.tasks.some((t) => board.tasks[t]?.state === 'over'),
    );
    if (lateCard) {
      // Its work is on a card, but only after the hire.
      const before = plan
        .offers({ boat, from: { day: lateCard.day }, tasks: lateCard.tasks })
        .filter(
          (o) =>
            o.change !== null &&
            o.day <= Math.floor(out) &&
            !(o.day === lateCard.day && o.technician === lateCard.technician),
        )
        .sort((a, b) => a.change! - b.change!)
        .slice(0, 2);
      const [worstId] = lateCard.tasks.filter((t) => board.tasks[t]?.state === 'over');
      const info = board.tasks[worstId!]!;
      matters.push({
        key: `late card ${lateCard.jobId}`,
        weight: 'now',
        state: 'over',
        title: `${b.name} goes out over its limit; its card comes after the hire`,
        text: `${TASKS[info.task].word}: ${engineName(b.name, info.position)} ${info.text}. ${name(lateCard.technician)} has it ${dayWord(addDays(board.firstDay, lateCard.day), today)}${lateCard.start > 0 ? ` at ${clock(lateCard.start)}` : ''}.${before.length === 0 ? ' No gap before takes it.' : ''}`,
        options: relative([
          ...before.map((o) => ({
            label: `Move to ${whereText(o)}`,
            cost: o.change,
            act: {
              kind: 'move' as const,
              jobId: lateCard.jobId,
              version: lateCard.version,
              ...to(o),
              tasks: keysOf(lateCard.tasks),
            },
          })),
          { label: 'Accept it', cost: 0, act: { kind: 'leave' as const } },
        ]),
      });
    }
    if (passing.length === 0) continue;
    const ids = passing.map(([id]) => id);
    const [, worst] = passing.find(([, t]) => t.state === 'over') ?? passing[0]!;
    const places = placesFor(boat, ids, Math.floor(out) + 1);
    const later = placesFor(boat, ids).find((o) => o.day >= Math.floor(back));
    const best = places[0]
      ? [
          places[0],
          ...places.filter((o) => o.day !== places[0]!.day || o.technician !== places[0]!.technician).slice(0, 1),
        ]
      : [];
    const outDay = addDays(board.firstDay, Math.floor(out));
    const at = clock(Math.round((out % 1) * 1440));
    const words = [...new Set(passing.map(([, t]) => TASKS[t.task].word.toLowerCase()))].join(', ');
    matters.push({
      key: `going ${boat}`,
      weight: worst.state === 'over' || out < 1 ? 'now' : 'soon',
      state: worst.state,
      title:
        worst.state === 'over'
          ? `${b.name} goes out ${dayWord(outDay, today)} ${at} over its limit`
          : `${b.name} will pass a limit on the hire of ${dayWord(outDay, today)} ${at}`,
      text: `${cap(words)}: ${engineName(b.name, worst.position)} ${worst.text}. ${best.length === 0 ? 'No gap before takes it with anybody who can.' : ''}`.trim(),
      options: relative(
        [
          ...best.map((o) => {
            const card = o.joins ? joined(o, boat) : undefined;
            return card
              ? {
                  label: `Add to ${whereText(o)}`,
                  cost: o.change,
                  act: {
                    kind: 'move' as const,
                    jobId: card.jobId,
                    version: card.version,
                    ...to(o),
                    tasks: keysOf([...card.tasks, ...ids]),
                  },
                }
              : {
                  label: `Fit in ${whereText(o)}`,
                  cost: o.change,
                  act: { kind: 'add' as const, boatId: Number(boat), ...to(o), tasks: keysOf(ids) },
                };
          }),
          ...(later && !best.some((o) => o.day === later.day && o.technician === later.technician)
            ? [
                {
                  label: `Let it go, then ${whereText(later)}`,
                  cost: later.change,
                  act: { kind: 'add' as const, boatId: Number(boat), ...to(later), tasks: keysOf(ids) },
                },
              ]
            : []),
          { label: 'Accept it', cost: 0, act: { kind: 'leave' as const } },
        ].slice(0, 4),
      ),
    });
  }

  // 4. Parts that run short within the two weeks.
  for (const part of board.problem.parts) {
    const known = board.parts[part.id];
    if (!known) continue;
    let wanted = 0;
    let last: Day | null = null;
    for (const t of board.problem.tasks) {
      const n = t.parts[part.id];
      const info = board.tasks[t.id];
      if (
        !n ||
        !info ||
        !(
          carded.has(t.id) ||
          info.state === 'over' ||
          info.state === 'due' ||
          (info.likely !== null && dayNumber(info.likely) - first < board.days)
        )
      )
        continue;
      wanted += n;
      if (info.likely !== null && (last === null || info.likely > last)) last = info.likely;
    }
    const there = part.supply.reduce((a, x) => a + x, 0);
    if (wanted <= there + 1e-6) continue;
    const [, baseText] = part.id.split(' at ');
    const short = known.unit === 'mL' ? Math.ceil((wanted - there) / 1000) * 1000 : Math.ceil(wanted - there);
    const unit = (n: number) => (known.unit === 'mL' ? `${(n / 1000).toFixed(1)} L` : String(Math.round(n)));
    matters.push({
      key: `part ${part.id}`,
      weight: 'soon',
      state: 'soon',
      title: `${unit(there)} of ${known.name} at ${board.bases[baseText ?? '']?.name ?? ''}, ${unit(wanted)} wanted`,
      text: `By ${last === null ? 'now' : dayWord(last, today)}, on hand and on the way.`,
      options: [
        {
          label: `Order ${unit(short)}, here in ${ORDER_DAYS} days`,
          cost: null,
          act: {
            kind: 'order',
            partId: known.partId,
            baseId: Number(baseText),
            quantity: short,
            day: addDays(today, ORDER_DAYS),
          },
        },
        { label: 'Leave it', cost: null, act: { kind: 'leave' } },
      ],
    });
  }
  const rank = { over: 0, due: 1, soon: 2, unknown: 3, fine: 4 } as const;
  return matters
    .sort(
      (a, b) =>
        Number(a.weight === 'soon') - Number(b.weight === 'soon') || rank[a.state ?? 'fine'] - rank[b.state ?? 'fine'],
    )
    .slice(0, MOST);
}

const cap = (s: string) => s.charAt(0).toUpperCase() + s.slice(1);

/** Costs against the cheapest of the options. */
function relative(options: Matter['options']): Matter['options'] {
  const known = options.flatMap((o) => (o.cost === null ? [] : [o.cost]));
  const least = Math.min(...known);
  return options.map((o) => ({ ...o, cost: o.cost === null ? null : Math.round((o.cost - least) * 100) / 100 }));
}
