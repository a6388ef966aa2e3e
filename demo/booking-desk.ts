import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { addDays, dayInZone } from '@diurna/core/calendar';
import { deskCalendar } from './hires.ts';
import { DEMO_ZONE, scenario } from './scenario.ts';

/**
 * A stand-in for a booking desk elsewhere: serves the calendar of one base, as a service on the internet would.
 *
 * @param port 0 = any free one
 * @throws when the port is taken
 */
export async function startBookingDesk(port: number): Promise<{ url: string; stop: () => Promise<void> }> {
  const server = createServer((request, reply) => {
    if (request.url !== '/larkspur.ics') {
      reply.writeHead(404).end();
      return;
    }
    const today = dayInZone(new Date(), DEMO_ZONE);
    reply.writeHead(200, { 'content-type': 'text/calendar; charset=utf-8' }).end(
      deskCalendar(
        scenario(today).desk.filter((h) => h.back > addDays(today, -30)),
        DEMO_ZONE,
        today,
      ),
    );
  });
  await new Promise<void>((done, failed) => {
    server.once('error', failed);
    server.listen(port, '127.0.0.1', done);
  });
  return {
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}/larkspur.ics`,
    stop: () =>
      new Promise((done) => {
        server.close(() => {
          done();
        });
        server.closeAllConnections();
      }),
  };
}
