import type { CardEntry, CardState, Step } from '@diurna/core/visit';
import type { Tx } from '../db/index.ts';
import type { Who } from '../http/api.ts';
import { tell, tellRoles } from '../messages/index.ts';

/** Tells those it concerns: a word goes to the other side, a step left out to the desk, a helper hears of it. */
export async function tellOf(
  tx: Tx,
  fresh: readonly CardEntry[],
  steps: readonly Step[],
  state: CardState,
  card: { id: number; technicianId: number; boatName: string },
  who: Who,
  now: Date,
): Promise<void> {
  const first = who.name;
  const desk = (text: string) =>
    tellRoles(tx, ['coordinator', 'administrator'], { kind: 'desk', text, jobId: card.id }, who.id, now);
  const person = async (personId: number, text: string) => {
    if (personId !== who.id) await tell(tx, [{ personId, kind: 'card', text, jobId: card.id }], now);
  };
  for (const { act } of fresh) {
    if (act.kind === 'say') {
      const text = `${first}, ${card.boatName}: ${act.text}`;
      if (who.role === 'technician') await desk(text);
      for (const id of new Set([card.technicianId, ...state.helpers])) await person(id, text);
    }
    if (act.kind === 'skip' && act.why !== null)
      await desk(
        `${first} leaves out "${steps.find((s) => s.id === act.step)?.text ?? act.step}" on ${card.boatName}: ${act.why}`,
      );
    if (act.kind === 'join' && act.on)
      await person(act.personId, `${first} wants you on ${card.boatName}’s card: you write on it too.`);
  }
}
