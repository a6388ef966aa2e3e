import { plural } from '../units/index.ts';

/** A line of a mail, and where in the book it leads (`/jobs/12`). */
export interface MailLine {
  text: string;
  to: string | null;
}
/** A part of a mail under one heading: words as somebody wrote them, or lines. */
export interface MailPart {
  head: string | null;
  words?: string;
  lines: readonly MailLine[];
}

/** Longer lines are not to be written in a mail's head (RFC 5322, 2.1.1: 78 signs without the line's end). */
const SUBJECT_SIGNS = 78 - 'Subject: '.length;

/** A text as one line of at most so many signs, cut between words. */
export function clipped(text: string, most = SUBJECT_SIGNS): string {
  const line = text.replaceAll(/[\s\p{Cc}]+/gu, ' ').trim();
  if (line.length <= most) return line;
  const cut = line.slice(0, most - 2);
  const space = cut.lastIndexOf(' ');
  // Half of a letter of two parts is none.
  return `${(space > most / 2 ? cut.slice(0, space) : cut).replace(/[\uD800-\uDBFF]$/, '')} …`;
}

/** What stands above a mail of messages: the message itself, or how many there are. */
export function subjectOf(lines: readonly MailLine[]): string {
  const first = lines[0]?.text ?? '';
  return clipped(lines.length > 1 ? `${plural(lines.length, 'message')}: ${first}` : first);
}

/**
 * A mail as plain text, as every reader shows it.
 *
 * @param name of whom it goes to
 * @param address of the book, which its links begin with
 * @param closing why it came, and how to have it otherwise
 */
export function mailText({
  name,
  parts,
  address,
  closing,
}: {
  name: string;
  parts: readonly MailPart[];
  address: string;
  closing: string;
}): string {
  const said = parts
    .filter((p) => p.lines.length > 0 || p.words !== undefined)
    .map(({ head, words, lines }) =>
      [
        ...(head === null ? [] : [head, '']),
        ...(words === undefined ? [] : [words]),
        ...lines.flatMap(({ text, to }) => [`- ${text}`, ...(to === null ? [] : [`  ${address}${to}`])]),
      ].join('\n'),
    );
  return `${[`Hello ${name},`, ...said, closing].join('\n\n')}\n`;
}

/** What can be meant as an address of mail: one at, something on both sides, no signs that end or part addresses. */
export const isMailAddress = (text: string): boolean =>
  text.length <= 254 &&
  /^[^\s@<>(),;:"\\[\]\p{Cc}]{1,64}@[^\s@<>(),;:"\\[\]\p{Cc}]+\.[^\s@<>(),;:"\\[\]\p{Cc}]{2,}$/u.test(text);
