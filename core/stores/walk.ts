const order = new Intl.Collator('en', { numeric: true });

/** In the order one walks along the shelves: A2 before A10, what has no place last, then by number. */
export const byPlace = (
  a: { place: string | null; number: string },
  b: { place: string | null; number: string },
): number =>
  Number(a.place === null) - Number(b.place === null) ||
  order.compare(a.place ?? '', b.place ?? '') ||
  order.compare(a.number, b.number);
