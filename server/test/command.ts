import { expect } from '@jest/globals';
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';

/** Runs a command that plans a problem, with the problem on its standard input. It gives up long before an hour. */
export const commandOf =
  (name: 'plan' | 'order') =>
  (input: string, ...args: string[]) =>
    spawnSync(process.execPath, [join(import.meta.dirname, `../../scripts/${name}.mjs`), '-', ...args], {
      input,
      encoding: 'utf8',
      env: { ...process.env, NODE_OPTIONS: '' },
      timeout: 280_000,
    });

/** Nothing but the place of what is wrong is said, and the status tells that it is the problem's fault. */
export function expectRefused(ran: ReturnType<ReturnType<typeof commandOf>>, place: string): void {
  expect({ status: ran.status, stdout: ran.stdout }).toEqual({ status: 2, stdout: '' });
  expect(ran.stderr).toContain(place);
}
