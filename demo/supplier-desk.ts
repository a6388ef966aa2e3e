import { createServer, type IncomingMessage } from 'node:http';
import type { AddressInfo } from 'node:net';
import { supplierOrder, type SupplierAnswer, type SupplierOrder } from '@diurna/contract/supplier-service';
import { addDays } from '@diurna/core/calendar';

const MOST_BYTES = 1_000_000;
/** From the order to the shelf, where nothing is amiss. */
const USUAL_DAYS = 4;

/** What is amiss with a line goes by its number, so that each case can be tried. */
function answerTo(
  { part, packs, packQuantity }: SupplierOrder['lines'][number],
  ordered: string,
): SupplierAnswer['lines'][number] {
  const line = { part, packs, packQuantity, day: addDays(ordered, USUAL_DAYS), instead: null, note: null };
  if (part.startsWith('SEP-')) return { ...line, day: addDays(ordered, USUAL_DAYS + 5), note: 'on its way to us' };
  if (part.startsWith('PL-') && packs > 1) return { ...line, packs: packs - 1, note: 'the last we have' };
  if (part === 'LU-F1') return { ...line, instead: 'LU-F2', note: 'the maker’s new number' };
  if (part.startsWith('PK-T')) return { ...line, packs: 0, day: null, note: 'not made any more' };
  return line;
}

async function bodyOf(request: IncomingMessage): Promise<unknown> {
  const chunks: Buffer[] = [];
  let size = 0;
  for await (const chunk of request as AsyncIterable<Buffer>) {
    size += chunk.length;
    if (size > MOST_BYTES) throw new Error('too large');
    chunks.push(chunk);
  }
  return JSON.parse(Buffer.concat(chunks).toString('utf8'));
}

/**
 * A stand-in for a supplier's service: takes orders, says at the first look that they are taken, and answers each line
 * at
 * the second: as ordered, later, short, by another number, or not at all. An order that comes again is the same order.
 *
 * @param port 0 = any free one
 * @throws when the port is taken
 */
export async function startSupplierDesk(port: number): Promise<{ url: string; stop: () => Promise<void> }> {
  const orders = new Map<string, { order: SupplierOrder; looked: boolean }>();
  const say = (reference: string): SupplierAnswer | null => {
    const known = orders.get(reference);
    if (!known) return null;
    const head = { format: 'diurna-supplier-answer', version: 1, reference } as const;
    if (!known.looked) {
      known.looked = true;
      return { ...head, state: 'taken', lines: [] };
    }
    return { ...head, state: 'answered', lines: known.order.lines.map((l) => answerTo(l, known.order.day)) };
  };
  const server = createServer((request, reply) => {
    const give = (status: number, body: unknown) =>
      reply.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(body));
    if (request.method === 'GET') {
      const answer = say(decodeURIComponent(/^\/orders\/([^/]+)$/.exec(request.url ?? '')?.[1] ?? ''));
      give(answer ? 200 : 404, answer ?? { detail: 'There is no such order.' });
      return;
    }
    if (request.method !== 'POST' || request.url !== '/orders') {
      give(404, { detail: 'Orders are posted to /orders.' });
      return;
    }
    bodyOf(request).then(
      (body) => {
        const read = supplierOrder.safeParse(body);
        if (!read.success) {
          give(422, { detail: 'This is no order of this format.' });
          return;
        }
        const { reference } = read.data;
        if (!orders.has(reference)) orders.set(reference, { order: read.data, looked: false });
        give(200, say(reference));
      },
      () => {
        give(400, { detail: 'This is no JSON.' });
      },
    );
  });
  await new Promise<void>((done, failed) => {
    server.once('error', failed);
    server.listen(port, '127.0.0.1', done);
  });
  return {
    url: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    stop: () =>
      new Promise((done) => {
        server.close(() => {
          done();
        });
        server.closeAllConnections();
      }),
  };
}
