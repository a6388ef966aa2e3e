import { dayWord, timeOfDay, type ClockFace, type Day } from '../calendar/index.ts';
import type { DayBoat, DayPerson, DayVisit, Matter } from '../day/index.ts';
import { worksText } from '../service/index.ts';
import { plural } from '../units/index.ts';
import type { MailLine, MailPart } from './mail.ts';

/** What the cards of the day take from the shelf, by base. */
export interface KitOfDay {
  jobId: number;
  baseId: number;
  boatName: string;
  technician: string;
  start: number | null;
  lines: readonly { number: string; name: string; quantity: number; onHand: number }[];
}

/** What a morning's mail is made of: the day of one base, as the person may see it. */
export interface Morning {
  day: Day;
  /** How the yard writes its hours. */
  clock?: ClockFace | undefined;
  personId: number;
  people: readonly DayPerson[];
  boats: readonly DayBoat[];
  kits: readonly KitOfDay[];
  /** Null for whoever does not decide. */
  matters: readonly Matter[] | null;
  /** What was told since and waits for the morning. */
  told: readonly MailLine[];
  /** What of the day this person works with. */
  wants: { own: boolean; yard: boolean; dock: boolean; shelf: boolean };
}

/** More lines than this nobody reads in a mail: how many there are besides is said, and where they stand. */
const MOST_LINES = 12;

function listed(head: string, lines: readonly MailLine[], rest: string): MailPart {
  const more = lines.length - MOST_LINES;
  return { head, lines: more > 0 ? [...lines.slice(0, MOST_LINES), { text: `and ${more} more`, to: rest }] : lines };
}

const hours = (v: DayVisit, clock?: ClockFace) =>
  v.start === null
    ? 'no hour yet'
    : `${timeOfDay(v.start, clock)} to ${timeOfDay(v.start + v.minutes + lost(v), clock)}`;
const lost = ({ pause }: DayVisit) => (pause ? pause.to - pause.from : 0);
const byTime = (a: { start: number | null }, b: { start: number | null }) => (a.start ?? 9999) - (b.start ?? 9999);
const openOf = (p: DayPerson | undefined) => (p?.visits ?? []).filter((v) => v.status === 'open').sort(byTime);

/** The cards of one person in the order of the day, each with where the boat lies and when it goes out. */
function ownPart({ people, boats, personId, clock }: Morning): MailPart {
  const lines = openOf(people.find((p) => p.id === personId)).map((v): MailLine => {
    const out = boats.find((b) => b.boatId === v.boatId && b.way === 'out');
    return {
      text: [
        `${hours(v, clock)}, ${v.boatName}`,
        `${v.baseName}${v.berth ? `, berth ${v.berth}` : ''}: ${worksText(v.works)}`,
        ...(out ? [`goes out ${timeOfDay(out.at, clock)}${out.at >= 1440 ? ' tomorrow' : ''}`] : []),
        ...(v.trouble ? [`not as it stands: ${v.trouble}`] : []),
      ].join('; '),
      to: `/jobs/${v.jobId}`,
    };
  });
  return listed('Your cards today', lines, '/jobs');
}

function yardParts({ people, matters, clock }: Morning): MailPart[] {
  const decide = (matters ?? []).map((m): MailLine => ({
    text: `${m.weight === 'now' ? 'now: ' : ''}${m.title}. ${m.text}`,
    to: null,
  }));
  const bench = people.flatMap((p): MailLine[] => {
    const cards = openOf(p);
    return cards.length === 0
      ? []
      : [{ text: `${p.name}: ${plural(cards.length, 'card')}, ${spanOf(cards, clock)}`, to: null }];
  });
  return [listed(`To decide: ${decide.length}`, decide, '/day'), listed('On the bench', bench, '/day')];
}

function spanOf(cards: readonly DayVisit[], clock?: ClockFace): string {
  const placed = cards.filter((v) => v.start !== null);
  const without = cards.length - placed.length;
  const from = Math.min(...placed.map((v) => v.start!));
  const to = Math.max(...placed.map((v) => v.start! + v.minutes + lost(v)));
  return [
    ...(placed.length > 0 ? [`${timeOfDay(from, clock)} to ${timeOfDay(to, clock)}`] : []),
    ...(without > 0 ? [`${without} without an hour`] : []),
  ].join(', ');
}

const goingOut = (boats: readonly DayBoat[]) => boats.filter((b) => b.way === 'out' && b.at < 1440);

/** Boats that go out today, those that may not as they stand first. */
function dockPart({ boats, clock }: Morning): MailPart {
  const out = goingOut(boats);
  const wrong = out.filter((b) => b.state === 'held' || b.state === 'work first' || b.state === 'over');
  const lines = wrong.map((b): MailLine => ({ text: `${timeOfDay(b.at, clock)}, ${b.boatName}: ${b.text}`, to: null }));
  const fine = out.length - wrong.length;
  return listed(
    'Boats that go out today',
    [...lines, ...(fine > 0 ? [{ text: `${plural(fine, 'boat')} with nothing against`, to: '/fleet/hires' }] : [])],
    '/fleet/hires',
  );
}

/** Cards that take more than the shelf has, each part for itself: cards of the day before share one shelf. */
function shelfPart({ kits }: Morning): MailPart {
  const left = new Map<string, number>();
  const lines = [...kits].sort(byTime).flatMap((kit) =>
    kit.lines.flatMap((part): MailLine[] => {
      const shelf = `${kit.baseId} ${part.number}`;
      const have = left.get(shelf) ?? part.onHand;
      left.set(shelf, have - part.quantity);
      const short = part.quantity - Math.max(0, have);
      return short <= 0
        ? []
        : [{ text: `${kit.boatName} (${kit.technician}): ${short} short of ${part.name}, ${part.number}`, to: null }];
    }),
  );
  return {
    head: `Kits to pick today: ${kits.length}`,
    lines:
      lines.length > 0
        ? listed('', lines, '/stores').lines
        : kits.length > 0
          ? [{ text: 'Everything they take is on the shelf.', to: '/day' }]
          : [],
  };
}

/**
 * The mail of a morning for one person: what waits for them today, and what they were told since; null = nothing to
 * say, so no mail.
 */
export function morningMail(morning: Morning): { subject: string; parts: MailPart[] } | null {
  const { wants, told, day, matters } = morning;
  const own = wants.own ? ownPart(morning) : null;
  const parts = [
    ...(own ? [own] : []),
    ...(wants.yard ? yardParts(morning) : []),
    ...(wants.dock ? [dockPart(morning)] : []),
    ...(wants.shelf ? [shelfPart(morning)] : []),
    listed('Told to you', told, '/day'),
  ].filter((p) => p.lines.length > 0);
  if (parts.length === 0) return null;
  const cards = openOf(morning.people.find((p) => p.id === morning.personId)).length;
  const out = goingOut(morning.boats).length;
  const now = matters?.filter((m) => m.weight === 'now').length ?? 0;
  const counts = [
    ...(own && cards > 0 ? [plural(cards, 'card')] : []),
    ...(wants.yard && now > 0 ? [`${now} to decide now`] : []),
    ...(wants.dock && !wants.yard && out > 0 ? [`${plural(out, 'boat')} out`] : []),
    ...(told.length > 0 ? [plural(told.length, 'message')] : []),
  ];
  return { subject: [dayWord(day), ...(counts.length > 0 ? [counts.join(', ')] : [])].join(': '), parts };
}

/**
 * Whether it is time for a morning's mail: from the yard's minute on, for so long that a book that was down over night
 * still sends it, and none comes in the evening.
 *
 * @param minute minutes after midnight at the base
 */
export const isMorning = (minute: number, from: number): boolean => minute >= from && minute < from + 360;
