import { dayInZone } from '@diurna/core/calendar';
import { PART_LINK_KINDS } from '@diurna/core/stores';
import { asc, eq } from 'drizzle-orm';
import { alias } from 'drizzle-orm/pg-core';
import { tables, type Db, type Tx } from '../db/index.ts';
import { linksOf, linkFault, writeLinks, type LinkRow } from '../stores/index.ts';
import { csvText, inTurn, low, type Line } from './csv.ts';

const { base, part, partLink, person } = tables;

/**
 * Reads which numbers stand for which: superseded by, or equivalent to. What no line speaks of stays. Who says so is
 * whoever reads it in where the file does not tell; approved is what the file says yes to.
 */
export async function analyseLinks(tx: Tx, lines: Line[], personId: number, now: Date): Promise<() => Promise<void>> {
  const parts = new Map((await tx.select().from(part)).map((p) => [low(p.number), p]));
  const [reader] = await tx
    .select({ name: person.name, zone: base.timeZone })
    .from(person)
    .leftJoin(base, eq(base.id, person.baseId))
    .where(eq(person.id, personId));
  const today = dayInZone(now, reader?.zone ?? 'UTC');
  const links: LinkRow[] = await linksOf(tx);
  const changed = new Set<number>();
  const seen = new Map<string, number>();
  for await (const line of inTurn(lines)) {
    const [own, other] = (['part', 'other'] as const).map((column) => {
      const number = line.required(column);
      const found = parts.get(low(number));
      if (!found && number !== '')
        line.fault(column, `no part "${number}" on the shelf list; read the parts file first`);
      return found;
    });
    const kind = line.choice('link', PART_LINK_KINDS);
    if (line.text('link') === null) line.fault('link', `is empty; write one of: ${PART_LINK_KINDS.join(', ')}`);
    const evidence = line.required('evidence');
    if (evidence !== '' && evidence.length < 3) line.fault('evidence', 'says too little: where is it written?');
    const saidBy = line.text('said_by');
    if (saidBy !== null && (saidBy.length < 2 || saidBy.length > 80))
      line.fault('said_by', 'has to be a name of 2 to 80 characters');
    const yes = line.choice('approved', ['yes', 'no'] as const);
    if (!own || !other || kind === null) continue;
    const earlier = seen.get(`${own.id} ${other.id}`);
    if (earlier !== undefined) line.fault('other', `line ${earlier} links these two already`);
    seen.set(`${own.id} ${other.id}`, line.line);
    const before = links.findIndex((l) => l.partId === own.id && l.otherId === other.id);
    const stands = links[before];
    const link: LinkRow = {
      partId: own.id,
      otherId: other.id,
      kind,
      evidence,
      saidBy: saidBy ?? stands?.saidBy ?? reader!.name,
      approved: yes === null ? (stands?.approved ?? false) : yes === 'yes',
      day: stands?.day ?? today,
    };
    const rest = links.filter((_, i) => i !== before);
    const fault = linkFault(link, rest);
    if (fault) line.fault('other', fault);
    if (stands && JSON.stringify({ ...link }) === JSON.stringify({ ...link, ...stands })) continue;
    line.does = stands ? 'change' : 'add';
    links.splice(0, links.length, ...rest, link);
    changed.add(own.id);
  }
  return async () => {
    for (const id of changed)
      await writeLinks(
        tx,
        id,
        links.filter((l) => l.partId === id).map(({ partId: _, ...l }) => l),
      );
  };
}

/** Which numbers stand for which, with who says so. */
export async function* linksFile(db: Db): AsyncGenerator<string> {
  yield csvText([['part', 'other', 'link', 'evidence', 'said_by', 'approved']]);
  const other = alias(part, 'other');
  const rows = await db
    .select({ l: partLink, number: part.number, other: other.number })
    .from(partLink)
    .innerJoin(part, eq(part.id, partLink.partId))
    .innerJoin(other, eq(other.id, partLink.otherId))
    .orderBy(asc(part.number), asc(other.number));
  yield csvText(rows.map(({ l, ...r }) => [r.number, r.other, l.kind, l.evidence, l.saidBy, l.approved]));
}
