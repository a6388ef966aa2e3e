import type { Hire } from '@diurna/contract/hires';
import type { DockAct } from '../outbox/index.ts';

/** How a boat stands at the dock: as the book has it, with what this device has not sent yet. */
export interface AtDock {
  /** When it went, where it did. */
  out: string | null;
  back: string | null;
  /** What of it waits on this device: the act, to be taken back. */
  keptOut: DockAct | null;
  keptBack: DockAct | null;
}

/** The last word counts: a boat let go and taken back is here. @param acts of this device, in their order */
export function atDock(hire: Pick<Hire, 'id' | 'letGo' | 'cameBack'>, acts: readonly DockAct[]): AtDock {
  const stand: AtDock = { out: hire.letGo?.at ?? null, back: hire.cameBack?.at ?? null, keptOut: null, keptBack: null };
  for (const act of acts) {
    const at = new Date(act.at).toISOString();
    if (act.kind === 'out' && act.hireId === hire.id) {
      stand.out = act.out ? at : null;
      stand.keptOut = act;
    }
    if (act.kind === 'back' && act.hireId === hire.id) {
      stand.back = act.back ? at : null;
      stand.keptBack = act;
    }
  }
  return stand;
}

/** Engines whose hours were typed on this device and have not reached the book. */
export const keptHours = (acts: readonly DockAct[]): ReadonlySet<number> =>
  new Set(acts.flatMap((a) => (a.kind === 'hours' ? a.readings.map((r) => r.engineId) : [])));
