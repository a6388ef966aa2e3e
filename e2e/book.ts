/** A book of one's own: the demo fleet as it was filled, or an empty one, served at an address of its own. */
export interface TestBook {
  name: string;
  address: string;
  databaseUrl: string;
  /** The instant the book's clock showed when it was opened. */
  now: string;
}

async function ask<T>(what: 'open' | 'close' | 'pass', body: object): Promise<T> {
  const reply = await fetch(`${process.env.DIURNA_E2E_KEEPER!}/${what}`, {
    method: 'POST',
    body: JSON.stringify(body),
  });
  if (!reply.ok) throw new Error(await reply.text());
  return (await reply.json()) as T;
}

/** Opens a book for this test file; what it writes nobody else sees. */
export const openBook = (how: { empty?: boolean; boxes?: boolean; database?: string } = {}): Promise<TestBook> =>
  ask('open', how);
/** Moves a book's clock on; a page hears of it with the next answer. */
export const passTime = (book: TestBook, minutes: number): Promise<unknown> =>
  ask('pass', { name: book.name, minutes });
export const closeBook = (book: TestBook): Promise<unknown> => ask('close', { name: book.name });
