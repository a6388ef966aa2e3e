import { kindsOf, type messagesRoutes } from '@diurna/contract/messages';
import { choicesOf, type MessageChoices } from '@diurna/core/messages';
import { and, eq } from 'drizzle-orm';
import type { z } from 'zod';
import { tables, type Db, type Tx } from '../db/index.ts';
import type { AuditLine, Handlers, Who } from '../http/api.ts';
import { HttpProblem, stale } from '../http/problem.ts';

const { mail, messageChoice, setting } = tables;
const HOUR_MS = 3_600_000;
type Chosen = z.output<(typeof messagesRoutes)['setMyMessages']['body']>;

const choiceOf = async (db: Db | Tx, personId: number) =>
  (await db.select().from(messageChoice).where(eq(messageChoice.personId, personId)))[0] ?? null;

/** @throws 409 when it was chosen otherwise on another device meanwhile */
async function choose(
  tx: Tx,
  audit: (line: AuditLine) => Promise<void>,
  { address, morning, choices: asked, version }: Chosen,
  who: Who,
): Promise<void> {
  const [before] = await tx.select().from(messageChoice).where(eq(messageChoice.personId, who.id)).for('update');
  if ((before?.version ?? null) !== version) throw stale('choice of messages');
  if (address === null) {
    await tx.delete(messageChoice).where(eq(messageChoice.personId, who.id));
    await tx
      .update(mail)
      .set({ state: 'stopped', fault: 'Whom it was for wants no mail any more.' })
      .where(and(eq(mail.personId, who.id), eq(mail.state, 'waiting')));
  } else {
    // Of what is never told to this role nothing is kept.
    const choices: Partial<MessageChoices> = Object.fromEntries(kindsOf(who.role).map((k) => [k, asked[k]]));
    const values = { address, morning, choices };
    await tx
      .insert(messageChoice)
      .values({ personId: who.id, ...values })
      .onConflictDoUpdate({ target: messageChoice.personId, set: { ...values, version: (before?.version ?? 0) + 1 } });
  }
  await audit({
    act: 'changed',
    subject: 'choice of messages',
    subjectId: who.id,
    title: who.name,
    before: before && { address: before.address, morning: before.morning, ...before.choices },
    after: { address, morning, ...asked },
  });
}

/**
 * Where somebody has mail, and what they want to come there.
 *
 * @param needMail refuses while the book sends none; `soon` has it sent
 */
export const ownHandlers = (
  sends: boolean,
  needMail: () => void,
  soon: (tx: Tx) => Promise<unknown>,
): Handlers<'readMyMessages' | 'setMyMessages' | 'tryMyMail'> => ({
  async readMyMessages({ db, who }) {
    const [settings] = await db.select({ morningMinute: setting.morningMinute }).from(setting);
    const own = await choiceOf(db, who.id);
    return {
      mail: sends,
      address: own?.address ?? null,
      choices: choicesOf(own?.choices ?? {}),
      morning: own?.morning ?? true,
      morningMinute: settings!.morningMinute,
      version: own?.version ?? null,
    };
  },

  setMyMessages: ({ body, write, who }) =>
    write(async (tx, audit) => {
      await choose(tx, audit, body, who);
      return { ok: true as const };
    }),

  tryMyMail: ({ write, who, now }) => {
    needMail();
    return write(async (tx) => {
      if ((await choiceOf(tx, who.id)) === null)
        throw new HttpProblem(409, 'Say first where you have mail, and keep it.');
      await tx
        .insert(mail)
        .values({
          kind: 'trial',
          personId: who.id,
          subject: 'A trial from the book',
          parts: [
            { head: null, words: 'Mail of the book reaches you here.', lines: [{ text: 'The book', to: '/yard' }] },
          ],
          at: now,
          nextAt: now,
          untilAt: new Date(now.getTime() + HOUR_MS),
          writtenBy: who.id,
        });
      await soon(tx);
      return { ok: true as const };
    });
  },
});
