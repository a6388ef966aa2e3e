import { rmSync } from 'node:fs';

export default async function teardown() {
  const { cluster, running, empty, plan, desk, boxes, folder } = globalThis.__diurnaE2e;
  await boxes.stop();
  await desk.stop();
  await running.stop();
  await empty.stop();
  await plan.stop();
  await cluster.stop();
  rmSync(folder, { recursive: true, force: true });
}
