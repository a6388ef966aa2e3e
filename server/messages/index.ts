import type { Tx } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { HttpProblem } from '../http/problem.ts';
import { contactHandlers } from './contacts.ts';
import { mailListHandlers } from './mail-list.ts';
import type { MailOptions } from './mailer.ts';
import { noticeHandlers } from './notices.ts';
import { ownHandlers } from './own.ts';

export { forgetMail } from './forget.ts';
export type { MailOptions } from './mailer.ts';
export { morningsDue, writeMorning } from './morning.ts';
export { mailIsDue, sendDue } from './send.ts';
export { tell, tellOutside, tellRoles, type Message } from './tell.ts';

type Names =
  | 'listNotices'
  | 'readNotices'
  | 'readMyMessages'
  | 'setMyMessages'
  | 'tryMyMail'
  | 'listContacts'
  | 'addContact'
  | 'editContact'
  | 'dropContact'
  | 'writeMessage'
  | 'listMail'
  | 'sendMailAgain'
  | 'stopMail';

/** Refuses while the book sends none. @param out how mail goes; null = not */
export const mailNeeded = (out: MailOptions | null) => (): void => {
  if (out === null)
    throw new HttpProblem(409, 'This book sends no mail. Whoever runs it sets DIURNA_MAIL, as docs/operating.md says.');
};

/**
 * Messages: told in the book and by mail, to people of the yard and outside.
 *
 * @param out how mail goes; null = not
 * @param soon has the mail sent that a person waits for, once the transaction is through
 */
export function messagesHandlers(out: MailOptions | null, soon: (tx: Tx) => Promise<unknown>): Handlers<Names> {
  const needMail = mailNeeded(out);
  return {
    ...noticeHandlers,
    ...ownHandlers(out !== null, needMail, soon),
    ...contactHandlers(out !== null, needMail, soon),
    ...mailListHandlers(out, needMail, soon),
  };
}
