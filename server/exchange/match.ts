import { COLUMNS, type FileKind } from '@diurna/contract/exchange';
import { and, eq, isNull } from 'drizzle-orm';
import { tables, type Db, type Tx } from '../db/index.ts';

const { fileMatch } = tables;

/** Which column of a file is which of the book's, out of "part=Article+no.&price=Net". */
export const matchOf = (text: string): Record<string, string> =>
  Object.fromEntries([...new URLSearchParams(text)].filter(([, theirs]) => theirs.trim() !== ''));

const ofFile = (kind: FileKind, supplierId: number | undefined) =>
  and(
    eq(fileMatch.kind, kind),
    supplierId === undefined ? isNull(fileMatch.supplierId) : eq(fileMatch.supplierId, supplierId),
  );

/** What was found of the last file of this kind, of this supplier where it is one's. */
export async function rememberedMatch(
  tx: Db | Tx,
  kind: FileKind,
  supplierId: number | undefined,
): Promise<Record<string, string>> {
  const [found] = await tx.select().from(fileMatch).where(ofFile(kind, supplierId));
  return found?.columns ?? {};
}

/** Remembers it for the next one; a file that goes by the book's own names needs nothing to be remembered. */
export async function rememberMatch(
  tx: Tx,
  kind: FileKind,
  supplierId: number | undefined,
  match: Record<string, string>,
): Promise<void> {
  const known = [...COLUMNS[kind].required, ...COLUMNS[kind].optional];
  const columns = Object.fromEntries(Object.entries(match).filter(([column]) => known.includes(column)));
  if (Object.keys(columns).length === 0) return;
  // Files are read in one at a time: nobody writes between.
  await tx.delete(fileMatch).where(ofFile(kind, supplierId));
  await tx.insert(fileMatch).values({ kind, supplierId: supplierId ?? null, columns });
}
