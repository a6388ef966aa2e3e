import type { Request } from 'express';
import { machineNow } from '../clock.ts';
import type { Who } from '../http/api.ts';
import { HttpProblem } from '../http/problem.ts';
import { LASTS } from '../http/session.ts';
import { deviceWords } from './devices.ts';

function regenerate(req: Request): Promise<void> {
  return new Promise((resolve, reject) => {
    req.session.regenerate((error: unknown) => {
      if (error) reject(error instanceof Error ? error : new Error('session'));
      else resolve();
    });
  });
}

/** From here on the session is this person's. */
export async function enter(
  req: Request,
  { id, name, role, baseId }: Omit<Who, 'halfway'>,
  halfway: boolean,
  shared = false,
) {
  await regenerate(req);
  req.session.personId = id;
  req.session.who = { id, name, role, baseId, halfway };
  req.session.begun = machineNow();
  req.session.shared = shared;
  req.session.device = deviceWords(req);
  if (shared) req.session.cookie.maxAge = LASTS.shared.all;
}

/** Browsers say where a request comes from; a sign-in sent by another site is refused. */
export function refuseOtherSites(req: Request): void {
  const site = req.get('sec-fetch-site');
  if (site !== undefined && site !== 'same-origin' && site !== 'none') {
    throw new HttpProblem(
      403,
      'This request came from another site and was refused. Open Diurna itself and sign in there.',
    );
  }
}
