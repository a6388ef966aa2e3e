import type { BackgroundKind } from '@diurna/contract/background';
import type { Clock } from '@diurna/core/calendar';
import { lt } from 'drizzle-orm';
import { tables, type Db } from '../db/index.ts';
import { forgetTouches } from '../db/while-unchanged.ts';
import { readFeed, type FeedOptions } from '../hires/index.ts';
import { forgetKeys } from '../http/once.ts';
import { forgetHours } from '../system/index.ts';
import { WorkFailed, type Doer } from './queue.ts';

/** A picture whose rest did not come for so long is given up by the book; the phone has it whole. */
const HALF_PICTURE_DAYS = 30;
const DAY_MS = 86_400_000;

/** Who does each kind of work. */
export function doersOf(db: Db, clock: Clock, privateFeeds: FeedOptions['privateFeeds']): Record<BackgroundKind, Doer> {
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

    async tidy() {
      const now = clock();
      const keys = await forgetKeys(db, now);
      const { pictureUpload } = tables;
      const { rowCount } = await db
        .delete(pictureUpload)
        .where(lt(pictureUpload.at, new Date(now.getTime() - HALF_PICTURE_DAYS * DAY_MS)));
      const hours = await forgetHours(db, now);
      await forgetTouches(db);
      return `Cleared: ${keys} keys of requests, ${rowCount ?? 0} pictures that never came whole, ${hours} hours of how the app did.`;
    },
  };
}
