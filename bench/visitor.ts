/** A signed-in user of the load test. */
export class Visitor {
  readonly #address: string;
  #cookie = '';
  #token = '';

  constructor(address: string) {
    this.#address = address;
  }

  async send(method: string, path: string, body?: unknown): Promise<Response> {
    const reply = await fetch(`${this.#address}/api${path}`, {
      method,
      headers: { cookie: this.#cookie, 'x-diurna-token': this.#token, 'content-type': 'application/json' },
      ...(body !== undefined && { body: JSON.stringify(body) }),
    });
    const cookie = reply.headers.get('set-cookie');
    if (cookie) this.#cookie = cookie.split(';')[0] ?? '';
    return reply;
  }

  async enter(method: 'POST', path: string, body: unknown): Promise<this> {
    const reply = await this.send(method, path, body);
    if (!reply.ok) throw new Error(await reply.text());
    this.#token = ((await reply.json()) as { csrfToken: string }).csrfToken;
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
export async function together(users: Visitor[], rounds: number, act: (user: Visitor, n: number, round: number) => Promise<Response>): Promise<number[]> {
  const times: number[] = [];
  await Promise.all(users.map(async (user, n) => {
    for (let round = -WARM_UP; round < rounds; round++) {
      const began = performance.now();
      const reply = await act(user, n, round + WARM_UP);
      const text = await reply.text();
      if (round >= 0) times.push(performance.now() - began);
      if (!reply.ok) throw new Error(`${reply.status} ${text.slice(0, 400)}`);
    }
  }));
  return times;
}
