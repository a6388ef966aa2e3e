import type { Clock } from '@diurna/core/calendar';
import { DEMO_ACCOUNTS } from './fill.ts';
import { Visitor } from './visitor.ts';

/**
 * A stand-in for boxes on boats: two boats of the demo send engine time as such boxes would, one as NMEA 2000,
 * one as Signal K, now and then twice or out of order. Their engines run while the stand-in does, half of the time.
 */
const BOXES = [
  { boat: 'Phalarope', name: 'Phalarope engine box', form: 'n2k' },
  { boat: 'Godwit', name: 'Godwit engine box', form: 'signalk' },
] as const;
const EVERY_MS = 20_000;

interface Boat {
  id: number;
  name: string;
  engines: { position: string; lifeHours: number | null }[];
}
interface Box {
  id: number;
  name: string;
  version: number;
  engines: { hours: number; engineName: string }[];
}

/** One NMEA 2000 message PGN 127489 as a line: engine hours are four bytes of seconds, least first, at byte 11. */
export function n2kEngineHours(at: Date, instance: number, seconds: number): string {
  const bytes = Buffer.alloc(26, 0xff);
  bytes.writeUInt8(instance, 0);
  // Not known: the largest figure of a signed field.
  bytes.writeInt16LE(0x7fff, 7);
  bytes.writeInt16LE(0x7fff, 9);
  bytes.writeUInt32LE(seconds, 11);
  bytes.writeUInt32LE(0, 20);
  bytes.writeInt8(0x7f, 24);
  bytes.writeInt8(0x7f, 25);
  return `${at.toISOString()},2,127489,${instance + 1},255,26,${[...bytes].map((b) => b.toString(16).padStart(2, '0')).join(',')}`;
}

/** A Signal K delta with the run time of one engine. */
export const signalkRunTime = (at: Date, name: string, seconds: number) => ({
  context: 'vessels.self',
  updates: [
    {
      source: { label: 'engine box' },
      timestamp: at.toISOString(),
      values: [{ path: `propulsion.${name}.runTime`, value: seconds }],
    },
  ],
});

/** Starts the boxes against a running demo book; resolves when the first messages are through. */
export async function startEngineGateway(address: string, clock: Clock): Promise<{ stop: () => Promise<void> }> {
  const admin = new Visitor(address);
  const account = DEMO_ACCOUNTS.find((a) => a.role === 'administrator')!;
  await admin.signIn(account.username, account.password);
  const boats = (await admin.send<{ rows: Boat[] }>('GET', '/fleet/boats?size=200')).rows;
  const boxes = await admin.send<Box[]>('GET', '/gateways');
  const senders: (() => Promise<void>)[] = [];
  for (const { boat: boatName, name, form } of BOXES) {
    const boat = boats.find((b) => b.name === boatName);
    if (!boat) continue;
    const known = boxes.find((b) => b.name === name);
    const { key } = known
      ? await admin.send<{ key: string }>('POST', `/gateways/${known.id}/key`, { version: known.version })
      : await admin.send<{ key: string }>('POST', '/gateways', { name, boatId: boat.id, active: true });
    const engines = boat.engines
      .filter((e) => e.lifeHours !== null)
      .map((e, instance) => ({ position: e.position, instance, seconds: Math.round((e.lifeHours ?? 0) * 3600) }));
    let sent: object[] = [];
    let began = clock().getTime();
    senders.push(async () => {
      const now = clock();
      const passed = Math.round((now.getTime() - began) / 1000);
      began = now.getTime();
      const fresh = engines.map((e) => {
        e.seconds += Math.round(passed / 2);
        return form === 'n2k'
          ? { n2k: n2kEngineHours(now, e.instance, e.seconds) }
          : { signalk: signalkRunTime(now, e.position, e.seconds) };
      });
      // Boxes repeat themselves after a gap in the signal.
      const messages = [...sent, ...fresh];
      sent = fresh;
      const reply = await fetch(`${address}/api/gateway/messages`, {
        method: 'POST',
        headers: { 'content-type': 'application/json', authorization: `Bearer ${key}` },
        body: JSON.stringify({ messages }),
      });
      await reply.arrayBuffer();
    });
  }
  await admin.send('DELETE', '/session');
  let running: Promise<unknown> = Promise.resolve();
  const sendAll = () => {
    running = Promise.allSettled(senders.map((s) => s()));
  };
  sendAll();
  await running;
  const timer = setInterval(sendAll, EVERY_MS);
  timer.unref();
  return {
    stop: async () => {
      clearInterval(timer);
      await running;
    },
  };
}
