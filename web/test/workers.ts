import { expose } from 'comlink';
import { boardApi } from '../planner/board.ts';
import { searching, type ToSearch } from '../planner/search.ts';

type Hear = (event: MessageEvent) => void;

/** One end of a line between a page and its thread: what is sent arrives at the other as a copy, a moment later. */
class End {
  other!: End;
  private readonly hearing = new Set<Hear>();
  addEventListener(kind: string, hear: Hear): void {
    if (kind === 'message') this.hearing.add(hear);
  }
  removeEventListener(_kind: string, hear: Hear): void {
    this.hearing.delete(hear);
  }
  postMessage(data: unknown): void {
    const copy: unknown = structuredClone(data);
    setTimeout(() => {
      for (const hear of this.other.hearing) hear({ data: copy } as MessageEvent);
    });
  }
}

/** How long a search of these pages looks; a browser's is given seconds. */
const SECONDS = 0.15;

/** The plan's threads, run beside the page: the board and the search are the real ones, nothing is proved. */
class PlanWorker extends End {
  private readonly inside = new End();
  constructor(url: URL) {
    super();
    this.other = this.inside;
    this.inside.other = this;
    if (url.pathname.endsWith('/board.worker.ts')) expose(boardApi(), this.inside);
    if (url.pathname.endsWith('/search.worker.ts')) {
      const hear = searching((m) => {
        this.inside.postMessage(m);
      });
      this.inside.addEventListener('message', ({ data }: MessageEvent<ToSearch>) => {
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
