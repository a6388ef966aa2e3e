// @ts-check
/** An error for the person at the keyboard: one clear sentence, no stack. */
export class Trouble extends Error {}
