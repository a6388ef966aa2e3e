import { timeOfDay, type ClockFace, type Day } from '../calendar/index.ts';
import { dayLine, type LineVisit, type PlanBreak } from '../planner/index.ts';
import { TASKS, type TaskKind } from '../service/index.ts';
import { minutesText } from '../visit/index.ts';
import { BARS, type Bar } from './bars.ts';

export interface Reason {
  bar: Bar;
  /** Why not, and what would free it; each a sentence. */
  text: string;
  frees: string | null;
}

interface Span {
  from: number;
  to: number;
}

/** How things stand on one day. Minutes after midnight at the boat's base. */
export interface FeasibleDay {
  day: Day;
  /** Where the person works and from when to when, overtime till `hard`; null = off. */
  hand: {
    baseId: number;
    baseName: string;
    from: number;
    to: number;
    hard: number;
    /** Its break; null = none. */
    rest: PlanBreak | null;
  } | null;
  /** Others on duty at the boat's base. */
  others: readonly { name: string; skills: readonly string[] }[];
  /** When the boat lies there and is not on hire, from now on. */
  gaps: readonly Span[];
  /** Lift turns no other visit takes. */
  liftLeft: number;
  /** Who has another open card of this boat that day; null = nobody. */
  taken: string | null;
  /** The person's other visits. */
  busy: readonly LineVisit[];
}

/** Work, the person it is meant for, and the days from the one asked about on: later ones tell what would free it. */
export interface WorkAsked {
  boatName: string;
  baseId: number;
  baseName: string;
  person: { name: string; skills: readonly string[] };
  tasks: readonly { engineName: string; task: TaskKind }[];
  /** At this person's pace, and those a second person is wanted for. */
  minutes: number;
  secondMinutes: number;
  /** When it is to begin; null = some time of the day. */
  start: number | null;
  /** How the yard writes its hours. */
  clock?: ClockFace | undefined;
  /** Free: on the shelf or there by that day, less what other cards keep back. */
  parts: readonly {
    name: string;
    quantity: string;
    free: string;
    short: boolean;
    arrives: Day | null;
    /** The other cards that keep it back, the nearest first. */
    keptFor?: readonly { boatName: string; day: Day }[];
  }[];
  /** Tasks that come after others which are neither done nor on this card. */
  waits: readonly { engineName: string; task: TaskKind; before: TaskKind }[];
  days: readonly FeasibleDay[];
}

const EPS = 1e-6;
/** More cards than these are counted. */
const MOST_NAMED = 3;
const list = (names: readonly string[]) =>
  names.length < 2 ? names.join('') : `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`;
/** "Plover on Tuesday 14 April and 2 other cards". */
function cardsText(cards: readonly { boatName: string; day: Day }[], dayText: (day: Day) => string): string {
  const named = cards.slice(0, MOST_NAMED).map((k) => `${k.boatName} on ${dayText(k.day)}`);
  const more = cards.length - named.length;
  return named.length === 0 ? 'other cards' : list(more > 0 ? [...named, `${more} more`] : named);
}
const are = (names: readonly string[]) => (names.length === 1 ? 'is' : 'are');

/**
 * Every reason why this work cannot be done by this person on the first of these days, with what would free it; none =
 * it can. The one answer all screens ask.
 *
 * @param dayText a day in the reader's way
 */
export function reasonsAgainst(asked: WorkAsked, dayText: (day: Day) => string): Reason[] {
  const [today, ...later] = asked.days;
  if (!today) return [];
  const reasons: Reason[] = [];
  const look: Look = {
    asked,
    today,
    later,
    say: (bar, text, frees) => reasons.push({ bar, text, frees }),
    on: (holds, words) => {
      const day = later.find(holds)?.day;
      return day === undefined ? null : words(dayText(day));
    },
  };
  byPerson(look);
  byTime(look);
  byPlace(look);
  for (const p of asked.parts)
    if (p.short)
      look.say(
        'no part',
        `${p.name}: ${p.quantity} wanted, ${p.free} free beside what is kept back for ${cardsText(p.keptFor ?? [], dayText)}.`,
        p.arrives === null ? 'Nothing is on the way: order it.' : `More is to arrive on ${dayText(p.arrives)}.`,
      );
  for (const { task, before, engineName } of asked.waits)
    look.say(
      'wrong order',
      `${TASKS[task].word} of ${engineName} comes after ${TASKS[before].word.toLowerCase()}, which is not done yet.`,
      `Put ${TASKS[before].word.toLowerCase()} on the card too.`,
    );
  return reasons.sort((a, b) => BARS.indexOf(a.bar) - BARS.indexOf(b.bar));
}

/** The work on its day and after, and where reasons go. */
interface Look {
  asked: WorkAsked;
  today: FeasibleDay;
  later: readonly FeasibleDay[];
  say: (bar: Bar, text: string, frees: string | null) => void;
  /** In words, the first later day of which it holds; null = none is near. */
  on: (holds: (d: FeasibleDay) => boolean, words: (day: string) => string) => string | null;
}

/** Whether the person works at the boat's base that day. */
const isThere = ({ asked }: Look, d: FeasibleDay) => d.hand?.baseId === asked.baseId;

/** Shift and leave, base of the day, skill. */
function byPerson(look: Look): void {
  const { asked, today, say, on } = look;
  const who = asked.person.name;
  const skills = [...new Set(asked.tasks.flatMap((t) => TASKS[t.task].skills))];
  const able = (have: readonly string[]) => skills.every((s) => have.includes(s));
  const instead = today.others.filter((o) => able(o.skills)).map((o) => o.name);
  const helps = instead.length > 0 ? `${list(instead)} ${are(instead)} on duty there that day.` : null;
  const { hand } = today;
  if (hand === null)
    say(
      'person off',
      `${who} is off that day.`,
      on(
        (d) => isThere(look, d),
        (d) => `${who} is there again on ${d}.`,
      ) ?? helps,
    );
  else if (hand.baseId !== asked.baseId)
    say(
      'other base',
      `${who} is at ${hand.baseName} that day; ${asked.boatName} lies at ${asked.baseName}.`,
      on(
        (d) => isThere(look, d),
        (d) => `${who} is at ${asked.baseName} on ${d}.`,
      ) ?? helps,
    );
  if (!able(asked.person.skills))
    say(
      'no skill',
      `${who} is not entered for ${list(skills.filter((s) => !asked.person.skills.includes(s)))}.`,
      helps,
    );
}

/** Other cards of the boat, the lift, a second person. */
function byPlace(look: Look): void {
  const { asked, today, say, on } = look;
  if (today.taken !== null)
    say('boat taken', `${today.taken} has a card on ${asked.boatName} that day.`, 'Put the work on that card.');
  if (asked.tasks.some((t) => TASKS[t.task].needsLift) && today.liftLeft <= 0)
    say(
      'no lift',
      `No lift turn is left at ${asked.baseName} that day.`,
      on(
        (d) => d.liftLeft > 0,
        (d) => `One is free on ${d}.`,
      ),
    );
  if (asked.secondMinutes > 0 && today.hand !== null && today.others.length === 0)
    say(
      'no second person',
      `It takes a second person for ${minutesText(asked.secondMinutes)}, and nobody else is on duty at ${asked.baseName}.`,
      on(
        (d) => isThere(look, d) && d.others.length > 0,
        (d) => `Two are there on ${d}.`,
      ),
    );
}

/** The boat's gaps, the person's hours and other visits. */
function byTime({ asked, today, say, on }: Look): void {
  const { minutes, boatName } = asked;
  const who = asked.person.name;
  // Looked for only where it is told: every day is put in order for it.
  const next = () =>
    on(
      (d) => fits(asked, d, null),
      (d) => `There is room on ${d}.`,
    );
  if (today.gaps.length === 0) {
    say('boat out', `${boatName} is out all day.`, next());
    return;
  }
  const { hand } = today;
  const widest = hand === null ? longest(today.gaps) : longest(within(today.gaps, hand));
  if (minutes > widest + EPS) {
    say(
      'gap too short',
      `It takes ${minutesText(minutes)}; the longest gap of ${boatName}${hand === null ? '' : ` within the hours of ${who}`} is ${minutesText(Math.floor(Math.max(0, widest)))}.`,
      next(),
    );
    return;
  }
  if (hand === null || hand.baseId !== asked.baseId) return;
  if (asked.start !== null && !within(today.gaps, hand).some((g) => covers(g, asked.start!, minutes)))
    say(
      'gap too short',
      `From ${timeOfDay(asked.start, asked.clock)} on, ${boatName} or ${who} is not there for ${minutesText(minutes)}.`,
      'Leave the hour open, and it is fitted in.',
    );
  else if (!fits(asked, today, asked.start))
    say('no hours', `${who} has other work that day: ${minutesText(minutes)} in one piece are not left.`, next());
}

const longest = (spans: readonly Span[]) => Math.max(0, ...spans.map((s) => s.to - s.from));
const within = (gaps: readonly Span[], { from, hard }: { from: number; hard: number }): Span[] =>
  gaps.map((g) => ({ from: Math.max(g.from, from), to: Math.min(g.to, hard) })).filter((g) => g.to > g.from);
const covers = (g: Span, start: number, minutes: number) => g.from <= start + EPS && start + minutes <= g.to + EPS;

/** Whether it finds a time beside the person's other visits. */
function fits({ minutes, baseId }: WorkAsked, { hand, gaps, busy }: FeasibleDay, start: number | null): boolean {
  if (hand?.baseId !== baseId || longest(within(gaps, hand)) < minutes - EPS) return false;
  const own: LineVisit = { id: 'asked', windows: gaps, minutes, start };
  const line = dayLine([...busy, own], hand);
  if (!line.starts.has('asked')) return false;
  if (line.left.length === 0) return true;
  // It may not push out what stood there.
  const before = new Set(dayLine(busy, hand).left);
  return line.left.every((id) => before.has(id));
}
