import { isDay, orderOf, timeFieldOf, writtenDay, writtenTime, type DayOrder } from '@diurna/core/calendar';
import { TASKS, TASK_KINDS, type TaskKind } from '@diurna/core/service';
import { COLUMNS, DAY_COLUMNS, type FileKind, type ImportResult } from '@diurna/contract/exchange';
import Papa from 'papaparse';
import { HttpProblem } from '../http/problem.ts';

export type Does = 'add' | 'change' | 'same' | 'left';

/** One line of a file while it is being read; collects the faults of its cells. */
export class Line {
  readonly line: number;
  readonly cells: Record<string, string>;
  readonly faults: { column: string; text: string }[] = [];
  /** Days written another way than ISO 8601 has it, as they were read. */
  readonly read: Record<string, string> = {};
  /** What stands in the book until now, by column. */
  readonly was: Record<string, string> = {};
  does: Does = 'same';
  readonly #order: DayOrder;

  constructor(line: number, cells: Record<string, string>, order: DayOrder) {
    this.line = line;
    this.cells = cells;
    this.#order = order;
  }

  fault(column: string, text: string): void {
    this.faults.push({ column, text });
  }

  text(column: string): string | null {
    const cell = this.cells[column]?.trim() ?? '';
    return cell === '' ? null : cell;
  }

  required(column: string): string {
    const cell = this.text(column);
    if (cell === null) this.fault(column, 'is empty and has to be filled');
    else if (cell.length > 200) this.fault(column, 'is longer than 200 characters');
    return cell ?? '';
  }

  /** A number with a point or a comma as its decimal mark. */
  number(
    column: string,
    limits: { min?: number; max?: number; whole?: boolean; decimals?: number } = {},
  ): number | null {
    const cell = this.text(column);
    if (cell === null) return null;
    const value = /^-?\d+([.,]\d+)?$/.test(cell) ? Number(cell.replace(',', '.')) : Number.NaN;
    if (!Number.isFinite(value)) this.fault(column, `"${short(cell)}" is no number; write figures only, like 412.6`);
    else if (limits.whole && !Number.isInteger(value)) this.fault(column, `${cell} has to be a whole number`);
    else if (limits.min !== undefined && value < limits.min) this.fault(column, `${cell} is below ${limits.min}`);
    else if (limits.max !== undefined && value > limits.max) this.fault(column, `${cell} is above ${limits.max}`);
    else if (
      limits.decimals !== undefined &&
      Math.abs(value * 10 ** limits.decimals - Math.round(value * 10 ** limits.decimals)) > 1e-6
    ) {
      this.fault(column, `${cell} has more than ${limits.decimals} decimal${limits.decimals === 1 ? '' : 's'}`);
    } else return value;
    return null;
  }

  /** Money in its smallest unit. */
  minor(column: string): number | null {
    const value = this.number(column, { min: 0, max: 1_000_000, decimals: 2 });
    return value === null ? null : Math.round(value * 100);
  }

  day(column: string): string | null {
    const cell = this.text(column);
    if (cell === null) return null;
    if (isDay(cell)) return cell;
    const day = writtenDay(cell, this.#order);
    if (day === null) this.fault(column, `"${short(cell)}" is no day${this.#meant(cell)}; write it as 2026-04-15`);
    else this.read[column] = day;
    return day;
  }

  /** A day and the minute of it. */
  time(column: string): { day: string; minute: number } | null {
    const cell = this.text(column);
    if (cell === null) return null;
    const time = writtenTime(cell, this.#order);
    if (time === null)
      this.fault(column, `"${short(cell)}" is no day and time${this.#meant(cell)}; write it as 2026-04-15 09:30`);
    else if (!isDay(cell.slice(0, 10))) this.read[column] = `${time.day} ${timeFieldOf(time.minute)}`;
    return time;
  }

  /** A cell of another order than the rest of its file. */
  #meant(cell: string): string {
    const other = this.#order === 'day-first' ? 'month-first' : 'day-first';
    if (writtenDay(cell, other) === null && writtenTime(cell, other) === null) return '';
    return this.#order === 'day-first' ? ' with the day first' : ' with the month first';
  }

  choice<T extends string>(column: string, choices: readonly T[]): T | null {
    const cell = this.text(column)?.toLowerCase();
    if (cell === undefined) return null;
    const found = choices.find((c) => c.toLowerCase() === cell);
    if (!found) this.fault(column, `"${short(cell)}" is none of: ${choices.join(', ')}`);
    return found ?? null;
  }

  /** A task by its kind ("gear-lube") or its word ("Gear lube"). */
  task(column: string): TaskKind | null {
    const cell = this.text(column)?.toLowerCase();
    if (cell === undefined) return null;
    const found = TASK_KINDS.find((k) => k === cell || TASKS[k].word.toLowerCase() === cell);
    if (!found) this.fault(column, `"${short(cell)}" is none of: ${TASK_KINDS.join(', ')}`);
    return found ?? null;
  }
}

/** As names are compared: small letters, nothing around them. */
export const low = (text: string) => text.trim().toLowerCase();

const short = (text: string) => (text.length > 40 ? `${text.slice(0, 40)}...` : text);

const AT_ONCE = 2_000;
/** Lines one after the other, with room for those who wait between some and the next. */
export async function* inTurn<T>(lines: readonly T[]): AsyncGenerator<T> {
  for (let from = 0; from < lines.length; from += AT_ONCE) {
    if (from > 0) await new Promise((resolve) => setImmediate(resolve));
    yield* lines.slice(from, from + AT_ONCE);
  }
}

const MAX_ROWS = 200_000;

const plainName = (name: string) =>
  name
    .trim()
    .toLowerCase()
    .replaceAll(/[\s-]+/g, '_');

/** A file as it was read: which of its columns are which, and its lines. */
export interface ReadFile {
  columns: string[];
  header: string[];
  match: Record<string, string>;
  /** What it needs and lacks; no line is read then. */
  missing: string[];
  ignored: string[];
  lines: Line[];
  days: ImportResult['days'];
}

/** The file's rows below its header. @throws 422 when it is no such file */
function rowsOfText(text: string): { header: string[]; rows: string[][] } {
  const refuse = (sentence: string) => new HttpProblem(422, `${sentence} Nothing was read.`);
  if (text.includes('\uFFFD') || text.includes('\u0000')) {
    throw refuse('The file is not UTF-8 text. Save it from the spreadsheet as "CSV UTF-8" and try again.');
  }
  const parsed = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { skipEmptyLines: 'greedy' });
  const broken = parsed.errors.find((e) => e.type === 'Quotes');
  if (broken) throw refuse(`A quotation mark is opened and never closed near row ${(broken.row ?? 0) + 1}.`);
  const [header, ...rows] = parsed.data;
  if (!header || rows.length === 0)
    throw refuse('The file is empty: it needs a first line with the names of the columns, and rows below it.');
  if (rows.length > MAX_ROWS) throw refuse(`The file has ${rows.length} rows; ${MAX_ROWS} at most. Split it.`);
  return { header: header.map((h) => h.trim()), rows };
}

/**
 * The names of a header, those of the book put where the match says. A match that was made for another file, whose
 * columns this one lacks, does nothing.
 */
function matched(kind: FileKind, header: readonly string[], match: Readonly<Record<string, string>>) {
  const { required, optional } = COLUMNS[kind];
  const known = [...required, ...optional];
  const names = header.map(plainName);
  const taken: Record<string, string> = {};
  for (const column of known) {
    const at = header.findIndex((h) => h !== '' && plainName(h) === plainName(match[column] ?? ''));
    if (at < 0) continue;
    // What goes by the book's name itself is another column, if this one was named for it.
    for (const [i, name] of names.entries()) if (name === column && i !== at) names[i] = plainName(`${header[i]!} too`);
    names[at] = column;
    taken[column] = header[at]!;
  }
  return { names, taken, known, missing: required.filter((c) => !names.includes(c)) };
}

/** Says what a file lacks, and what is done about it. */
export const lacksText = (kind: FileKind, missing: readonly string[]) =>
  `The first line lacks the column${missing.length > 1 ? 's' : ''} ${missing.join(', ')}. A ${kind} file needs: ${COLUMNS[kind].required.join(', ')}. Name the columns so, or say which of the file’s is which. Nothing was read.`;

/**
 * Reads a CSV file (RFC 4180; comma, semicolon or tab) into lines with named cells.
 *
 * @param meant how days like 3/4/2026 are meant; without it the file's other days tell
 * @param match which column of the file is which of the book's, by name
 * @returns no lines where columns are `missing`
 * @throws 422 when it is no such file: not UTF-8, empty, a column twice, too many rows.
 */
export function readCsv(
  kind: FileKind,
  text: string,
  meant?: DayOrder,
  match: Readonly<Record<string, string>> = {},
): ReadFile {
  const { header, rows } = rowsOfText(text);
  const { names, taken, known, missing } = matched(kind, header, match);
  if (missing.length > 0)
    return { columns: [], header, match: taken, missing, ignored: header.filter(Boolean), lines: [], days: null };
  const twice = known.find((c) => names.indexOf(c) !== names.lastIndexOf(c));
  if (twice) throw new HttpProblem(422, `The column ${twice} stands in the first line twice. Nothing was read.`);
  const columns = known.filter((c) => names.includes(c));
  const at = columns.map((c) => names.indexOf(c));
  const days = daysOf(
    rows,
    DAY_COLUMNS[kind].filter((c) => names.includes(c)).map((c) => names.indexOf(c)),
    meant,
  );
  return {
    columns,
    header,
    match: taken,
    missing,
    ignored: header.filter((h, i) => h !== '' && !known.includes(names[i]!)).map(plainName),
    days,
    lines: rows.map(
      (cells, i) =>
        new Line(
          i + 2,
          Object.fromEntries(columns.map((c, k) => [c, unguard(cells[at[k]!] ?? '')])),
          days?.order ?? 'day-first',
        ),
    ),
  };
}

/** How the days of the file are written; null where none has an order. */
function daysOf(rows: readonly string[][], at: readonly number[], meant?: DayOrder): ImportResult['days'] {
  const cells = rows.flatMap((row) => at.map((k) => row[k]?.trim() ?? ''));
  const { order, sure } = orderOf(cells);
  if (order === null) return null;
  const example = cells.find((cell) => orderOf([cell]).order !== null) ?? '';
  return { order: meant ?? order, sure: sure || meant !== undefined, example };
}

/**
 * Spreadsheets run cells that begin like a formula, also with the wide signs of East Asian keyboards; such text goes
 * out
 * with a quote before it, and comes back without. A number stays one (OWASP, "CSV Injection").
 */
const FORMULA = /^[=@+\t\r\n＝＋－＠]|^-(?!\d+(?:[.,]\d+)?$)/;
const guard = (cell: string) => (FORMULA.test(cell) ? `'${cell}` : cell);
const unguard = (cell: string) => (cell.startsWith("'") && FORMULA.test(cell.slice(1)) ? cell.slice(1) : cell);

/** Money as a cell has it: with its decimals and without a sign. */
export const minorCell = (minor: number | null): string | null => (minor === null ? null : (minor / 100).toFixed(2));

export type Cell = string | number | boolean | null | undefined;

/** Rows as CSV text, each line ended as RFC 4180 has it. */
export function csvText(rows: Cell[][]): string {
  if (rows.length === 0) return '';
  const text = rows.map((row) =>
    row.map((c) =>
      c === null || c === undefined
        ? ''
        : typeof c === 'string'
          ? guard(c)
          : typeof c === 'boolean'
            ? c
              ? 'yes'
              : 'no'
            : String(c),
    ),
  );
  return `${Papa.unparse(text, { newline: '\r\n' })}\r\n`;
}
