/** What a shelf was said to hold, and what was found. */
export interface CountDoubt {
  /** Found less said. */
  off: number;
  /** So much that it wants a second count. */
  large: boolean;
}

/** A difference of more than this share, or of more than so many pieces or mL. Common practice, no source. */
const LARGE_SHARE = 0.2;
const SMALL: Record<'each' | 'mL', number> = { each: 2, mL: 500 };

/**
 * Whether a count is so far from the ledger that one counts again: a slip of the pen is likelier than a fifth of a
 * shelf
 * that walked off.
 */
export function countDoubt(found: number, said: number, unit: 'each' | 'mL'): CountDoubt {
  const off = Math.round((found - said) * 100) / 100;
  return { off, large: Math.abs(off) > SMALL[unit] && Math.abs(off) > LARGE_SHARE * Math.max(found, said) };
}
