import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { CountLine } from '@diurna/contract/counts';
import type { Arrival, Part, PartPage } from '@diurna/contract/stores';
import { existsSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import writeSheet from 'write-excel-file/node';
import type { Supplier } from '@diurna/contract/ordering';
import { join } from 'node:path';
import { closeBook, openBook } from './book.ts';
import { Browser, DESK, PHONE } from './browser.ts';
import { codeOnPage, writeFilm } from './camera.ts';

/** The keeper of the shelves: which part, what stands open, what is sent, and what is counted. */
const book = await openBook();
const folder = mkdtempSync(join(tmpdir(), 'diurna-film-'));
let desk: Browser;
let phone: Browser | null = null;
let baseId = 0;
beforeAll(async () => {
  desk = await Browser.open(book.address, DESK);
  await desk.signIn('Hanne Brook');
  const bases = await desk.call<{ id: number; name: string }[]>('GET', '/fleet/bases');
  baseId = bases.find((b) => b.name === 'Brindle Quay')!.id;
});
afterAll(async () => {
  await phone?.close();
  await desk.close();
  await closeBook(book);
  rmSync(folder, { recursive: true, force: true });
});

const partOf = async (number: string) =>
  (await desk.call<{ rows: Part[] }>('GET', '/stores/parts?size=200')).rows.find((p) => p.number === number)!;
const pageOf = async (number: string) => desk.call<PartPage>('GET', `/stores/parts/${(await partOf(number)).id}`);
const onHand = (page: PartPage) => page.onHand.find((h) => h.baseId === baseId)!.quantity;

test('which filter for this serial: one answer, the newer number; what is left of the older is named', async () => {
  const models = await desk.call<{ id: number; maker: string }[]>('GET', '/fleet/models');
  const lumen = new Set(models.filter((m) => m.maker === 'Lumen').map((m) => m.id));
  const boats = await desk.call<{ rows: { engines: { id: number }[] }[] }>('GET', '/fleet/boats?size=200');
  const engines = await Promise.all(
    boats.rows
      .flatMap((b) => b.engines)
      .map(({ id }) => desk.call<{ id: number; modelId: number }>('GET', `/fleet/engines/${id}`)),
  );
  await desk.go(`/fleet/engines/${engines.find((e) => lumen.has(e.modelId))!.id}`);
  const row = '//section[@aria-label="Its parts"]//tr[.//*[normalize-space(.)="Oil filter"]]';
  await desk.see(row);
  expect(await desk.text(row)).toMatch(/LU-F2[^]*LU-F1[^]*older number: Lumen parts bulletin 7/);
  expect(await desk.count(row)).toBe(1);
});

test('a full bottle is opened, and poured from before any other', async () => {
  const before = await pageOf('LUBE-90');
  await desk.go(`/stores/parts/${before.id}`);
  await desk.choose('Size', '1 L bottle');
  await desk.button('Open a full one');
  await desk.see('//section[@aria-label="Open containers"]//tr[contains(., "1 L bottle")]');
  await desk.button('Write off');
  await desk.choose('In', 'mL');
  await desk.fill('How many', '300');
  await desk.fill('Why', 'spilt on the pontoon');
  await desk.click('//form//button[.="Write off"]');
  await desk.seeText('on hand now');
  const after = await pageOf('LUBE-90');
  expect(onHand(after)).toBeCloseTo(onHand(before) - 300, 2);
  const left = (p: PartPage) => p.open.reduce((sum, o) => sum + o.leftMl, 0);
  expect(left(after)).toBeCloseTo(left(before) + 700, 2);
});

test('what is sent to another base is on its way; what is kept back for cards does not leave', async () => {
  const washers = await pageOf('WSH-14');
  await desk.go(`/stores/parts/${washers.id}`);
  await desk.see('//section[.//h2="On the way"]//td[contains(., "sent from Brindle Quay")]');
  await desk.button('Send to another base');
  await desk.choose('To', 'Outer Mole');
  await desk.fill('How many', String(onHand(washers)));
  await desk.click('//form//button[.="Send"]');
  await desk.seeText('kept back for');
  await desk.fill('How many', '1');
  await desk.click('//form//button[.="Send"]');
  await desk.seeText('on the way');
  const under = await desk.call<Arrival[]>('GET', `/stores/arrivals?partId=${washers.id}`);
  expect(under.filter((a) => a.fromBaseId === baseId).map((a) => a.quantity)).toEqual(expect.arrayContaining([10, 1]));
  expect(onHand(await pageOf('WSH-14'))).toBe(onHand(washers) - 1);
});

test('a shelf is counted by phone: its label opens the sheet, a large difference is counted twice', async () => {
  await desk.go('/stores/labels?of=shelves');
  await desk.see('//b[.="A2"]');
  const film = join(folder, 'shelf.y4m');
  writeFilm(film, await codeOnPage(desk, 'Code of A2'));
  phone = await Browser.open(book.address, PHONE, { film });
  await phone.signIn('Hanne Brook');
  await phone.button('Find');
  await phone.button('Scan a label with the camera');
  await phone.see('//form[@aria-label="Count"]');
  const sheet = () => desk.call<CountLine[]>('GET', `/stores/count?baseId=${baseId}&shelf=A2`);
  const [line] = await sheet();
  const found = line!.said + 5;
  await phone.fill(`Is there: ${line!.number}`, String(found));
  await phone.seeText('1 part to count a second time.');
  await phone.click('//label[contains(., "counted a second time")]//input');
  await phone.click('//form[@aria-label="Count"]//button[starts-with(., "Book")]');
  await phone.seeText('1 part counted: 1 set right.');
  expect((await sheet())[0]).toMatchObject({ said: found, since: { received: 0, used: 0 } });
});

test('a kit is held against a service: the separator and the gaskets are not in it', async () => {
  await desk.go(`/stores/parts/${(await partOf('KIT-C60')).id}`);
  const check = '//*[@role="group"][@aria-label="Kit check"]';
  await desk.see(`${check}//a[.="SEP-10"]`);
  await desk.see(`${check}//a[.="GSK-GC2"]`);
  expect(await desk.count(`${check}//a[.="WSH-14"]`)).toBe(0);
});

test('a supplier’s own price list, a spreadsheet: its columns are said once, the next list is read by itself', async () => {
  await desk.resize(DESK);
  await desk.signIn('Ilse Maren');
  const sellers = () => desk.call<Supplier[]>('GET', '/ordering/suppliers');
  const seller = (await sellers()).find((s) => s.offers.length > 0)!;
  const offer = seller.offers[0]!;
  // Dearer by a tenth of the currency: the ladder above it stays cheaper.
  const list = async (name: string, more: number) => {
    const path = join(folder, name);
    const price = (offer.breaks[0]!.priceMinor + more) / 100;
    await writeSheet([
      [{ value: 'Article' }, { value: 'What it is' }, { value: 'Net' }, { value: 'Size' }],
      [
        { value: offer.part },
        { value: 'ours' },
        { value: price, type: Number },
        { value: offer.packQuantity, type: Number },
      ],
      [{ value: 'ZZ-1' }, { value: 'not ours' }, { value: 900, type: Number }, { value: 1, type: Number }],
    ]).toFile(path);
    return path;
  };
  const choose = async (path: string) => {
    await desk.go('/fleet/files');
    await desk.choose('What is in it', 'Prices');
    await desk.until(async () => (await desk.count(`//option[.="${seller.name}"]`)) > 0);
    await desk.choose('Whose price list', seller.name);
    await desk.attach(path);
  };
  await choose(await list('spring.xlsx', 10));
  await desk.seeText('Say which is which');
  await desk.choose('part (needed)', 'Article');
  await desk.choose('price (needed)', 'Net');
  await desk.choose('pack', 'Size');
  await desk.button('Read it so');
  await desk.seeText('1 of parts the book does not have');
  await desk.button('Write 1 row into the book');
  await desk.seeText('spring.xlsx is in the book: 0 new, 1 changed.');
  const priceNow = async () =>
    (await sellers()).find((s) => s.id === seller.id)!.offers.find((o) => o.id === offer.id)!.breaks[0]!.priceMinor;
  expect(await priceNow()).toBe(offer.breaks[0]!.priceMinor + 10);
  // The next list needs no hand, and shows what stood there.
  await choose(await list('summer.xlsx', 20));
  await desk.seeText(`was ${((offer.breaks[0]!.priceMinor + 10) / 100).toFixed(2)}`);
  expect(await desk.count('//section[@aria-label="Columns of the file"]')).toBe(0);
  // And out again, as a file of a spreadsheet: a zip archive (ISO/IEC 29500-2).
  await desk.button('Prices, spreadsheet');
  const out = join(desk.downloads, 'diurna-prices.xlsx');
  await desk.until(() => Promise.resolve(existsSync(out)), 'no spreadsheet came');
  expect(readFileSync(out).subarray(0, 2).toString()).toBe('PK');
});
