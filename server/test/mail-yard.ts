import type { MailRow } from '@diurna/contract/messages';
import { startMailbox } from '@diurna/demo/mailbox';
import { mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pino } from 'pino';
import PostalMime, { type Email } from 'postal-mime';
import { doersOf } from '../background/index.ts';
import { transaction } from '../db/index.ts';
import { tell, type MailOptions, type Message } from '../messages/index.ts';
import { thinkHere } from '../thoughts.ts';
import { openYard, type Client } from './yard.ts';

const MINUTE = 60_000;
const ALL = { work: 'mail', card: 'mail', desk: 'mail', hires: 'mail', door: 'book' } as const;

/**
 * A book that sends mail to the stand-in, and what comes into its box. Its clock is set by the test; it begins on a
 * Wednesday, seven in the morning at the base (Halifax, UTC-3 in April).
 */
export async function openMailYard() {
  const clock = { now: new Date('2026-04-15T10:00:00Z') };
  const folder = mkdtempSync(join(tmpdir(), 'diurna-mailbox-'));
  const box = await startMailbox(0, folder);
  const options: MailOptions = { server: box.url, from: 'book@yard.example', address: 'https://book.example' };
  const yard = await openYard(() => clock.now, { mail: options });
  const [ilse, admin, technician] = [
    await yard.as('coordinator'),
    await yard.as('administrator'),
    await yard.as('technician'),
  ];
  await yard.queue.start(false);
  const think = thinkHere(yard);
  return {
    yard,
    ilse,
    admin,
    technician,
    options,
    clock,
    think,
    later: (minutes: number) => {
      clock.now = new Date(clock.now.getTime() + minutes * MINUTE);
    },
    /** Nobody chose anything, nothing is on its way, the box is empty. */
    async afresh() {
      await yard.pool.query('delete from mail; delete from notice; delete from message_choice; delete from contact');
      for (const file of readdirSync(folder)) rmSync(join(folder, file));
    },
    /** What came into the box, as an independent reader of mail sees it (RFC 5322, by postal-mime). */
    came: (): Promise<Email[]> =>
      Promise.all(
        readdirSync(folder)
          .sort()
          .map((file) => PostalMime.parse(readFileSync(join(folder, file)))),
      ),
    /** Sends what is due, as a worker does. */
    send: (how: MailOptions = options) =>
      doersOf(yard.db, () => clock.now, { privateFeeds: [], mail: how, think }).mail(
        { kind: 'mail', title: null, subjectId: null, personId: null, requestId: null },
        { signal: new AbortController().signal, log: pino({ level: 'silent' }) },
      ),
    choose: (who: Client, address: string, choices: object = {}, morning = false) =>
      who.put('/session/messages', { address, choices: { ...ALL, ...choices }, morning, version: null }),
    mails: async (query = '') => (await admin.get<{ rows: MailRow[] }>(`/messages/mail?${query}`)).rows,
    toDesk: (contactIds: number[], text = 'Fulmar cannot go out at four.') =>
      ilse.post<{ sent: number }>('/messages', { contactIds, subject: 'Fulmar', text }),
    addContact: async (address: string, more: object = {}) => {
      const contact = { name: 'Hire desk', address, baseId: null, hears: ['hires'], ...more };
      return (await ilse.post<{ id: number }>('/messages/contacts', contact)).id;
    },
    /** The technician is told of cards. */
    told: (...texts: string[]) =>
      transaction(yard.db, (tx) =>
        tell(
          tx,
          texts.map((text): Message => ({ personId: yard.people.technician, kind: 'work', text })),
          clock.now,
        ),
      ),
    async close() {
      await yard.close();
      await box.stop();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}
