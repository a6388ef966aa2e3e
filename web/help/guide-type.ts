import type { Role } from '@diurna/contract';

/** A short guide to a page. */
export interface Guide {
  /** The address it is about, and all under it that has no guide of its own. */
  path: string;
  title: string;
  /** What it is for. */
  about: string;
  /** How it is worked, a line for each thing. */
  how: readonly string[];
  /** Whom it can be opened by; everybody where it is left out. */
  roles?: readonly Role[];
  /** It is opened from another page and has no address of its own. */
  inside?: true;
}
