import { DEMO_ACCOUNTS } from '@diurna/demo/fill';
import { spawn, type ChildProcess } from 'node:child_process';
import { chmodSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { PATIENCE_MS, START_MS } from '../../e2e/patience.ts';
import { Visitor } from '../visitor.ts';

const root = join(import.meta.dirname, '../..');

/** The demo book as a person starts it, in a folder of its own: what is attacked. */
export class Target {
  readonly folder: string;
  readonly #child: ChildProcess;
  address = '';
  said = '';

  private constructor(folder: string, child: ChildProcess) {
    this.folder = folder;
    this.#child = child;
  }

  /** @throws with what it said when it ends instead of opening, or takes longer than anybody waits for it */
  static async open(
    args: string[],
    {
      demo = true,
      env = {},
      folder = mkdtempSync(join(tmpdir(), 'diurna-attack-')),
    }: { demo?: boolean; env?: Record<string, string>; folder?: string } = {},
  ): Promise<Target> {
    chmodSync(folder, 0o755);
    const child = spawn(process.execPath, [join(root, 'scripts/start.mjs'), ...args], {
      env: {
        ...process.env,
        DATABASE_URL: '',
        DIURNA_DATA: folder,
        DIURNA_PORT: '0',
        DIURNA_DEMO: demo ? '1' : '0',
        DIURNA_LOG: 'error',
        NODE_OPTIONS: '',
        ...env,
      },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    const target = new Target(folder, child);
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (chunk: Buffer) => {
        target.said += chunk.toString();
      });
    const began = performance.now();
    for (;;) {
      const ready = /ready at (http:\/\/[\d.:]+)/.exec(target.said);
      if (ready) return Object.assign(target, { address: ready[1]! });
      const ended = child.exitCode ?? child.signalCode;
      if (ended !== null || performance.now() - began > START_MS) {
        await target.close();
        throw new Error(`it did not start (${ended ?? 'it has not ended either'}): ${target.said}`);
      }
      await new Promise((r) => setTimeout(r, 100));
    }
  }

  /** What the start said of itself, without the log. */
  plainly(): string {
    return this.said
      .split('\n')
      .filter((line) => !line.startsWith('{'))
      .slice(-30)
      .join('\n');
  }

  /** Processes of the app now: those that answer and those that work. */
  appIds(): number[] {
    const pid = this.#child.pid!;
    return readFileSync(`/proc/${pid}/task/${pid}/children`, 'utf8')
      .trim()
      .split(' ')
      .map(Number)
      .filter((id) => {
        try {
          return readFileSync(`/proc/${id}/cmdline`, 'utf8').includes('app.mjs');
        } catch {
          return false;
        }
      });
  }

  databaseId(): number {
    return Number(readFileSync(join(this.folder, 'postgres/postmaster.pid'), 'utf8').split('\n')[0]);
  }

  /** A connection of one's own, to see what is there. */
  async database(): Promise<pg.Client> {
    const port = readFileSync(join(this.folder, 'postgres/postmaster.pid'), 'utf8').split('\n')[3];
    const password = readFileSync(join(this.folder, 'database-password'), 'utf8').trim();
    const client = new pg.Client({
      host: '127.0.0.1',
      port: Number(port),
      user: 'diurna',
      database: 'diurna',
      password,
    });
    client.on('error', () => undefined);
    await client.connect();
    return client;
  }

  /** Somebody of the demo, signed in. */
  enter(role: string, visitor = new Visitor(this.address)): Promise<Visitor> {
    const { username, password } = DEMO_ACCOUNTS.find((a) => a.role === role)!;
    return visitor.enter('POST', '/session', { username, password });
  }

  /** Waits until it answers that it is ready. @returns how long that took (ms) */
  async ready(): Promise<number> {
    const began = performance.now();
    for (;;) {
      const reply = await fetch(`${this.address}/api/health`, {
        headers: { connection: 'close' },
        signal: AbortSignal.timeout(2_000),
      }).catch(() => null);
      if (reply?.status === 200) return performance.now() - began;
      if (performance.now() - began > PATIENCE_MS) throw new Error(`it did not come back: ${this.plainly()}`);
      await new Promise((r) => setTimeout(r, 50));
    }
  }

  /** @param keep leaves its book for another to open */
  async close(keep = false): Promise<void> {
    if (this.#child.exitCode === null && this.#child.signalCode === null) {
      const gone = new Promise((resolve) => this.#child.once('exit', resolve));
      this.#child.kill('SIGTERM');
      await gone;
    }
    if (!keep) rmSync(this.folder, { recursive: true, force: true });
  }
}
