import { type Db, transaction, type Tx } from '../db/index.ts';
import type { DayOrder } from '@diurna/core/calendar';
import { plural } from '@diurna/core/units';
import type { FileKind, ImportResult } from '@diurna/contract/exchange';
import { sql } from 'drizzle-orm';
import type { Handlers } from '../http/api.ts';
import { HttpProblem } from '../http/problem.ts';
import type { Think } from '../think.ts';
import { readCsv, type Line } from './csv.ts';
import { analyseFleet, fleetFile } from './fleet-file.ts';
import { analyseHires, hiresFile } from './hires-file.ts';
import { analyseHours, hoursFile } from './hours-file.ts';
import { analyseParts, partsFile } from './parts-file.ts';
import { analyseService, serviceFile } from './service-file.ts';

export { csvText } from './csv.ts';

/** Reads the lines against the book, marks faults, and returns what would write them. */
type Analyse = (tx: Tx, lines: Line[], personId: number, now: Date) => Promise<() => Promise<void>>;

const FILES: Record<FileKind, { analyse: Analyse; write: (db: Db) => AsyncGenerator<string> }> = {
  fleet: { analyse: (tx, lines, _person, now) => analyseFleet(tx, lines, now), write: fleetFile },
  hours: { analyse: analyseHours, write: hoursFile },
  parts: { analyse: analyseParts, write: partsFile },
  service: { analyse: analyseService, write: serviceFile },
  hires: { analyse: analyseHires, write: hiresFile },
};

const SHOWN_ROWS = 500;

function result(kind: FileKind, file: ReturnType<typeof readCsv>, written: boolean): ImportResult {
  const counts = { add: 0, change: 0, same: 0, faulty: 0 };
  for (const line of file.lines) counts[line.faults.length > 0 ? 'faulty' : line.does]++;
  const shown = [
    ...file.lines.filter((l) => l.faults.length > 0),
    ...file.lines.filter((l) => l.faults.length === 0),
  ].slice(0, SHOWN_ROWS);
  return {
    kind,
    columns: file.columns,
    ignored: file.ignored,
    counts,
    days: file.days,
    written,
    rows: shown.map((l) => ({
      line: l.line,
      cells: l.cells,
      read: l.read,
      does: l.faults.length > 0 ? 'faulty' : l.does,
      faults: l.faults,
    })),
  };
}

/** Reads a file against the book without writing anything, and tells what would come of it. */
export async function previewFile(
  db: Db,
  { kind, text, days, personId, now }: { kind: FileKind; text: string; days?: DayOrder; personId: number; now: Date },
): Promise<ImportResult> {
  const file = readCsv(kind, text, days);
  await transaction(db, (tx) => FILES[kind].analyse(tx, file.lines, personId, now), true);
  return result(kind, file, false);
}

export function exchangeHandlers(think: Think): Handlers<'previewImport' | 'importFile' | 'exportFile'> {
  return {
    previewImport: ({ params, query, body, who, now }) =>
      think('file', { kind: params.kind, text: body, ...query, personId: who.id, now: now.getTime() }),

    importFile: ({ params, query, body, write, who, now }) =>
      write(async (tx, audit) => {
        const file = readCsv(params.kind, body, query.days);
        if (file.days?.sure === false)
          throw new HttpProblem(
            422,
            `Nothing in the file tells whether ${file.days.example} has the day or the month first. Nothing was written; say which, or write days like 2026-04-15.`,
          );
        // One file at a time, so that the second of two readers sees what the first wrote.
        await tx.execute(sql`select pg_advisory_xact_lock(4151)`);
        const apply = await FILES[params.kind].analyse(tx, file.lines, who.id, now);
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
