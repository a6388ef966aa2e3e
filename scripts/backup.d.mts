/** What TypeScript callers (tests) need of the backup script. */
export interface Whole {
  tables: number;
  rows: number;
}
export const LEFT_OUT: string[];
export function backup(url: string, file: string): Promise<Whole>;
export function restore(url: string, file: string): Promise<Whole>;
