import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { closeBook, openBook } from './book.ts';
import { Browser, DESK, PHONE } from './browser.ts';

/**
 * The dock hand's phone with its line cut: lists are there, what is tapped and typed is kept, and settled afterwards.
 */
const book = await openBook();
let desk: Browser;
let phone: Browser;
const boats: { id: number; name: string; hireId: number; engines: number }[] = [];
interface Row {
  id: number;
  boatId: number;
  boatName: string;
  held: string[];
  notReady: string | null;
  letGo: { by: string | null } | null;
  cameBack: object | null;
}
let today = '';
let baseId = 0;
const hires = async () =>
  (await desk.call<{ rows: Row[] }>('GET', `/hires?from=${today}&days=1&baseId=${baseId}`)).rows;
const hireOf = async (boat: number) => (await hires()).find((h) => h.id === boats[boat]!.hireId)!;
const sheetOf = async (boat: number) =>
  (
    await desk.call<{ rows: { engineId: number; lastCount: number; lastDay: string }[] }>(
      'GET',
      `/usage/hours?size=20&boatId=${boats[boat]!.id}`,
    )
  ).rows;

beforeAll(async () => {
  desk = await Browser.open(book.address, DESK);
  await desk.signIn('Ilse Maren');
  phone = await Browser.open(book.address, PHONE, { wired: true });
  await phone.signIn('Bram Tidewell');
  const { person } = await phone.call<{ person: { baseId: number } }>('GET', '/session');
  baseId = person.baseId;
  const bases = await desk.call<{ id: number; today: string }[]>('GET', '/fleet/bases');
  today = bases.find((b) => b.id === baseId)!.today;
  const fleet = await desk.call<{ rows: { id: number; name: string }[] }>(
    'GET',
    `/fleet/boats?size=100&baseId=${baseId}`,
  );
  const busy = new Set((await hires()).map((h) => h.boatId));
  // Three that nothing keeps, out all day.
  for (const { id, name } of fleet.rows.filter((b) => !busy.has(b.id))) {
    const { id: hireId } = await desk.call<{ id: number }>('POST', '/hires', {
      boatId: id,
      outDay: today,
      outTime: '00:01',
      backDay: today,
      backTime: '23:58',
      reference: null,
    });
    const engines = (await desk.call<{ rows: unknown[] }>('GET', `/usage/hours?size=20&boatId=${id}`)).rows.length;
    if ((await hires()).some((h) => h.id === hireId && h.held.length === 0 && h.notReady === null) && engines > 0)
      boats.push({ id, name, hireId, engines });
    if (boats.length === 3) break;
  }
  await phone.driver.executeAsyncScript('const done = arguments[0]; navigator.serviceWorker.ready.then(() => done())');
  await phone.go('/day/back');
});
afterAll(async () => {
  await phone.close();
  await desk.close();
  await closeBook(book);
});

const goes = (boat: number) => `//button[@aria-label="It goes out: ${boats[boat]!.name}"]`;
const here = (boat: number) => `//button[@aria-label="It is still here: ${boats[boat]!.name}"]`;
const line = (boat: number) => `//ul[@aria-label="Going out"]/li[b[.="${boats[boat]!.name}"]]`;
const back = (boat: number) => `//ul[@aria-label="Coming back"]//button[@aria-expanded][b[.="${boats[boat]!.name}"]]`;

test('with signal a boat is let go, and taken back by another tap', async () => {
  await phone.click(goes(0));
  await phone.see(`${line(0)}[contains(., "✓ out")]`);
  await phone.sent();
  expect((await hireOf(0)).letGo).toMatchObject({ by: 'Bram Tidewell' });
  await phone.click(here(0));
  await phone.see(goes(0));
  await phone.sent();
  expect((await hireOf(0)).letGo).toBeNull();
});

test('without signal: out, back, hours and a snag with its picture are kept through a reload, and go by themselves', async () => {
  await phone.see(back(1));
  await phone.signal(false);
  await phone.click(goes(1));
  await phone.see(`${line(1)}[contains(., "kept on this phone")]`);
  await phone.click(back(1));
  const figures = (await sheetOf(1)).map((r) => (r.lastCount + 1).toFixed(1));
  for (const [i, figure] of figures.entries()) {
    await phone.click(`(//ul[@aria-label="Coming back"]//input[@inputmode="decimal"])[${i + 1}]`);
    await phone.press(figure);
  }
  await phone.button('Write it down');
  await phone.see(`${back(1)}[contains(., "hours kept on this phone")]`);
  // Half typed, and the phone is put away: it is there again.
  await phone.click(back(2));
  await phone.button('Something is wrong');
  await phone.fill('Or in your words', 'Rail bent at the bow');
  const picture = join(mkdtempSync(join(tmpdir(), 'diurna-dock-')), 'rail.png');
  writeFileSync(picture, Buffer.from(await phone.driver.takeScreenshot(), 'base64'));
  await phone.attach(picture);
  await phone.see('//img[@alt="What you took"]');
  await phone.go('/day/back');
  await phone.see(`${line(1)}[contains(., "kept on this phone")]`);
  await phone.click(back(2));
  await phone.button('Something is wrong');
  await phone.see('//img[@alt="What you took"]');
  await phone.button('Report it');
  await phone.seeText('is written down.');
  expect(await phone.count('//*[contains(text(), "Turning the page")]')).toBe(0);
  expect((await hireOf(1)).letGo).toBeNull();
  await phone.signal(true);
  await phone.until(
    async () => (await phone.count('//*[@role="status"][@aria-label="Signal"]')) === 0,
    'the phone still keeps something',
  );
  expect(await hireOf(1)).toMatchObject({ letGo: { by: 'Bram Tidewell' }, cameBack: { by: 'Bram Tidewell' } });
  expect((await sheetOf(1)).map((r) => [r.lastCount.toFixed(1), r.lastDay])).toEqual(figures.map((f) => [f, today]));
  const snags = await desk.call<{ text: string; hasPhoto: boolean }[]>('GET', `/snags?boatId=${boats[2]!.id}`);
  expect(snags).toMatchObject([{ text: 'Rail bent at the bow', hasPhoto: true }]);
});

test('where the desk was quicker, the phone says what stands in the book', async () => {
  await phone.see(goes(2));
  await phone.signal(false);
  await phone.click(goes(2));
  await phone.see(`${line(2)}[contains(., "kept on this phone")]`);
  await desk.call('POST', `/hires/${boats[2]!.hireId}/let-go`, { boatId: boats[2]!.id });
  await phone.signal(true);
  await phone.seeText(`${boats[2]!.name} is out already: Ilse Maren`);
  await phone.sent();
  expect((await hireOf(2)).letGo).toMatchObject({ by: 'Ilse Maren' });
});
