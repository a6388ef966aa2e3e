/** What TypeScript callers (bench, tests) need of the cluster script. */
export function startCluster(
  folder: string,
  options?: { fast?: boolean },
): Promise<{ url: string; stop: () => Promise<void> }>;
export function freePort(): Promise<number>;
