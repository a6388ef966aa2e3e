import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import { closeBook, openBook } from './book.ts';
import { Browser, DESK, PHONE } from './browser.ts';

/** What people get wrong in the newer pages: a sentence that says what to do, and nothing lost. */
const book = await openBook();
const { address } = book;
let browser: Browser;
let folder = '';
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'diurna-wrong-'));
  browser = await Browser.open(address, DESK);
  await browser.signIn('Wyn Aldous');
});
afterAll(async () => {
  await browser.close();
  rmSync(folder, { recursive: true, force: true });
  await closeBook(book);
});

const send = async (key: string, messages: object[]) => {
  const reply = await fetch(`${address}/api/gateway/messages`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', authorization: `Bearer ${key}` },
    body: JSON.stringify({ messages }),
  });
  return { status: reply.status, body: (await reply.json()) as { refused: number; detail?: string } };
};

describe('a hire', () => {
  test('by keyboard alone: opened, filled, booked and called off', async () => {
    await browser.go('/fleet/hires');
    await browser.see('//h1[.="Hires"]');
    const focused = () =>
      browser.driver.executeScript<string>(
        'const e = document.activeElement; return (e.textContent || e.getAttribute("aria-label") || e.id || e.tagName).trim()',
      );
    for (let i = 0; i < 60 && (await focused()) !== 'Book a boat out'; i++) await browser.press(Key.TAB);
    expect(await focused()).toBe('Book a boat out');
    await browser.press(Key.ENTER);
    const boat = await browser.see('//*[@role="dialog"]//input[@role="combobox"]');
    for (
      let i = 0;
      i < 10 && !(await browser.driver.executeScript<boolean>('return document.activeElement === arguments[0]', boat));
      i++
    )
      await browser.press(Key.TAB);
    await browser.press('Plover');
    await browser.see('//li[@role="option"][normalize-space(.)="Plover"]');
    await browser.press(Key.ENTER);
    for (let i = 0; i < 20 && (await focused()) !== 'Book it out'; i++) await browser.press(Key.TAB);
    await browser.press(Key.ENTER);
    await browser.seeText('Plover');
    await browser.gone('//*[@role="dialog"]');
    await browser.see('//tr[contains(., "Plover")]');
  });
});

describe('a calendar file', () => {
  test.each([
    ['notes.ics', 'just some notes', 'This is no iCalendar file'],
    ['cut.ics', 'BEGIN:VCALENDAR\r\nVERSION:2.0\r\nBEGIN:VEVENT', 'This is no iCalendar file'],
  ])('%s is refused in a sentence', async (name, text, says) => {
    const file = join(folder, name);
    writeFileSync(file, text);
    await browser.go('/fleet/hires/calendars');
    await browser.see('//input[@type="file"]');
    await browser.attach(file);
    await browser.seeText(says);
    expect(await browser.count('//button[starts-with(normalize-space(.), "Write")]')).toBe(0);
  });
});

describe('a box on a boat', () => {
  test('its key is shown once; nonsense it sends is listed with why; a new key voids the old', async () => {
    await browser.go('/fleet/boxes');
    await browser.button('Add a box');
    await browser.see('//*[@role="dialog"]');
    await browser.fill('Name', 'Petrel box');
    await browser.fill('Boat', 'Petrel');
    await browser.click('//li[@role="option"][normalize-space(.)="Petrel"]');
    await browser.button('Add the box');
    const key = await browser.text('//*[@role="dialog"]//code');
    await browser.button('It is copied');
    expect(await send(key, [{ n2k: 'noise' }])).toMatchObject({ status: 200, body: { refused: 1 } });
    await browser.driver.navigate().refresh();
    await browser.click('//button[@aria-label="1 refused of Petrel box, show why"]');
    await browser.see('//tr[contains(., "is no NMEA 2000 line")][contains(., "noise")]');
    expect(await browser.driver.getPageSource()).not.toContain(key);
    await browser.button('Edit Petrel box');
    await browser.button('Give it a new key');
    await browser.see('//*[@role="dialog"]//code');
    await browser.button('It is copied');
    expect((await send(key, [{ n2k: 'noise' }])).status).toBe(401);
  });
});

describe('on the phone', () => {
  test('a picture that is none is refused, and the words stay after a reload', async () => {
    await browser.resize(PHONE);
    await browser.signIn('Bram Tidewell');
    await browser.see('//h1[.="Boats back"]');
    await browser.fill('Boat', 'Petrel');
    await browser.click('//li[@role="option"][normalize-space(.)="Petrel"]');
    await browser.button('Something is wrong');
    await browser.fill('Or in your words', 'Alarm at half throttle');
    const file = join(folder, 'picture.jpg');
    writeFileSync(file, 'no picture at all');
    await browser.attach(file);
    await browser.seeText('This picture cannot be read. Take it again.');
    await browser.driver.navigate().refresh();
    await browser.fill('Boat', 'Petrel');
    await browser.click('//li[@role="option"][normalize-space(.)="Petrel"]');
    await browser.button('Something is wrong');
    await browser.see('//textarea[.="Alarm at half throttle"]');
  });
});
