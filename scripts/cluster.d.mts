/** What TypeScript callers (bench, tests) need of the cluster script. */
export function startCluster(
  folder: string,
  options?: { fast?: boolean },
): Promise<{ url: string; stop: () => Promise<void> }>;
export function freePort(): Promise<number>;
export function dataFolder(root: string): { folder: string; elsewhere: boolean };
export function makeFolder(folder: string): void;
export function needPackages(...what: ('postgres' | 'chromium')[]): void;
export function findPostgres(major?: string): string | null;
