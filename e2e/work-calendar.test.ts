import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { closeBook, openBook } from './book.ts';
import { Browser, DESK, PHONE } from './browser.ts';

/** Working hours, days without work and orders, as the coordinator writes them down, rightly and wrongly. */
const book = await openBook();
const { address } = book;
let browser: Browser;
let folder = '';
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'diurna-work-'));
  browser = await Browser.open(address, DESK);
  await browser.signIn('Ilse Maren');
});
afterAll(async () => {
  await browser.close();
  rmSync(folder, { recursive: true, force: true });
  await closeBook(book);
});

// The day of the story: everybody of the yard works on it.
const weekday = new Date(book.now).getUTCDay() || 7;
const DAY = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'][weekday - 1]!;
const dialog = '//*[@role="dialog"]';
const work = async () =>
  browser.driver.executeAsyncScript<{
    people: {
      name: string;
      rateMinor: number | null;
      shifts: { weekday: number; fromMinute: number; toMinute: number }[];
    }[];
    closed: { name: string; day: string }[];
  }>(`const done = arguments[0]; fetch('/api/people/work?from=2026-01-01').then((r) => r.json()).then(done);`);

describe('working hours', () => {
  test('a day that ends before it begins is named, and what was typed stays; put right, it is kept', async () => {
    await browser.go('/yard');
    await browser.click('//button[@aria-label="edit the working hours of Ines Okoye"]');
    await browser.see(dialog);
    await browser.fillHour(`${DAY} from`, '16:30');
    await browser.fillHour(`${DAY} to`, '08:00');
    await browser.button('Keep them');
    await browser.see(`${dialog}//*[@role="alert"][.="${DAY} ends before it begins"]`);
    expect(await browser.parts(`${DAY} from`)).toBe('16:30');
    expect((await work()).people.find((p) => p.name === 'Ines Okoye')!.shifts.every((x) => x.fromMinute !== 990)).toBe(
      true,
    );
    await browser.fillHour(`${DAY} from`, '07:00');
    await browser.fillHour(`${DAY} to`, '15:15');
    await browser.fill('An hour costs (EUR)', '51,50');
    await browser.button('Keep them');
    await browser.seeText('The working hours of Ines Okoye are kept.');
    await browser.gone(dialog);
    expect((await work()).people.find((p) => p.name === 'Ines Okoye')).toMatchObject({
      rateMinor: 5150,
      shifts: expect.arrayContaining([{ weekday, fromMinute: 420, toMinute: 915, baseId: null }]),
    });
    await browser.see('//tr[contains(., "Ines Okoye")][contains(., "€51.50")]');
  });
});

describe('days without work', () => {
  const read = async (name: string, text: string) => {
    const file = join(folder, name);
    writeFileSync(file, text);
    await browser.attach(file, '//section[h2="Days without work"]//input[@type="file"]');
  };
  const event = (day: string, name: string) =>
    `BEGIN:VEVENT\r\nUID:${day}@x\r\nSUMMARY:${name}\r\nDTSTART;VALUE=DATE:${day}\r\nEND:VEVENT\r\n`;

  test('a file that is none, and one of days gone by, are refused in a sentence', async () => {
    await browser.go('/yard');
    await browser.see('//h2[.="Days without work"]');
    await read('notes.ics', 'closed on my birthday');
    await browser.seeText('This is no iCalendar file');
    await read(
      'old.ics',
      `BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//y//EN\r\n${event('20200101', 'Long ago')}END:VCALENDAR`,
    );
    await browser.seeText('The file holds no day from today on. Nothing was read.');
  });

  test('read in, they stand in the list and are known the second time', async () => {
    const year = Number(book.now.slice(0, 4)) + 1;
    const file = `BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//y//EN\r\n${event(`${year}0707`, 'Regatta day')}${event(`${year}0708`, 'Day after')}END:VCALENDAR`;
    await read('days.ics', file);
    await browser.seeText('2 days without work read in');
    await browser.see('//li[contains(., "Regatta day")]');
    await read('again.ics', file);
    await browser.seeText('2 known already');
    expect((await work()).closed.filter((c) => c.name === 'Regatta day')).toEqual([
      expect.objectContaining({ day: `${year}-07-07` }),
    ]);
    for (const name of ['Regatta day', 'Day after']) {
      await browser.click(`//li[contains(., "${name}")]//button[.="take back"]`);
      await browser.gone(`//li[contains(., "${name}")]`);
    }
  });
});

describe('at phone size', () => {
  test.each([
    ['/plan', '//h1'],
    ['/day', '//*[@role="group"][starts-with(@aria-label, "The day by the hour")]'],
    ['/yard', '//h2[.="Working hours"]'],
    ['/stores', '//h1'],
  ])('%s fits the width, what is wider scrolls within itself', async (path, there) => {
    await browser.resize(PHONE);
    await browser.go(path);
    await browser.see(there);
    await browser.settled();
    expect(
      await browser.driver.executeScript<number>('return document.documentElement.scrollWidth - innerWidth'),
    ).toBeLessThanOrEqual(0);
    // Everything to be pressed is large enough for a thumb (24 by 24 CSS pixels: WCAG 2.2, 2.5.8), but for links within
    // text.
    const small = await browser.driver.executeScript<string[]>(`
      const press = 'button, select, input:not([type=file], .visually-hidden, [aria-hidden])';
      return [...document.querySelectorAll(press)].filter((e) => {
        const r = e.getBoundingClientRect();
        return r.width > 0 && (r.width < 24 || r.height < 24) && !e.closest('label') && getComputedStyle(e).textDecorationLine !== 'underline';
      }).map((e) => e.outerHTML.slice(0, 120));`);
    expect(small).toEqual([]);
    await browser.resize(DESK);
  });
});
