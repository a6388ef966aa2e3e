import { DAY_ORDERS } from '@diurna/core/calendar';
import { z } from 'zod';
import { route, STEER, READ_RECORDS } from './route.ts';

/** The files the book reads and writes (CSV after RFC 4180, UTF-8, first line names the columns). */
export const FILE_KINDS = [
  'fleet',
  'hours',
  'parts',
  'links',
  'suppliers',
  'prices',
  'counts',
  'service',
  'hires',
] as const;
export const fileKind = z.enum(FILE_KINDS);
export type FileKind = z.infer<typeof fileKind>;

export const COLUMNS: Record<FileKind, { required: readonly string[]; optional: readonly string[] }> = {
  fleet: {
    required: ['base', 'boat', 'position', 'maker', 'model', 'serial'],
    optional: [
      'time_zone',
      'hemisphere',
      'berth',
      'power_hp',
      'stroke',
      'cylinders',
      'sump_volume',
      'sump_unit',
      'gear_volume',
      'gear_unit',
      'in_service_on',
      'bought_new',
      'meter',
      'meter_offset',
      'transom',
      'boat_class',
    ],
  },
  hours: { required: ['serial', 'read_on', 'count'], optional: ['model', 'reason'] },
  parts: {
    required: ['part', 'name', 'kind', 'unit'],
    optional: [
      'make',
      'price',
      'base',
      'count',
      'shelf',
      'model',
      'task',
      'quantity',
      'serial_from',
      'serial_to',
      'transom',
      'containers',
      'shelf_life_months',
    ],
  },
  links: { required: ['part', 'other', 'link', 'evidence'], optional: ['said_by', 'approved'] },
  suppliers: { required: ['supplier', 'lead_days', 'weekdays'], optional: ['carriage', 'free_from', 'least'] },
  prices: { required: ['part', 'price'], optional: ['supplier', 'their_number', 'pack', 'from_packs'] },
  counts: { required: ['part', 'base', 'count'], optional: [] },
  service: {
    required: ['serial', 'task', 'done_on'],
    optional: ['model', 'hours', 'done_by', 'remark', 'reason', 'old_part'],
  },
  hires: { required: ['boat', 'out', 'back'], optional: ['booked_on', 'reference'] },
};

/** The columns with a day in them, each with its time or without. */
export const DAY_COLUMNS: Record<FileKind, readonly string[]> = {
  fleet: ['in_service_on'],
  hours: ['read_on'],
  parts: [],
  links: [],
  suppliers: [],
  prices: [],
  counts: [],
  service: ['done_on'],
  hires: ['out', 'back', 'booked_on'],
};

export const previewRow = z.object({
  line: z.int().meta({ description: 'Line in the file; the header is line 1.' }),
  cells: z.record(z.string(), z.string()),
  does: z
    .enum(['add', 'change', 'same', 'left', 'faulty'])
    .meta({ description: 'left: of no part of the book, as most of a supplier’s list; it is left out.' }),
  read: z
    .record(z.string(), z.string())
    .meta({
      description: 'By column: the day, or day and time, of a cell that writes it another way than 2026-04-15.',
    }),
  was: z.record(z.string(), z.string()).meta({ description: 'By column: what stands in the book until now.' }),
  faults: z.array(z.object({ column: z.string(), text: z.string() })),
});
export const importResult = z.object({
  kind: fileKind,
  columns: z.array(z.string()),
  header: z.array(z.string()).meta({ description: 'The columns of the file by their own names.' }),
  match: z.record(z.string(), z.string()).meta({ description: 'Which of them was taken for which of the book’s.' }),
  missing: z.array(z.string()).meta({ description: 'Columns it needs and does not have: nothing was read yet.' }),
  ignored: z.array(z.string()).meta({ description: 'Columns of the file the book does not know.' }),
  counts: z.object({ add: z.int(), change: z.int(), same: z.int(), left: z.int(), faulty: z.int() }),
  rows: z.array(previewRow).meta({ description: 'Faulty rows first, at most 500 rows.' }),
  days: z
    .object({ order: z.enum(DAY_ORDERS), sure: z.boolean(), example: z.string() })
    .nullable()
    .meta({ description: 'How days like 3/4/2026 are read; not sure where each could be read both ways.' }),
  written: z.boolean(),
});
export type ImportResult = z.infer<typeof importResult>;

const kindParam = z.object({ kind: fileKind });
const readAs = z.object({
  days: z
    .enum(DAY_ORDERS)
    .optional()
    .meta({ description: 'How days like 3/4/2026 are meant, where the file itself does not tell.' }),
  supplierId: z.coerce
    .number()
    .int()
    .positive()
    .optional()
    .meta({ description: 'Whose price list it is, where no column names the supplier.' }),
  match: z
    .string()
    .max(4000)
    .optional()
    .meta({
      description:
        'Which column of the file is which of the book’s, written like a query: part=Article+no.&price=Net. Read in, it is remembered for the next file of this kind and supplier.',
    }),
});

export const exchangeRoutes = {
  previewImport: route({
    method: 'post',
    path: '/api/exchange/:kind/preview',
    roles: STEER,
    params: kindParam,
    query: readAs,
    takes: 'text/csv',
    body: z.string(),
    reply: importResult,
    quota: 'import',
    summary: 'Read a file and mark each faulty cell; nothing is written.',
  }),
  importFile: route({
    method: 'post',
    path: '/api/exchange/:kind',
    roles: STEER,
    params: kindParam,
    query: readAs,
    takes: 'text/csv',
    body: z.string(),
    reply: importResult,
    quota: 'import',
    summary: 'Read a file in, all of it or nothing; repeating it changes nothing.',
  }),
  exportFile: route({
    method: 'get',
    path: '/api/exchange/:kind',
    roles: READ_RECORDS,
    params: kindParam,
    gives: 'text/csv',
    reply: z.string(),
    quota: 'export',
    summary: 'Write the same file out.',
  }),
};
