import { rmSync } from 'node:fs';

export default async function teardown() {
  const { cluster, folder } = globalThis.__diurnaCluster;
  await cluster.stop();
  rmSync(folder, { recursive: true, force: true });
}
