import { volumeText } from '@diurna/core/units';
import { createRequire } from 'node:module';
import PDFDocument from 'pdfkit';
import type { OrderLines } from './order-lines.ts';

const FONTS = '@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin';
const fontAt = (weight: 400 | 700) => createRequire(import.meta.url).resolve(`${FONTS}-${weight}-normal.woff`);

/** Points from the left edge of an A4 page (595 x 842): number, name, packs, price, sum. */
const MARGIN = 56;
const COLUMNS = [
  { x: MARGIN, width: 120, align: 'left' },
  { x: 180, width: 170, align: 'left' },
  { x: 354, width: 85, align: 'right' },
  { x: 443, width: 96, align: 'right' },
] as const;
const FOOT = 770;

const money = (minor: number, currency: string) =>
  new Intl.NumberFormat('en-GB', { style: 'currency', currency, currencyDisplay: 'code' })
    .format(minor / 100)
    .replaceAll('\u00a0', ' ');
/** "3 x 4 L", "10 x 1". */
const packsText = ({ a, unit }: OrderLines['lines'][number]) =>
  a.packs === null || a.packQuantity === null
    ? ''
    : `${a.packs} x ${unit === 'mL' ? volumeText(a.packQuantity) : a.packQuantity}`;

/** A row of the table; what does not fit on the page begins the next. */
function row(doc: PDFKit.PDFDocument, cells: readonly string[], bold = false): void {
  doc.font(bold ? 'bold' : 'plain').fontSize(10);
  const high = Math.max(...cells.map((cell, i) => doc.heightOfString(cell || ' ', { width: COLUMNS[i]!.width })));
  if (doc.y + high > FOOT) doc.addPage();
  const top = doc.y;
  cells.forEach((cell, i) => {
    const { x, width, align } = COLUMNS[i]!;
    doc.text(cell, x, top, { width, align });
  });
  doc.y = top + high + 6;
  doc
    .moveTo(MARGIN, doc.y - 3)
    .lineTo(539, doc.y - 3)
    .lineWidth(0.5)
    .stroke('#999999');
}

/** Who orders what of whom, and where to. */
function head(doc: PDFKit.PDFDocument, { p, supplier, contact, base, company }: OrderLines): void {
  doc.font('bold').fontSize(20).text(`Order ${p.id}`, MARGIN, MARGIN);
  doc.font('plain').fontSize(11).moveDown(0.5);
  for (const line of [
    `To: ${supplier}${contact === null ? '' : `, ${contact}`}`,
    `From: ${company}`,
    `To be delivered to: ${base}`,
    `Day: ${p.day}`,
  ])
    doc.text(line);
  doc.moveDown(1);
}

/** An order as a page to send or to put in a folder (PDF, A4): the supplier's own numbers first, prices as agreed. */
export function orderPaper(order: OrderLines): Promise<Buffer> {
  const { p, lines, currency } = order;
  const doc = new PDFDocument({
    size: 'A4',
    margin: MARGIN,
    info: { Title: `Order ${p.id}`, Author: order.company, CreationDate: p.at },
    lang: 'en',
  });
  doc.registerFont('plain', fontAt(400));
  doc.registerFont('bold', fontAt(700));
  const parts: Buffer[] = [];
  doc.on('data', (chunk: Buffer) => parts.push(chunk));
  const done = new Promise<Buffer>((resolve, reject) => {
    doc.on('end', () => {
      resolve(Buffer.concat(parts));
    });
    doc.on('error', reject);
  });
  head(doc, order);
  row(doc, ['Number', 'What', 'Packs', 'Price'], true);
  for (const line of lines) {
    const { a, number, name, theirs } = line;
    const own = theirs === null || theirs === number ? number : `${theirs} (ours: ${number})`;
    row(doc, [own, name, packsText(line), a.priceMinor === null ? '' : money(a.priceMinor, currency)]);
  }
  const goods = lines.reduce((sum, { a }) => sum + (a.priceMinor ?? 0), 0);
  row(doc, ['', 'Goods', '', money(goods, currency)]);
  row(doc, ['', 'Carriage', '', p.carriageMinor === 0 ? 'none' : money(p.carriageMinor, currency)]);
  row(doc, ['', 'Sum', '', money(goods + p.carriageMinor, currency)], true);
  doc.end();
  return done;
}
