import { engineName } from '../../fleet/index.ts';
import { TASKS } from '../../service/index.ts';
import type { HeldEngine, UndecidedHold } from '../types.ts';
import { DAY_MINUTES, GOING_DAYS, asFound, type Desk, type Found } from './desk.ts';

/** Engines that are held: those whose boat goes out soon are for now. */
export function heldEngines({ board, minute, dayWord, dayOf, clock }: Desk, holds: readonly HeldEngine[]): Found[] {
  const matters: Found[] = [];
  for (const h of holds) {
    const hire = board.boats[String(h.boatId)]?.hires.find(([out]) => out > minute);
    const soon = hire !== undefined && hire[0] < (GOING_DAYS + 1) * DAY_MINUTES;
    matters.push(
      asFound({
        key: `hold ${h.id}`,
        weight: soon ? 'now' : 'soon',
        state: 'over',
        title: `${engineName(h.boatName, h.position)} is held${hire ? ` and goes out ${dayWord(dayOf(hire[0]))} ${clock(hire[0])}` : ''}`,
        text: `${h.why} ${h.missing.length === 0 ? 'Its checks are in the log: look at it and let it go, or keep it.' : `Wanted first: ${h.missing.map((t) => TASKS[t].word.toLowerCase()).join(', ')}.`}`,
        options: [
          {
            label: h.missing.length === 0 ? 'Look and let it go' : 'Look at the engine',
            cost: null,
            act: { kind: 'look', to: `/fleet/engines/${h.engineId}` },
          },
          { label: 'Leave it held', cost: null, act: { kind: 'leave' } },
        ],
      }),
    );
  }

  return matters;
}

/** Findings that would hold an engine and nobody has decided. */
export function undecidedFindings(undecided: readonly UndecidedHold[]): Found[] {
  const matters: Found[] = [];
  for (const f of undecided) {
    matters.push(
      asFound({
        key: `finding ${f.id}`,
        weight: 'now',
        state: 'over',
        title: `${engineName(f.boatName, f.position)}: ${f.seen.charAt(0).toLowerCase()}${f.seen.slice(1).replace(/\.$/, '')}`,
        text: `${f.does} Nobody has said yet what becomes of it; until then the boat does not go out.`,
        options: [
          { label: 'Decide on the card', cost: null, act: { kind: 'look', to: `/jobs/${f.jobId}` } },
          { label: 'Leave it to the technician', cost: null, act: { kind: 'leave' } },
        ],
      }),
    );
  }
  return matters;
}
