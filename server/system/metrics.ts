import type { RequestHandler } from 'express';
import type { Registry } from 'prom-client';
import { HttpProblem } from '../http/problem.ts';

/** The metrics of all processes that share the port, as Prometheus reads them. */
export type AllMetrics = () => Promise<string>;

const LOOPBACK = new Set(['127.0.0.1', '::1', '::ffff:127.0.0.1']);

/**
 * Answers whoever watches from this machine. What a proxy passed on did not begin here, whatever it says of it.
 * @param all left out where this process is the only one
 */
export function metricsHandler(own: Registry, all: AllMetrics = () => own.metrics()): RequestHandler {
  return async (req, res) => {
    const passedOn = ['x-forwarded-for', 'forwarded', 'via', 'x-real-ip'].some((name) => req.get(name) !== undefined);
    if (passedOn || !LOOPBACK.has(req.socket.remoteAddress ?? ''))
      throw new HttpProblem(404, `There is nothing at ${req.path}.`);
    res
      .set('cache-control', 'no-store')
      .type(own.contentType)
      .send(await all());
  };
}
