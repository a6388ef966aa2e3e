export interface Session {
  csrfToken: string;
}

/** A person at the public door of the app: the same requests a browser sends. */
export class Visitor {
  readonly #address: string;
  /** By name, as a browser keeps them. */
  readonly #cookies = new Map<string, string>();
  #token = '';

  constructor(address: string) {
    this.#address = address;
  }

  async send<T>(method: string, path: string, body?: unknown): Promise<T> {
    const csv = typeof body === 'string';
    const reply = await fetch(`${this.#address}/api${path}`, {
      method,
      headers: {
        cookie: [...this.#cookies].map((c) => c.join('=')).join('; '),
        ...(this.#token && { 'x-diurna-token': this.#token }),
        ...(body !== undefined && { 'content-type': csv ? 'text/csv; charset=utf-8' : 'application/json' }),
      },
      ...(body !== undefined && { body: csv ? body : JSON.stringify(body) }),
    });
    for (const cookie of reply.headers.getSetCookie()) {
      const [, name, value] = /^([^=]+)=([^;]*)/.exec(cookie)!;
      this.#cookies.set(name!, value!);
    }
    if (!reply.ok) throw new Error(`${method} ${path}: ${await reply.text()}`);
    return (await reply.json()) as T;
  }

  async signIn(username: string, password: string): Promise<void> {
    this.#token = (await this.send<Session>('POST', '/session', { username, password })).csrfToken;
  }

  take(session: Session): void {
    this.#token = session.csrfToken;
  }
}
