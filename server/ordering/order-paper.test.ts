import { expect, test } from '@jest/globals';
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs';
import type { OrderLines } from './order-lines.ts';
import { orderPaper } from './order-paper.ts';

/** The paper of an order, read back by a general-purpose reader of PDF (ISO 32000) that is not ours. */
const line = (i: number): OrderLines['lines'][number] => ({
  a: {
    packs: 3,
    packQuantity: i === 0 ? 4000 : 1,
    priceMinor: 1250 + i,
    day: '2026-04-17',
    arrivedAt: null,
    received: null,
  } as OrderLines['lines'][number]['a'],
  number: `OIL-${i}`,
  name: i === 0 ? 'Engine oil, für kühle Tage' : 'Oil filter',
  unit: i === 0 ? 'mL' : 'each',
  theirs: i === 0 ? 'T-100' : null,
});
const order = (count: number, carriageMinor = 900): OrderLines => ({
  p: { id: 12, day: '2026-04-15', carriageMinor, at: new Date('2026-04-15T10:00:00Z') } as OrderLines['p'],
  supplier: 'Tern Trade',
  contact: 'Ada Quist',
  base: 'North Quay',
  company: 'Test Boats',
  currency: 'EUR',
  lines: Array.from({ length: count }, (_, i) => line(i)),
});

async function pagesOf(of: OrderLines): Promise<string[]> {
  const document = await getDocument({ data: new Uint8Array(await orderPaper(of)), useSystemFonts: false }).promise;
  const pages: string[] = [];
  for (let n = 1; n <= document.numPages; n++) {
    const { items } = await (await document.getPage(n)).getTextContent();
    pages.push(
      items
        .map((item) => ('str' in item ? item.str : ''))
        .join(' ')
        .replaceAll(/\s+/g, ' '),
    );
  }
  return pages;
}

test('it says who orders what of whom, where to, by their numbers, and what it comes to', async () => {
  const [text, ...more] = await pagesOf(order(2));
  expect(more).toEqual([]);
  for (const words of [
    'Order 12',
    'To: Tern Trade, Ada Quist',
    'From: Test Boats',
    'To be delivered to: North Quay',
    'T-100 (ours: OIL-0)',
    'Engine oil, für kühle Tage',
    '3 x 4 L',
    'EUR 12.50',
    'OIL-1 Oil filter 3 x 1 EUR 12.51',
    'Goods EUR 25.01',
    'Carriage EUR 9.00',
    'Sum EUR 34.01',
  ])
    expect(text).toContain(words);
});

test('without carriage it says so; a long order goes on over the page, no line twice and none lost', async () => {
  expect((await pagesOf(order(1, 0)))[0]).toContain('Carriage none');
  const pages = await pagesOf(order(70));
  expect(pages.length).toBeGreaterThan(1);
  const all = pages.join(' ');
  for (let i = 1; i < 70; i++) expect(all.match(new RegExp(`OIL-${i} `, 'g'))).toHaveLength(1);
});
