import { accessSync, constants, mkdirSync, rmdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

/** Where Linux keeps how much of the processors a group of processes may use (cgroup v1, "CFS bandwidth control"). */
const GROUPS = '/sys/fs/cgroup/cpu';
const PERIOD_MICROSECONDS = 10_000;

/** Whether processes can be held to a share of a processor here: a root user's matter. */
export function canHold(): boolean {
  try {
    accessSync(join(GROUPS, 'cpu.cfs_quota_us'), constants.W_OK);
    return true;
  } catch {
    return false;
  }
}

/**
 * Holds each of the processes, with its threads, to a share of one processor.
 *
 * @param share above 0; 1 = a whole processor
 * @param ids process ids, all of them own ones
 * @returns takes the groups away again, once the processes have ended
 */
export function holdTo(share: number, ids: readonly number[]): () => void {
  const groups = ids.map((id) => {
    const group = join(GROUPS, `diurna-bench-${id}`);
    mkdirSync(group);
    writeFileSync(join(group, 'cpu.cfs_period_us'), String(PERIOD_MICROSECONDS));
    writeFileSync(join(group, 'cpu.cfs_quota_us'), String(Math.round(PERIOD_MICROSECONDS * share)));
    writeFileSync(join(group, 'cgroup.procs'), String(id));
    return group;
  });
  return () => {
    for (const group of groups) rmdirSync(group);
  };
}
