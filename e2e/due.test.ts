import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import { closeBook, openBook } from './book.ts';
import { Browser } from './browser.ts';

const book = await openBook();
const { address } = book;
let browser: Browser;
let folder = '';
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'diurna-due-'));
  browser = await Browser.open(address);
  await browser.signIn('Ilse Maren');
});
afterAll(async () => {
  await browser.close();
  rmSync(folder, { recursive: true, force: true });
  await closeBook(book);
});

const stamp = (days: number, clock: string) =>
  `${new Date(Date.parse(book.now) + days * 86_400_000).toISOString().slice(0, 10).replaceAll('-', '')}T${clock}`;

describe('engines by days', () => {
  test('every engine has its line; the worst stand first; a base and a task narrow it', async () => {
    await browser.go('/due');
    await browser.see('//*[@role="grid"]//*[@role="row"][@aria-rowindex="2"]//button[contains(., "over")]');
    expect(await browser.text('//header[h1]')).toMatch(/\d+ engines/);
    await browser.choose('Base', 'Outer Mole');
    await browser.choose('Task', 'Impeller');
    await browser.gone('//*[@role="row"][contains(., "Razorbill")]');
    await browser.see('//*[@role="row"][contains(., "Phalarope")]');
    // The lines of the choice before stand until those of this one are there.
    await browser.until(async () => {
      const labels = await browser.attributes('//*[@role="grid"]//button[@aria-label]', 'aria-label');
      return labels.length > 0 && labels.every((label) => label.includes('Impeller: '));
    }, 'not narrowed to the impeller');
  });

  test('why, by keyboard alone: down the lines, along a line, open, close', async () => {
    // The worst first: each of them has a mark to step on.
    await browser.go('/due');
    await browser.see('//*[@role="grid"]//button');
    await browser.driver.executeScript(`document.querySelector('[role="grid"] [data-at="here"]').focus()`);
    const here = () =>
      browser.driver.executeScript<string>(
        'return (document.activeElement.closest("[data-row]")?.dataset.row ?? "none") + " " + (document.activeElement.dataset.item ?? "none")',
      );
    expect(await here()).toBe('0 0');
    await browser.press(Key.ARROW_DOWN);
    await browser.until(async () => (await here()) === '1 0');
    await browser.press(Key.ARROW_RIGHT);
    await browser.until(async () => (await here()) === '1 1');
    await browser.press(Key.END);
    const last = Number(await browser.attribute('//*[@role="grid"]', 'aria-rowcount')) - 2;
    await browser.until(async () => (await here()).startsWith(`${last} `));
    await browser.press(Key.HOME);
    await browser.until(async () => (await here()) === '0 0');
    await browser.press(Key.ENTER);
    await browser.see('//aside[@aria-label="Why"]//h2');
    const why = await browser.text('//aside[@aria-label="Why"]');
    expect(why).toContain('whichever comes first');
    expect(why).toContain('outranks it');
    await browser.press(Key.ESCAPE);
    await browser.gone('//aside[@aria-label="Why"]');
  });

  test('an engine without a meter says its hours are worked out from hires', async () => {
    await browser.go('/due?q=Ruff&task=gear-lube');
    await browser.click('(//*[@role="gridcell"]//button)[1]');
    await browser.seeText('no meter; by its hires about');
  });

  test('the season shows half a year, and rows scroll without blank gaps', async () => {
    await browser.go('/due?view=season&sort=boat');
    await browser.see('//*[@role="grid"]//button');
    const blank = await browser.driver.executeAsyncScript<number>(`
      const done = arguments[0]; let worst = 0; let y = 0;
      const step = () => {
        const lines = [...document.querySelectorAll('[role="row"][data-row]')]
          .map((l) => l.getBoundingClientRect())
          .sort((a, b) => a.top - b.top);
        const rows = document.querySelector('[role="row"][data-row]').parentElement.getBoundingClientRect();
        const top = Math.max(rows.top, 130), bottom = Math.min(rows.bottom, innerHeight);
        const [above, below] = [(lines[0]?.top ?? bottom) - top, bottom - (lines.at(-1)?.bottom ?? top)];
        if (bottom > top) worst = Math.max(worst, above, below);
        if (y > document.body.scrollHeight - innerHeight) return done(worst);
        scrollTo(0, (y += 90)); requestAnimationFrame(() => requestAnimationFrame(step));
      };
      step();`);
    expect(blank).toBeLessThan(2);
  });
});

describe('hires', () => {
  test('a boat is booked out by hand, and the chart shows it', async () => {
    await browser.go('/fleet/hires');
    await browser.button('Book a boat out');
    await browser.see('//*[@role="dialog"]');
    await browser.fill('Boat', 'Noddy');
    await browser.click('//li[@role="option"][normalize-space(.)="Noddy"]');
    await browser.fill('Reference', 'TEST-1');
    await browser.button('Book it out');
    await browser.seeText('Noddy is booked out');
    await browser.see('//tr[contains(., "TEST-1")]');
    await browser.go('/due?q=Noddy');
    await browser.see('//*[@role="row"]//*[contains(., "1 hire")]');
  });

  test('a calendar file with a repeating hire is looked at, written, and changes nothing twice', async () => {
    const file = join(folder, 'club.ics');
    writeFileSync(
      file,
      [
        'BEGIN:VCALENDAR',
        'VERSION:2.0',
        'PRODID:-//Test//EN',
        'BEGIN:VEVENT',
        'UID:club-1',
        'DTSTAMP:20260101T000000Z',
        `DTSTART;TZID=Atlantic/Madeira:${stamp(2, '140000')}`,
        `DTEND;TZID=Atlantic/Madeira:${stamp(2, '180000')}`,
        'RRULE:FREQ=WEEKLY;COUNT=6',
        'SUMMARY:Dotterel for the club',
        'END:VEVENT',
        'BEGIN:VEVENT',
        'UID:club-2',
        'DTSTAMP:20260101T000000Z',
        `DTSTART:${stamp(3, '100000Z')}`,
        `DTEND:${stamp(3, '120000Z')}`,
        'SUMMARY:Committee meeting',
        'END:VEVENT',
        'END:VCALENDAR',
      ].join('\r\n'),
    );
    await browser.go('/fleet/hires/calendars');
    await browser.see('//input[@type="file"]');
    await browser.attach(file);
    await browser.seeText('6 new bookings');
    await browser.seeText('names no boat of the book');
    await browser.button('Write 6 bookings into the book');
    await browser.seeText('club.ics is in the book: 6 new');
    await browser.driver.navigate().refresh();
    await browser.see('//input[@type="file"]');
    await browser.attach(file);
    await browser.seeText('Nothing in this file is new to the book.');
  });

  test('the booking desk’s calendar is followed and read again', async () => {
    await browser.button('Read now: Larkspur booking desk');
    await browser.seeText('as before');
  });
});

describe('many at once', () => {
  const lines = '//*[@role="dialog"]//ul[@aria-label]/li';
  /** Says why, where something is against what is chosen. */
  const sayWhy = async (why: string) => {
    await browser.seeText('in all');
    const field = '//*[@role="dialog"]//label[contains(., "Why it is done all the same")]';
    if ((await browser.count(field)) > 0) await browser.fill('Why it is done all the same', why);
  };
  test('several boats are handed out in one decision, and taken back in one', async () => {
    await browser.go('/due?view=list');
    await browser.button('Hand out several boats');
    await browser.see(lines);
    for (const n of [1, 2, 3]) await browser.click(`(${lines})[${n}]//input`);
    await browser.seeText('3 chosen, ');
    await sayWhy('the yard is closed next week');
    await browser.button('Hand out 3 boats');
    await browser.seeText('3 boats handed out for');
    await browser.button('Take it back');
    await browser.seeText('Taken back: 3 cards stand as before.');
  });

  test('the cards of a week go a week on, those that were begun stay', async () => {
    await browser.go('/jobs');
    await browser.button('Move several days’ cards');
    await browser.see(lines);
    const n = await browser.count(lines);
    await browser.seeText(`${n} chosen, `);
    await sayWhy('the crane is out');
    await browser.button(`Move ${n} card${n === 1 ? '' : 's'}`);
    await browser.seeText('moved a week later.');
    await browser.button('Take it back');
    await browser.seeText('Taken back:');
  });
});
