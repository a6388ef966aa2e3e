import type { JobCard } from '@diurna/contract/jobs';
import type { CardAct } from '@diurna/core/visit';
import type { Clock } from '@diurna/core/calendar';
import { openTwinYard, rawProblem, type Client } from './yard.ts';

/** Tests of cards hand out what they are about, whether the yard could do it or not. */
export const ALL_THE_SAME = 'as this test wants it';

/** Ticks a step, or takes the tick back. */
export const tick = (step: string, done = true): CardAct => ({ kind: 'tick', step, done });
/** A look that was chosen: `3 oil look`, "milky". */
export const look = (key: string, choice: string): CardAct => ({ kind: 'read', key, value: { choice } });

/** Cards of one boat as a test hands them out, finishes them and calls them off, through the coordinator's routes. */
export class Cards {
  readonly #ilse: Client;
  readonly #boatId: number;
  readonly #technicianId: number;
  readonly #day: string;

  constructor(
    ilse: Client,
    { boatId, technicianId, day = '2026-04-15' }: { boatId: number; technicianId: number; day?: string },
  ) {
    this.#ilse = ilse;
    this.#boatId = boatId;
    this.#technicianId = technicianId;
    this.#day = day;
  }

  /** Id of a card with these tasks. */
  readonly hand = async (tasks: readonly [engineId: number, task: string][], more: object = {}): Promise<number> => {
    const { id } = await this.#ilse.post<{ id: number }>('/jobs', {
      boatId: this.#boatId,
      technicianId: this.#technicianId,
      day: this.#day,
      tasks: tasks.map(([engineId, task]) => ({ engineId, task })),
      insist: ALL_THE_SAME,
      ...more,
    });
    return id;
  };

  readonly read = (id: number): Promise<JobCard> => this.#ilse.get<JobCard>(`/jobs/${id}`);

  /** Finishes a card with every task done; the answer, also where it is a problem. */
  readonly finish = async (client: Client, id: number, more: object = {}) => {
    const card = await this.read(id);
    return rawProblem(client, `/jobs/${id}/finish`, {
      version: card.version,
      hours: [],
      remark: null,
      parts: [],
      tasks: card.tasks.map((t) => ({ engineId: t.engineId, task: t.task, done: true })),
      ...more,
    });
  };

  readonly callOff = async (id: number): Promise<void> => {
    await this.#ilse.post(`/jobs/${id}/cancel`, { version: (await this.read(id)).version, reason: 'over' });
  };

  /** The steps of a card, in working order. */
  readonly stepIds = async (id: number): Promise<string[]> => (await this.read(id)).steps.map((s) => s.step.id);
}

/** A book with Turnstone and her twins in it, a coordinator and a technician, and cards of hers. */
export async function openCardYard(clock?: Clock) {
  const own = await openTwinYard(clock);
  return { ...own, cards: new Cards(own.ilse, { boatId: own.boatId, technicianId: own.yard.people.technician }) };
}
