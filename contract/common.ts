import './words.ts';
import { isDay } from '@diurna/core/calendar';
import { z } from 'zod';

/** Who may use what; the server enforces it on every route. */
export const ROLES = ['administrator', 'coordinator', 'technician', 'stores', 'dock', 'manager'] as const;
export const role = z.enum(ROLES);
export type Role = z.infer<typeof role>;

export const id = z.int().positive();
/** Counts up at every edit; an edit that names an older one is refused, so nobody overwrites a colleague. */
export const version = z.int().positive();

/** Nothing the book keeps lies outside these years; a day beyond them is a slip. */
const YEARS = { first: 1900, last: 2199 };
const inYears = (text: string) => Number(text.slice(0, 4)) >= YEARS.first && Number(text.slice(0, 4)) <= YEARS.last;
const FAR = `is too far away; the book takes the years ${YEARS.first} to ${YEARS.last}`;

export const day = z
  .string()
  .refine(isDay, { error: 'is no calendar day; write it as YYYY-MM-DD', abort: true })
  .refine(inYears, FAR)
  .meta({ format: 'date', description: 'A calendar day at the base, YYYY-MM-DD.' });

export const instant = z.iso.datetime({ offset: true, abort: true }).refine(inYears, FAR);

/** Hours with one decimal, as a meter shows them. */
export const hours = z
  .number()
  .min(0, 'cannot be below 0')
  .max(99_999.9, 'is more than any meter shows')
  .refine((n) => Math.abs(n * 10 - Math.round(n * 10)) < 1e-6, 'takes one decimal, as the meter shows it');

export const name = z.string().trim().min(1, 'is missing').max(80, 'is longer than 80 characters');
export const remark = z.string().trim().max(2000, 'is longer than 2,000 characters');
export const reason = z.string().trim().min(3, 'wants a few words why').max(500, 'is longer than 500 characters');

export const idParam = z.object({ id: z.coerce.number().int().positive() });

/** Lists come in pages. */
export const pageQuery = z.object({
  page: z.coerce.number().int().min(1).max(100_000).default(1),
  size: z.coerce.number().int().min(1).max(200).default(50),
});

/** One page of a list with how many rows there are in all. */
export function pageOf<T extends z.ZodType>(row: T) {
  return z.object({ rows: z.array(row), total: z.int(), page: z.int(), size: z.int() });
}

/** One fault of the input, with the place where it is. */
export const fault = z.object({
  path: z.string().meta({ description: 'Where: "readings.3.count".' }),
  text: z.string().meta({ description: 'What is wrong and what to do.' }),
});
export type Fault = z.infer<typeof fault>;

/** RFC 9457 problem details, the one shape of every error. */
export const problem = z.object({
  type: z.string(),
  title: z.string(),
  status: z.int(),
  detail: z.string(),
  instance: z.string().optional(),
  faults: z.array(fault).optional(),
});
export type Problem = z.infer<typeof problem>;

/** What a write answers when there is nothing else to say. */
export const done = z.object({ ok: z.literal(true) });
export const created = z.object({ id, version });

/** Where in a problem a fault is: `tasks[3].dayCost[0]` */
export const pathText = (path: readonly PropertyKey[]) =>
  path.map((p, i) => (typeof p === 'number' ? `[${p}]` : i === 0 ? String(p) : `.${String(p)}`)).join('') ||
  'the problem';
