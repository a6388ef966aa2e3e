import { monitorEventLoopDelay, type IntervalHistogram } from 'node:perf_hooks';

const RESOLUTION_MS = 10;
const SPAN_MS = 60_000;

/** How late a process is at its own work (ms): what everybody waits for besides the work they asked for. */
export interface LoopDelay {
  p50: number;
  p99: number;
  most: number;
}

const inMs = (histogram: IntervalHistogram): LoopDelay => {
  // A clock that ticks every so often is late by what lies beyond the tick.
  const late = (nanoseconds: number) =>
    Number.isFinite(nanoseconds) ? Math.max(0, Math.round((nanoseconds / 1e6 - RESOLUTION_MS) * 10) / 10) : 0;
  return { p50: late(histogram.percentile(50)), p99: late(histogram.percentile(99)), most: late(histogram.max) };
};

/**
 * Watches the event loop of this process until stopped; tells of the minute before the present one, and of this one.
 */
export function watchLoop(): { delay: () => LoopDelay; stop: () => void } {
  const histogram = monitorEventLoopDelay({ resolution: RESOLUTION_MS });
  histogram.enable();
  let before: LoopDelay = { p50: 0, p99: 0, most: 0 };
  const timer = setInterval(() => {
    before = inMs(histogram);
    histogram.reset();
  }, SPAN_MS);
  timer.unref();
  return {
    delay: () => {
      const now = inMs(histogram);
      return {
        p50: Math.max(now.p50, before.p50),
        p99: Math.max(now.p99, before.p99),
        most: Math.max(now.most, before.most),
      };
    },
    stop: () => {
      clearInterval(timer);
      histogram.disable();
    },
  };
}
