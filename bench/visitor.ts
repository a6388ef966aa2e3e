import { Agent, request } from 'node:http';
import { gunzipSync } from 'node:zlib';

export interface Answer {
  ok: boolean;
  status: number;
  text: () => string;
}

/** A signed-in user of the load test. */
export class Visitor {
  readonly #address: string;
  #cookie = '';
  #token = '';
  readonly #agent = new Agent({ keepAlive: true });

  constructor(address: string) {
    this.#address = address;
  }

  send(method: string, path: string, body?: unknown, more: Record<string, string> = {}): Promise<Answer> {
    return body === undefined
      ? this.file(method, path, null, null, more)
      : this.file(method, path, 'application/json', JSON.stringify(body), more);
  }

  /** Plain node:http with a kept connection: on two cores a heavier client would be measured with the server. */
  file(
    method: string,
    path: string,
    type: string | null,
    sent: string | Buffer | null,
    more: Record<string, string> = {},
  ): Promise<Answer> {
    return new Promise((resolve, reject) => {
      const asked = request(
        `${this.#address}/api${path}`,
        {
          method: method.toUpperCase(),
          agent: this.#agent,
          headers: {
            cookie: this.#cookie,
            'x-diurna-token': this.#token,
            'accept-encoding': 'gzip',
            ...more,
            ...(type !== null && sent !== null && { 'content-type': type, 'content-length': Buffer.byteLength(sent) }),
          },
        },
        (reply) => {
          const cookie = reply.headers['set-cookie']?.find((c) => c.startsWith('diurna='));
          if (cookie) this.#cookie = cookie.split(';')[0] ?? '';
          const chunks: Buffer[] = [];
          reply.on('data', (chunk: Buffer) => {
            chunks.push(chunk);
          });
          reply.once('end', () => {
            const whole = Buffer.concat(chunks);
            resolve({
              ok: reply.statusCode! < 400,
              status: reply.statusCode!,
              text: () => (reply.headers['content-encoding'] === 'gzip' ? gunzipSync(whole) : whole).toString(),
            });
          });
          reply.once('error', reject);
        },
      );
      asked.once('error', reject);
      asked.end(sent ?? undefined);
    });
  }

  async json<T>(method: string, path: string, body?: unknown): Promise<T> {
    const reply = await this.send(method, path, body);
    if (!reply.ok) throw new Error(reply.text());
    return JSON.parse(reply.text()) as T;
  }

  async enter(method: 'POST', path: string, body: unknown): Promise<this> {
    this.#token = (await this.json<{ csrfToken: string }>(method, path, body)).csrfToken;
    return this;
  }

  get cookie(): { name: string; value: string } {
    const [name = '', value = ''] = this.#cookie.split('=');
    return { name, value: decodeURIComponent(value) };
  }
}

/** Requests of each user that are not counted: the server warms up. */
const WARM_UP = 4;

/** Every user does `rounds` requests one after the other, all users at once; milliseconds of each. */
export async function together(
  users: Visitor[],
  rounds: number,
  act: (user: Visitor, n: number, round: number) => Promise<Answer>,
): Promise<number[]> {
  const times: number[] = [];
  await Promise.all(
    users.map(async (user, n) => {
      for (let round = -WARM_UP; round < rounds; round++) {
        const began = performance.now();
        const reply = await act(user, n, round + WARM_UP);
        if (round >= 0) times.push(performance.now() - began);
        if (!reply.ok) throw new Error(`${reply.status} ${reply.text().slice(0, 400)}`);
      }
    }),
  );
  return times;
}

/** The administrator of a book that measures are taken on. */
export const MEASURER = { username: 'admin', password: 'measure-measure' };

/** Begins an empty book for measures. */
export async function beginBook(address: string): Promise<void> {
  await new Visitor(address).enter('POST', '/first-run', {
    company: 'Bench Boats',
    currency: 'EUR',
    baseName: 'Base 1',
    timeZone: 'Atlantic/Madeira',
    hemisphere: 'north',
    name: 'Admin',
    ...MEASURER,
  });
}
