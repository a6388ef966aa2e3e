import { expose, type Endpoint } from 'comlink';
import { ordering, type OrderWork } from '../ordering/run.ts';
import { boardApi } from '../planner/board.ts';
import { searching, type ToSearch } from '../planner/search.ts';

/** One end of a line between a page and its thread: what is sent arrives at the other as a copy, a moment later. */
class End implements Endpoint {
  other!: End;
  private readonly hearing = new Set<EventListenerOrEventListenerObject>();
  addEventListener(kind: string, hear: EventListenerOrEventListenerObject): void {
    if (kind === 'message') this.hearing.add(hear);
  }
  removeEventListener(_kind: string, hear: EventListenerOrEventListenerObject): void {
    this.hearing.delete(hear);
  }
  postMessage(data: unknown): void {
    const copy: unknown = structuredClone(data);
    setTimeout(() => {
      const event = new MessageEvent('message', { data: copy });
      for (const hear of this.other.hearing) if (typeof hear === 'function') hear(event);
    });
  }
}

/** How long a search of these pages looks; a browser's is given seconds. */
const SECONDS = 0.15;

/** The threads of plan and orders, run beside the page: they are the real ones; of a plan nothing is proved. */
class PlanWorker extends End {
  private readonly inside = new End();
  constructor(url: URL) {
    super();
    this.other = this.inside;
    this.inside.other = this;
    if (url.pathname.endsWith('/board.worker.ts')) expose(boardApi(), this.inside);
    if (url.pathname.endsWith('/order.worker.ts'))
      this.inside.addEventListener('message', (event) => {
        const { data } = event as MessageEvent<OrderWork>;
        ordering({ ...data, seconds: SECONDS }, (news) => {
          this.inside.postMessage(news);
        });
      });
    if (url.pathname.endsWith('/search.worker.ts')) {
      const hear = searching((m) => {
        this.inside.postMessage(m);
      });
      this.inside.addEventListener('message', (event) => {
        const { data } = event as MessageEvent<ToSearch>;
        hear(data.say === 'plan' ? { ...data, seconds: SECONDS } : data);
      });
    }
  }
  terminate(): void {
    this.inside.other = new End();
  }
}

/** Pages that plan find their threads. */
export const planWorkers = (): void => {
  globalThis.Worker = PlanWorker as unknown as typeof Worker;
};
