import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { OrderBook, Purchase } from '@diurna/contract/ordering';
import { closeBook, openBook, passTime } from './book.ts';
import { Browser, DESK } from './browser.ts';

/**
 * The keeper at the smallest base, where the shelves are short: what is ordered, comes short, and counts from then on.
 */
const book = await openBook();
let browser: Browser;
let baseId = 0;
beforeAll(async () => {
  browser = await Browser.open(book.address, DESK);
  await browser.signIn('Ilse Maren');
  const bases = await browser.call<{ id: number; name: string }[]>('GET', '/fleet/bases');
  baseId = bases.find((b) => b.name === 'Larkspur Slip')!.id;
});
afterAll(async () => {
  await browser.close();
  await closeBook(book);
});

const bookNow = () => browser.call<OrderBook>('GET', `/ordering/book?baseId=${baseId}`);
const open = () => browser.call<Purchase[]>('GET', `/ordering/purchases?baseId=${baseId}`);
const TODAY = '//section[contains(@aria-label, ", ")][.//button[.="Order it"]]';

/** The next day on which something is best ordered: on a Sunday nobody takes any. */
async function toADayOfOrders(): Promise<void> {
  for (let day = 0; ; day++) {
    await browser.go(`/stores/orders?base=${baseId}`);
    await browser.see('//section[@aria-label="What to order"]//*[@role="status"]');
    await browser.gone('//*[@role="progressbar"]');
    if ((await browser.count(TODAY)) > 0) return;
    if (day === 10) throw new Error('nothing has to be ordered within ten days');
    await passTime(book, 24 * 60);
    await browser.signIn('Ilse Maren');
  }
}

test('what the shelves lack is worked out and ordered; it is on its way, and nothing asks for it again', async () => {
  await toADayOfOrders();
  const before = await bookNow();
  const name = (await browser.attribute(`(${TODAY})[1]`, 'aria-label')).split(',')[0]!;
  const first = await browser.text(`(${TODAY})[1]//tbody/tr[1]//a`);
  const packs = Number(await browser.attribute(`(${TODAY})[1]//input[@aria-label="Packs of ${first}"]`, 'value'));
  await browser.click(`(${TODAY})[1]//button[.="Order it"]`);
  await browser.seeText(`Ordered from ${name}; expected`);
  const [order] = await open();
  expect(order).toMatchObject({ supplier: name, by: 'Ilse Maren' });
  const line = order!.lines.find((l) => l.number === first)!;
  expect(line).toMatchObject({ packs, received: null, quantity: packs * line.packQuantity! });
  // From the day it comes the shelf has it.
  const row = (b: OrderBook) => b.parts.find((p) => p.number === first)!.stock.at(-1)!;
  expect(row(await bookNow())).toBeCloseTo(row(before) + line.quantity, 2);
  await browser.see(`//section[@aria-label="Order ${order!.id}, ${name}"]`);
});

test('what comes is put on the shelf as it was counted: one short is said', async () => {
  const [order] = await open();
  const line = order!.lines.find((l) => l.quantity > 1)!;
  const part = await browser.call<{ onHand: { baseId: number; quantity: number }[] }>(
    'GET',
    `/stores/parts/${line.partId}`,
  );
  const had = part.onHand.find((h) => h.baseId === baseId)?.quantity ?? 0;
  const came = `Came of ${line.number}${line.unit === 'mL' ? ', mL' : ''}`;
  await browser.fill(came, String(line.quantity - 1));
  await browser.click(`//tr[.//input[@aria-label="${came}"]]//button[.="It has come"]`);
  await browser.seeText('less than ordered');
  const now = await browser.call<typeof part>('GET', `/stores/parts/${line.partId}`);
  expect(now.onHand.find((h) => h.baseId === baseId)!.quantity).toBeCloseTo(had + line.quantity - 1, 2);
  expect((await open())[0]!.lines.find((l) => l.arrivalId === line.arrivalId)!.received).toBe(line.quantity - 1);
});

test('a supplier’s days and prices are changed; the next plan goes by them', async () => {
  await browser.go('/stores/suppliers');
  await browser.click('//button[@aria-label="Edit Saltmarsh Chandlery"]');
  await browser.fill('Days until it is on the shelf', '6');
  await browser.button('Keep the changes');
  await browser.seeText('Saltmarsh Chandlery: ');
  const { problem, names } = await bookNow();
  const id = Object.entries(names.suppliers).find(([, s]) => s.name === 'Saltmarsh Chandlery')![0];
  expect(problem.suppliers.find((s) => s.id === id)!.leadDays).toBe(6);
});
