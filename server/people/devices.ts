import Bowser from 'bowser';
import { and, eq } from 'drizzle-orm';
import type { CookieOptions, Request, Response } from 'express';
import { createHash, randomBytes } from 'node:crypto';
import { tables, transaction, type Db } from '../db/index.ts';
import { tell } from '../messages/index.ts';

const { knownDevice, person } = tables;
const YEAR_MS = 365 * 86_400_000;
const digest = (text: string) => createHash('sha256').update(text).digest('base64url');

/** The browser in words, as its person would name it. */
export function deviceWords(req: Request): string {
  const agent = req.get('user-agent');
  if (!agent) return 'a program';
  const { browser, os, platform } = Bowser.parse(agent);
  const where = [os.name, platform.type === 'mobile' ? 'phone' : platform.type].filter(Boolean).join(', ');
  return [browser.name ?? 'a browser', where].filter(Boolean).join(' on ').slice(0, 80);
}

/** Browsers a person has signed in with before: they are known again by what they keep. */
export function knownDevices(secureCookie: boolean) {
  const cookie: CookieOptions = { httpOnly: true, sameSite: 'lax', secure: secureCookie, path: '/' };
  const name = secureCookie ? '__Host-diurna-device' : 'diurna-device';

  /** What this browser keeps to be known again, hashed. */
  function deviceOf(req: Request): string | null {
    const kept = new RegExp(`(?:^|; )${name}=([\\w-]{22})(?:;|$)`).exec(req.get('cookie') ?? '')?.[1];
    return kept === undefined ? null : digest(kept);
  }

  /** Whether the person has signed in with this browser before. */
  async function knows(db: Db, personId: number, device: string): Promise<boolean> {
    const found = await db
      .select({ lastAt: knownDevice.lastAt })
      .from(knownDevice)
      .where(and(eq(knownDevice.personId, personId), eq(knownDevice.deviceHash, device)));
    return found.length > 0;
  }

  /** Remembers the browser; from another than before, the person is told. */
  async function remember(db: Db, req: Request, res: Response, who: typeof person.$inferSelect, now: Date) {
    let device = deviceOf(req);
    if (device === null) {
      const fresh = randomBytes(16).toString('base64url');
      res.cookie(name, fresh, { ...cookie, maxAge: YEAR_MS });
      device = digest(fresh);
    }
    const others = await db
      .select({ device: knownDevice.deviceHash })
      .from(knownDevice)
      .where(eq(knownDevice.personId, who.id));
    await db
      .insert(knownDevice)
      .values({ personId: who.id, deviceHash: device, lastAt: now })
      .onConflictDoUpdate({ target: [knownDevice.personId, knownDevice.deviceHash], set: { lastAt: now } });
    // Nobody is told of those whose password anyone may read.
    if (who.openPassword || others.length === 0 || others.some((o) => o.device === device)) return;
    const text = `Your name was used to sign in with a new device: ${deviceWords(req)}. If that was not you, sign it out under The yard and change your password.`;
    await transaction(db, (tx) => tell(tx, [{ personId: who.id, kind: 'door', text }], now));
  }

  return { deviceOf, knows, remember };
}
