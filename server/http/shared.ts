import type { Request, Response } from 'express';
import { promisify } from 'node:util';
import { gzip } from 'node:zlib';

/** Replies many people get alike: their text, and the same packed, once somebody has asked for them. */
const sharedTexts = new WeakMap<object, { text?: string; packed?: Promise<Buffer> }>();
const gzipped = promisify(gzip);
/** Shorter ones are packed as fast as they are found. */
const WORTH_PACKING = 20_000;

/** Marks a reply that is kept and answered again, unchanged, so that its text is made and packed once. */
export function shared<T extends object>(reply: T): T {
  if (!sharedTexts.has(reply)) sharedTexts.set(reply, {});
  return reply;
}

/** A reply that is text already and is sent as it is: it has nothing else to look at. */
export function sharedText<T extends object>(text: string): T {
  const reply = {} as T;
  sharedTexts.set(reply, { text });
  return reply;
}

/** The text of a reply as it is sent. */
export const textOf = (reply: object): string => sharedTexts.get(reply)?.text ?? JSON.stringify(reply);

/** What a reply says, for whoever checks it; null = itself. */
export function saidBy(reply: unknown): unknown {
  const text = typeof reply === 'object' && reply !== null ? sharedTexts.get(reply)?.text : undefined;
  return text === undefined ? reply : JSON.parse(text);
}

/** Sends a reply as JSON; one that is shared in the form it was made for whoever asked first. */
export async function sendJson(req: Request, res: Response, reply: unknown): Promise<void> {
  res.type('json');
  const kept = typeof reply === 'object' && reply !== null ? sharedTexts.get(reply) : undefined;
  if (!kept) {
    res.send(JSON.stringify(reply));
    return;
  }
  kept.text ??= JSON.stringify(reply);
  if (kept.text.length < WORTH_PACKING || !req.acceptsEncodings('gzip')) {
    res.send(kept.text);
    return;
  }
  // Beside the loop, in a thread of the runtime's own.
  kept.packed ??= gzipped(kept.text, { level: 1 });
  res
    .set('content-encoding', 'gzip')
    .vary('accept-encoding')
    .send(await kept.packed);
}
