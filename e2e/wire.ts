import { connect, createServer, type AddressInfo, type Server, type Socket } from 'node:net';

/**
 * A line between a browser and the server that can be cut for real: what the browser only pretends ends at a reload or
 * in a worker.
 */
export class Wire {
  readonly #server: Server;
  readonly #ends = new Set<Socket>();
  #cut = false;

  private constructor(to: URL) {
    this.#server = createServer((from) => {
      if (this.#cut) {
        from.destroy();
        return;
      }
      const on = connect(Number(to.port), to.hostname);
      for (const end of [from, on]) {
        this.#ends.add(end);
        end.on('error', () => {
          from.destroy();
          on.destroy();
        });
        end.on('close', () => {
          this.#ends.delete(end);
          from.destroy();
          on.destroy();
        });
      }
      from.pipe(on).pipe(from);
    });
  }

  static async to(address: string): Promise<Wire> {
    const wire = new Wire(new URL(address));
    await new Promise<void>((done) => {
      wire.#server.listen(0, '127.0.0.1', done);
    });
    return wire;
  }

  get address(): string {
    return `http://127.0.0.1:${(this.#server.address() as AddressInfo).port}`;
  }

  /** Cut, every connection breaks at once and none is made; what the server has heard by then it has heard. */
  cut(is: boolean): void {
    this.#cut = is;
    if (is) for (const end of this.#ends) end.destroy();
  }

  async close(): Promise<void> {
    this.cut(true);
    await new Promise<void>((done) => {
      this.#server.close(() => {
        done();
      });
    });
  }
}
