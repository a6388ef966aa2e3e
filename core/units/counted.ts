/**
 * A number of things in words, `1 task`, `0 tasks`, `3 boxes`.
 *
 * @param many the plural, where it is not the singular with an s
 */
export const plural = (n: number, one: string, many = `${one}s`): string => `${n} ${n === 1 ? one : many}`;
