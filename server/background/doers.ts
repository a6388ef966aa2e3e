import type { BackgroundKind } from '@diurna/contract/background';
import type { Clock } from '@diurna/core/calendar';
import { plural } from '@diurna/core/units';
import { lt } from 'drizzle-orm';
import { tables, type Db } from '../db/index.ts';
import { forgetTouches } from '../db/while-unchanged.ts';
import { readFeed, type FeedOptions } from '../hires/index.ts';
import { forgetKeys } from '../http/once.ts';
import { forgetMail, sendDue, writeMorning, type MailOptions } from '../messages/index.ts';
import { askSupplier } from '../ordering/index.ts';
import { forgetHours } from '../system/index.ts';
import type { Think } from '../think.ts';
import { WorkFailed, type Doer } from './queue.ts';

/** A picture whose rest did not come for so long is given up by the book; the phone has it whole. */
const HALF_PICTURE_DAYS = 30;
const DAY_MS = 86_400_000;

/** What those who work behind the scenes need besides the book. */
export interface DoersNeed {
  privateFeeds: FeedOptions['privateFeeds'];
  /** How mail goes; null = it does not. */
  mail: MailOptions | null;
  think: Think;
}

/** Who does each kind of work. */
export function doersOf(db: Db, clock: Clock, { privateFeeds, mail, think }: DoersNeed): Record<BackgroundKind, Doer> {
  return {
    async feed({ subjectId, personId, requestId }, { log, signal }) {
      const { outcome, failed } = await readFeed(
        db,
        subjectId!,
        clock(),
        { personId, requestId },
        { privateFeeds, logger: log, signal },
      );
      if (failed) throw new WorkFailed(outcome);
      return outcome;
    },

    async mail(_work, { signal }) {
      if (mail === null) throw new WorkFailed('This book sends no mail.');
      const { sent, kept, why } = await sendDue(db, mail, clock, signal);
      const went = `${plural(sent, 'mail')} went.`;
      if (kept > 0) throw new WorkFailed(`${went} ${plural(kept, 'mail')} did not: ${why}`);
      return went;
    },

    async morning({ subjectId }) {
      return `${plural(await writeMorning(db, think, subjectId, clock()), 'mail')} written.`;
    },

    async order({ subjectId, personId, requestId }, { log, signal }) {
      const { outcome, open } = await askSupplier(
        db,
        subjectId!,
        clock(),
        { personId, requestId },
        { allowed: privateFeeds, logger: log, signal },
      );
      if (open) throw new WorkFailed(outcome);
      return outcome;
    },

    async tidy() {
      const now = clock();
      const keys = await forgetKeys(db, now);
      const { pictureUpload } = tables;
      const { rowCount } = await db
        .delete(pictureUpload)
        .where(lt(pictureUpload.at, new Date(now.getTime() - HALF_PICTURE_DAYS * DAY_MS)));
      const hours = await forgetHours(db, now);
      await forgetTouches(db);
      const mails = await forgetMail(db, now);
      return `Cleared: ${keys} keys of requests, ${rowCount ?? 0} pictures that never came whole, ${hours} hours of how the app did, ${mails} mails of long ago.`;
    },
  };
}
