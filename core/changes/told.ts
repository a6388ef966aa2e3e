import { dayWord } from '../calendar/index.ts';
import { TASKS } from '../service/index.ts';
import { changeKind, concernsPeople, type CardChange, type CardStand } from './change.ts';

/** So many cards are named one by one; of more the number is told. */
const NAMED = 6;

export interface ChangeNames {
  boat: (id: number) => string;
  person: (id: number) => string;
}

const worksOf = (c: CardStand) =>
  [...new Set(c.tasks.filter((t) => t.state !== 'done').map((t) => TASKS[t.task].word.toLowerCase()))].join(', ');

/** What one change is to each person it touches, without a full stop. */
function saysTo({ boatId, before, after }: CardChange, names: ChangeNames): [personId: number, text: string][] {
  const boat = names.boat(boatId);
  const comes: [number, string] = [after.technicianId, `${boat} on ${dayWord(after.day)}: ${worksOf(after)}`];
  switch (changeKind({ before, after })) {
    case 'new':
      return [comes];
    case 'called off':
      return [[before!.technicianId, `${boat} on ${dayWord(before!.day)} is called off`]];
    case 'given':
      return [
        [before!.technicianId, `${boat} on ${dayWord(before!.day)} goes to ${names.person(after.technicianId)}`],
        comes,
      ];
    case 'moved':
      return [[after.technicianId, `${boat} moves from ${dayWord(before!.day)} to ${dayWord(after.day)}`]];
    case 'work':
      return [[after.technicianId, `${boat} on ${dayWord(after.day)} is now: ${worksOf(after)}`]];
    case 'hour':
    case 'none':
      return [];
  }
}

/**
 * What each person is told of a set of changes: one message for each, however many cards it touches, their cards in the
 * order of the days.
 *
 * @param because before what changed, as "The plan of Ilse Maren"; null = what changed alone
 */
export function toldOf(
  changes: readonly CardChange[],
  names: ChangeNames,
  because: string | null = null,
): Map<number, string> {
  const dayOf = (c: CardChange) => (c.after.open ? c.after.day : (c.before?.day ?? c.after.day));
  const of = new Map<number, string[]>();
  for (const change of [...changes]
    .filter((c) => concernsPeople(changeKind(c)))
    .sort((a, b) => (dayOf(a) < dayOf(b) ? -1 : dayOf(a) > dayOf(b) ? 1 : 0)))
    for (const [person, text] of saysTo(change, names)) of.set(person, [...(of.get(person) ?? []), text]);
  return new Map(
    [...of].map(([person, texts]) => {
      const more = texts.length - NAMED;
      const named = more > 1 ? texts.slice(0, NAMED) : texts;
      const all = `${named.join('. ')}${more > 1 ? `. And ${more} more cards of yours: see Jobs` : ''}.`;
      return [person, because === null ? all : `${because}: ${all}`];
    }),
  );
}
