const MINUTE = 60_000;
const HOUR = 60 * MINUTE;

/**
 * After the first tries a mail goes again after so long each: soon while a server may only be starting again, then
 * twice in the first hour and every two hours (RFC 5321, 4.5.4.1), as long as it is of use.
 */
const WAITS = [MINUTE, 5 * MINUTE, 30 * MINUTE, HOUR];
const THEN = 2 * HOUR;

/** Why a mail did not go, as the server or the line said it. */
export interface MailFault {
  /** What the mail server replied to this mail (RFC 5321, 4.2.1); null where the fault is the line's or the book's. */
  reply: number | null;
}

/**
 * When a mail that did not go is tried again.
 *
 * A reply of 5xx stays what it is (RFC 5321, 4.2.1: permanent negative completion) and the mail is given up at once;
 * one
 * of 4xx, and a server that is not there or does not let the book in, may do otherwise later.
 *
 * @param tries made so far, this one among them
 * @param until it is of no use any more then (ms since 1970)
 * @returns ms since 1970; null = it is given up
 */
export function triedAgainAt(
  tries: number,
  { reply }: MailFault,
  { now, until }: { now: number; until: number },
): number | null {
  if (reply !== null && reply >= 500) return null;
  const at = now + (WAITS[tries - 1] ?? THEN);
  return at > until ? null : at;
}
