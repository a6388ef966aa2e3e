import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { addDays, dayInZone, type Clock, type Day } from '@diurna/core/calendar';
import { deskCalendar } from './hires.ts';
import { DEMO_ZONE, scenario } from './scenario.ts';

/**
 * A stand-in for a booking desk elsewhere: serves the calendar of one base, as a service on the internet would.
 * What is booked hangs on the day the book was filled; as days go by bookings come in, and none is changed.
 *
 * @param port 0 = any free one
 * @throws when the port is taken
 */
export async function startBookingDesk(
  port: number,
  clock: Clock,
  filledOn: Day,
): Promise<{ url: string; stop: () => Promise<void> }> {
  const server = createServer((request, reply) => {
    if (request.url !== '/larkspur.ics') {
      reply.writeHead(404).end();
      return;
    }
    const today = dayInZone(clock(), DEMO_ZONE);
    reply.writeHead(200, { 'content-type': 'text/calendar; charset=utf-8' }).end(
      deskCalendar(
        scenario(filledOn, today).desk.filter((h) => h.back > addDays(today, -30)),
        DEMO_ZONE,
        filledOn,
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
