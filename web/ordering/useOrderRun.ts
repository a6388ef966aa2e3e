import type { OrderProblem } from '@diurna/core/ordering';
import { useEffect, useState } from 'react';
import type { OrderNews, OrderWork } from './run.ts';

/** A yard's orders are as good as known by then. */
const SECONDS = 4;
const SILENCE: OrderNews = { plan: null, share: 0, over: false };

/** The orders of a problem, worked out in a thread of their own. @param problem null = none yet */
export function useOrderRun(problem: OrderProblem | null): OrderNews & { broken: boolean } {
  const [heard, hear] = useState<{ of: OrderProblem | null; news: OrderNews; broken: boolean }>({
    of: null,
    news: SILENCE,
    broken: false,
  });
  useEffect(() => {
    if (problem === null) return;
    const thread = new Worker(new URL('./order.worker.ts', import.meta.url), { type: 'module' });
    thread.addEventListener('message', ({ data }: MessageEvent<OrderNews>) => {
      hear({ of: problem, news: data, broken: false });
    });
    thread.addEventListener('error', () => {
      hear((was) => ({
        of: problem,
        news: { ...(was.of === problem ? was.news : SILENCE), over: true },
        broken: true,
      }));
    });
    thread.postMessage({ problem, seconds: SECONDS } satisfies OrderWork);
    return () => {
      thread.terminate();
    };
  }, [problem]);
  // What was worked out for another base is not shown for this one.
  return heard.of === problem ? { ...heard.news, broken: heard.broken } : { ...SILENCE, broken: false };
}
