import { and, eq, ne, sql } from 'drizzle-orm';
import type { Request } from 'express';
import { createHash } from 'node:crypto';
import type pg from 'pg';
import { byBook } from '../clock.ts';
import { tables, type Db, type Tx } from '../db/index.ts';
import { writeAudit, type Handlers } from '../http/api.ts';
import { notFound } from '../http/problem.ts';
import { cookieName, sessionsOf } from '../http/session.ts';

const { session } = tables;

/** Names a session to its person without opening it. */
const keyOf = (sid: string) => createHash('sha256').update(sid).digest('base64url').slice(0, 22);

/** Sessions of the person end, except the one named. */
export async function endSessions(tx: Tx | Db, personId: number, except?: string): Promise<void> {
  await tx
    .delete(session)
    .where(and(sql`(${session.sess} ->> 'personId')::int = ${personId}`, except ? ne(session.sid, except) : undefined));
}

/** The session of this request is over. */
const destroy = (req: Request): Promise<void> =>
  new Promise((resolve) => {
    req.session.destroy(() => {
      resolve();
    });
  });

/** Where somebody is signed in, and signing out: here, everywhere, or one device. */
export function sessionHandlers(
  pool: pg.Pool,
  secureCookie: boolean,
): Handlers<'signOut' | 'signOutEverywhere' | 'listDevices' | 'endDevice'> {
  const cookie = { httpOnly: true, sameSite: 'lax', secure: secureCookie, path: '/' } as const;
  return {
    async signOut({ req, res, db, who, requestId, now }) {
      await writeAudit(db, now, who.id, requestId, {
        act: 'signed out',
        subject: 'person',
        subjectId: who.id,
        title: who.name,
      });
      await destroy(req);
      res.clearCookie(cookieName(secureCookie), cookie);
      return { ok: true };
    },

    async signOutEverywhere({ req, res, write, who }) {
      await write(async (tx, audit) => {
        await endSessions(tx, who.id);
        await audit({
          act: 'signed out',
          subject: 'person',
          subjectId: who.id,
          title: who.name,
          after: { everywhere: true },
        });
      });
      await destroy(req);
      res.clearCookie(cookieName(secureCookie), cookie);
      return { ok: true };
    },

    async listDevices({ req, who, now }) {
      const at = byBook(now);
      return (await sessionsOf(pool, who.id)).map((s) => ({
        key: keyOf(s.sid),
        device: s.device || 'a browser',
        begun: at(s.begun),
        seen: at(s.seen),
        shared: s.shared,
        here: s.sid === req.sessionID,
      }));
    },

    async endDevice({ params, write, who }) {
      const found = (await sessionsOf(pool, who.id)).find((s) => keyOf(s.sid) === params.key);
      if (!found) throw notFound('device that is signed in');
      await write(async (tx, audit) => {
        await tx.delete(session).where(eq(session.sid, found.sid));
        await audit({
          act: 'signed out',
          subject: 'person',
          subjectId: who.id,
          title: who.name,
          after: { device: found.device },
        });
      });
      return { ok: true };
    },
  };
}
