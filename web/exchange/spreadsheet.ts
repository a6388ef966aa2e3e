import Papa from 'papaparse';
import type { CellValue } from 'read-excel-file/browser';

/** Columns that hold figures; part numbers and serials are words, or a spreadsheet takes the noughts before them. */
const FIGURES = new Set([
  ...['price', 'count', 'quantity', 'pack', 'from_packs', 'lead_days', 'carriage', 'free_from', 'least'],
  ...['hours', 'power_hp', 'cylinders', 'sump_volume', 'gear_volume', 'meter_offset'],
]);
const MINUTE_MS = 60_000;
const TYPE = 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet';

/** A spreadsheet (Office Open XML, ISO/IEC 29500), by its name or by what the machine says of it. */
export const isSpreadsheet = (file: File) => file.type === TYPE || file.name.toLowerCase().endsWith('.xlsx');

const two = (n: number) => String(n).padStart(2, '0');
/** A day of a sheet has no zone: as it is written there. With its time where it has one. */
function cellText(cell: CellValue | null): string {
  if (cell === null) return '';
  if (!(cell instanceof Date)) return String(cell);
  // Sheets keep hours as parts of a day: half past nine is a hair short of it.
  const at = new Date(Math.round(cell.getTime() / MINUTE_MS) * MINUTE_MS);
  const day = at.toISOString().slice(0, 10);
  const [h, m] = [at.getUTCHours(), at.getUTCMinutes()];
  return h + m === 0 ? day : `${day} ${two(h)}:${two(m)}`;
}

/**
 * The first sheet of a spreadsheet as CSV text, as the book reads it.
 *
 * @throws Error in words when it is no spreadsheet
 */
export async function csvOfSpreadsheet(file: Blob): Promise<string> {
  const { readSheet } = await import('read-excel-file/browser');
  const rows = await readSheet(file).catch(() => {
    throw new Error('This is no spreadsheet the book can open. Save it as .xlsx or as "CSV UTF-8" and try again.');
  });
  return Papa.unparse(
    rows.map((row) => row.map(cellText)),
    { newline: '\r\n' },
  );
}

/** CSV text of the book as a spreadsheet with one sheet, its first line standing while the rest is scrolled. */
export async function spreadsheetOfCsv(text: string): Promise<Blob> {
  const { default: writeSheet } = await import('write-excel-file/browser');
  const [header = [], ...rows] = Papa.parse<string[]>(text, { skipEmptyLines: 'greedy' }).data;
  const cells = rows.map((row) =>
    header.map((column, i) => {
      const cell = row[i] ?? '';
      if (cell === '') return null;
      return FIGURES.has(column) && Number.isFinite(Number(cell))
        ? { value: Number(cell), type: Number }
        : { value: cell, type: String };
    }),
  );
  const head = header.map((value) => ({ value, type: String, fontWeight: 'bold' as const }));
  const width = (i: number) => Math.min(40, Math.max(...[header, ...rows].map((r) => (r[i] ?? '').length)) + 2);
  return writeSheet([head, ...cells], {
    stickyRowsCount: 1,
    columns: header.map((_, i) => ({ width: width(i) })),
  }).toBlob();
}
