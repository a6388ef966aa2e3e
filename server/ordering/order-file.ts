import { csvText, minorCell } from '../exchange/index.ts';
import type { OrderLines } from './order-lines.ts';

const HEAD = [
  'order',
  'ordered_on',
  'supplier',
  'base',
  'part',
  'their_number',
  'name',
  'packs',
  'pack',
  'unit',
  'price',
  'expected_on',
  'received',
];

/** An order line by line, for a spreadsheet or the supplier's own program. */
export const orderFile = ({ p, supplier, base, lines }: OrderLines): string =>
  csvText([
    HEAD,
    ...lines.map(({ a, number, name, unit, theirs }) => [
      p.id,
      p.day,
      supplier,
      base,
      number,
      theirs,
      name,
      a.packs,
      a.packQuantity,
      unit,
      minorCell(a.priceMinor),
      a.day,
      a.arrivedAt === null ? null : (a.received ?? 0),
    ]),
  ]);
