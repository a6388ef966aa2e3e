import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { closeBook, openBook } from './book.ts';
import { Browser, DESK, PHONE } from './browser.ts';
import { codeOnPage, writeFilm } from './camera.ts';

/** A label as the book prints it, held before the camera of a phone. */
const book = await openBook();
const folder = mkdtempSync(join(tmpdir(), 'diurna-film-'));
let desk: Browser;
let phone: Browser | null = null;
beforeAll(async () => {
  desk = await Browser.open(book.address, DESK);
  await desk.signIn('Ilse Maren');
});
afterAll(async () => {
  await phone?.close();
  await desk.close();
  await closeBook(book);
  rmSync(folder, { recursive: true, force: true });
});

test('a label as it is printed is read by the phone’s camera and opens its part', async () => {
  await desk.go('/stores/labels');
  await desk.see('//b[.="C60-F2"]');
  const code = await codeOnPage(desk, 'Code of C60-F2');
  const film = join(folder, 'label.y4m');
  writeFilm(film, code);
  phone = await Browser.open(book.address, PHONE, { film });
  await phone.signIn('Ines Okoye');
  await phone.button('Find');
  await phone.button('Scan a label with the camera');
  await phone.see('//h1[.="C60-F2"]');
  expect(await phone.count('//*[@role="dialog"]')).toBe(0);
});

test('thirty parts go on two sheets of twenty-four, and on no more', async () => {
  await desk.go('/stores/labels');
  await desk.see('//b[.="C60-F2"]');
  const { data } = (await desk.driver.sendAndGetDevToolsCommand('Page.printToPDF', {
    preferCSSPageSize: true,
    // As the page itself asks; a command says its own otherwise.
    ...{ marginTop: 0, marginBottom: 0, marginLeft: 0, marginRight: 0 },
  })) as unknown as { data: string };
  const pdf = Buffer.from(data, 'base64').toString('latin1');
  expect(pdf.match(/\/Type\s*\/Page[^s]/g)).toHaveLength(2);
  // A4 in points of 1/72 inch (ISO 216: 210 x 297 mm).
  expect(/\/MediaBox\s*\[0 0 (\d+)[\d.]* (\d+)/.exec(pdf)?.slice(1)).toEqual(['594', '841']);
});

test('a hand scanner types it into Find, and it opens at once', async () => {
  const { rows } = await desk.call<{ rows: { id: number; name: string }[] }>('GET', '/fleet/boats?size=1');
  await desk.button('Find');
  await desk.fill('Find a boat, engine, part, person, page or rule', `${book.address}/fleet/boats/${rows[0]!.id}`);
  await desk.press('\uE007');
  await desk.see(`//h1[contains(., "${rows[0]!.name}")]`);
});
