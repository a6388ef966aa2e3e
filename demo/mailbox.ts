import { mkdirSync, readdirSync, renameSync, writeFileSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { SMTPServer, type SMTPServerDataStream } from 'smtp-server';

const MOST_BYTES = 1_000_000;
/** Who lives here is told apart by the first part of the address, so that what goes wrong can be tried too. */
const NOBODY = /^nobody@/i;
const LATER = /^later@/i;

/**
 * A stand-in for a mail server elsewhere: takes what the book sends and lays it into a folder, one file a mail as it
 * came (RFC 5322, `.eml`). For `nobody@` it says for good that there is none (550), for `later@` that it is to be tried
 * later (450).
 *
 * @param port 0 = any free one
 * @throws when the port is taken
 */
export async function startMailbox(port: number, folder: string): Promise<{ url: string; stop: () => Promise<void> }> {
  mkdirSync(folder, { recursive: true });
  let last = Math.max(0, ...readdirSync(folder).map((name) => Number(/^(\d+)\.eml$/.exec(name)?.[1] ?? 0)));
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS'],
    logger: false,
    size: MOST_BYTES,
    onRcptTo({ address }, _session, answer) {
      if (NOBODY.test(address)) answer(refusal(550, 'There is nobody of this name here'));
      else if (LATER.test(address)) answer(refusal(450, 'The box is in use, try later'));
      else answer();
    },
    onData(stream, _session, answer) {
      read(stream).then(
        (bytes) => {
          const name = `${String(++last).padStart(5, '0')}.eml`;
          // Whoever looks finds it whole.
          writeFileSync(join(folder, `${name}.part`), bytes);
          renameSync(join(folder, `${name}.part`), join(folder, name));
          answer();
        },
        (error: unknown) => {
          answer(error as Error);
        },
      );
    },
  });
  server.on('error', () => undefined);
  const listening = await new Promise<AddressInfo>((done, failed) => {
    const at = server.listen(port, '127.0.0.1', () => {
      done(at.address() as AddressInfo);
    });
    at.once('error', failed);
  });
  return {
    url: `smtp://127.0.0.1:${listening.port}`,
    stop: () =>
      new Promise((done) => {
        server.close(() => {
          done();
        });
      }),
  };
}

const refusal = (responseCode: number, text: string) => Object.assign(new Error(text), { responseCode });

async function read(stream: SMTPServerDataStream): Promise<Buffer> {
  const pieces: Buffer[] = [];
  for await (const piece of stream) pieces.push(piece as Buffer);
  return Buffer.concat(pieces);
}
