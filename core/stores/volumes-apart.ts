/** Two figures of one filling that differ by more than this are not the same filling. Common practice, no source. */
const APART = 0.05;

/** Whether two figures of the same filling, in mL, disagree: 7.1 US qt is 6.72 L, and no 9 L. */
export const volumesApart = (a: number, b: number): boolean => Math.abs(a - b) > APART * Math.max(a, b);
