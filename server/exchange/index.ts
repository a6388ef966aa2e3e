import { type Db, transaction, type Tx } from '../db/index.ts';
import type { DayOrder } from '@diurna/core/calendar';
import { plural } from '@diurna/core/units';
import type { FileKind, ImportResult } from '@diurna/contract/exchange';
import { sql } from 'drizzle-orm';
import type { Handlers } from '../http/api.ts';
import { HttpProblem } from '../http/problem.ts';
import type { Think } from '../think.ts';
import { analyseCounts, countsFile } from './counts-file.ts';
import { lacksText, readCsv, type Line } from './csv.ts';
import { analyseFleet, fleetFile } from './fleet-file.ts';
import { analyseHires, hiresFile } from './hires-file.ts';
import { analyseHours, hoursFile } from './hours-file.ts';
import { analyseLinks, linksFile } from './links-file.ts';
import { matchOf, rememberedMatch, rememberMatch } from './match.ts';
import { analyseParts, partsFile } from './parts-file.ts';
import { analysePrices, pricesFile } from './prices-file.ts';
import { analyseService, serviceFile } from './service-file.ts';
import { analyseSuppliers, suppliersFile } from './suppliers-file.ts';

export { csvText, minorCell } from './csv.ts';

/** Who reads a file in, when, and whose file it is where that is a supplier's. */
interface Reader {
  personId: number;
  now: Date;
  supplierId: number | undefined;
}
/** Reads the lines against the book, marks faults, and returns what would write them. */
type Analyse = (tx: Tx, lines: Line[], reader: Reader) => Promise<() => Promise<void>>;

const FILES: Record<FileKind, { analyse: Analyse; write: (db: Db) => AsyncGenerator<string> }> = {
  fleet: { analyse: (tx, lines, { now }) => analyseFleet(tx, lines, now), write: fleetFile },
  hours: { analyse: (tx, lines, { personId, now }) => analyseHours(tx, lines, personId, now), write: hoursFile },
  parts: { analyse: (tx, lines, { personId, now }) => analyseParts(tx, lines, personId, now), write: partsFile },
  links: { analyse: (tx, lines, { personId, now }) => analyseLinks(tx, lines, personId, now), write: linksFile },
  suppliers: { analyse: (tx, lines) => analyseSuppliers(tx, lines), write: suppliersFile },
  prices: { analyse: (tx, lines, { supplierId }) => analysePrices(tx, lines, supplierId), write: pricesFile },
  counts: { analyse: (tx, lines, { personId, now }) => analyseCounts(tx, lines, personId, now), write: countsFile },
  service: { analyse: (tx, lines, { personId, now }) => analyseService(tx, lines, personId, now), write: serviceFile },
  hires: { analyse: (tx, lines) => analyseHires(tx, lines), write: hiresFile },
};

const SHOWN_ROWS = 500;

function result(kind: FileKind, file: ReturnType<typeof readCsv>, written: boolean): ImportResult {
  const counts = { add: 0, change: 0, same: 0, left: 0, faulty: 0 };
  for (const line of file.lines) counts[line.faults.length > 0 ? 'faulty' : line.does]++;
  const shown = [
    ...file.lines.filter((l) => l.faults.length > 0),
    // What is left out stands last: most of a supplier's list is.
    ...file.lines.filter((l) => l.faults.length === 0 && l.does !== 'left'),
    ...file.lines.filter((l) => l.faults.length === 0 && l.does === 'left'),
  ].slice(0, SHOWN_ROWS);
  return {
    kind,
    columns: file.columns,
    header: file.header,
    match: file.match,
    missing: file.missing,
    ignored: file.ignored,
    counts,
    days: file.days,
    written,
    rows: shown.map((l) => ({
      line: l.line,
      cells: l.cells,
      read: l.read,
      was: l.was,
      does: l.faults.length > 0 ? 'faulty' : l.does,
      faults: l.faults,
    })),
  };
}

/** What a file is asked to be read as. */
interface As {
  kind: FileKind;
  text: string;
  days?: DayOrder | undefined;
  supplierId?: number | undefined;
  match?: string | undefined;
}

/** Only a price list is one supplier's. */
const whoseOf = (kind: FileKind, supplierId: number | undefined) => (kind === 'prices' ? supplierId : undefined);

/** Reads a file by what is said of its columns, or else by what was remembered for files like it. */
async function readAs(tx: Tx | Db, { kind, text, days, supplierId, match }: As) {
  const said = match === undefined ? await rememberedMatch(tx, kind, whoseOf(kind, supplierId)) : matchOf(match);
  return readCsv(kind, text, days, said);
}

/** Reads a file against the book without writing anything, and tells what would come of it. */
export async function previewFile(
  db: Db,
  { personId, now, ...as }: As & { personId: number; now: Date },
): Promise<ImportResult> {
  const file = await readAs(db, as);
  const reader = { personId, now, supplierId: as.supplierId };
  await transaction(db, (tx) => FILES[as.kind].analyse(tx, file.lines, reader), true);
  return result(as.kind, file, false);
}

export function exchangeHandlers(think: Think): Handlers<'previewImport' | 'importFile' | 'exportFile'> {
  return {
    previewImport: ({ params, query, body, who, now }) =>
      think('file', { kind: params.kind, text: body, ...query, personId: who.id, now: now.getTime() }),

    importFile: ({ params, query, body, write, who, now }) =>
      write(async (tx, audit) => {
        const file = await readAs(tx, { kind: params.kind, text: body, ...query });
        if (file.missing.length > 0) throw new HttpProblem(422, lacksText(params.kind, file.missing));
        if (file.days?.sure === false)
          throw new HttpProblem(
            422,
            `Nothing in the file tells whether ${file.days.example} has the day or the month first. Nothing was written; say which, or write days like 2026-04-15.`,
          );
        // One file at a time, so that the second of two readers sees what the first wrote.
        await tx.execute(sql`select pg_advisory_xact_lock(4151)`);
        const apply = await FILES[params.kind].analyse(tx, file.lines, {
          personId: who.id,
          now,
          supplierId: query.supplierId,
        });
        const outcome = result(params.kind, file, true);
        if (outcome.counts.faulty > 0) {
          throw new HttpProblem(
            422,
            `${outcome.counts.faulty} of ${plural(file.lines.length, 'row')} cannot be read. Nothing was written; mend the marked cells and try again.`,
            outcome.rows
              .slice(0, 100)
              .flatMap((r) =>
                r.faults.map((f) => ({
                  path: `${r.line}.${f.column}`,
                  text: `line ${r.line}, ${f.column}: ${f.text}`,
                })),
              ),
          );
        }
        await apply();
        // What was remembered already, or needs nothing, is not said anew.
        if (query.match !== undefined)
          await rememberMatch(tx, params.kind, whoseOf(params.kind, query.supplierId), file.match);
        if (outcome.counts.add + outcome.counts.change > 0)
          await audit({ act: 'imported', subject: 'file', title: params.kind, after: outcome.counts });
        return outcome;
      }),

    async exportFile({ db, params, res }) {
      res.type('text/csv; charset=utf-8').attachment(`diurna-${params.kind}.csv`);
      for await (const text of FILES[params.kind].write(db)) {
        if (!res.write(text)) await new Promise((resolve) => res.once('drain', resolve));
      }
      res.end();
      return '';
    },
  };
}
