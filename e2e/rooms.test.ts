import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { addDays } from '@diurna/core/calendar';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { closeBook, openBook } from './book.ts';
import { Browser, DESK, PHONE } from './browser.ts';

/** The other people of the yard at their own work, and a book that begins empty. */
const book = await openBook();
const { address } = book;
let browser: Browser;
beforeAll(async () => {
  browser = await Browser.open(address, DESK);
});
afterAll(async () => {
  await browser.close();
  await closeBook(book);
});

describe('the stores keeper', () => {
  const onHand = (base: string) =>
    browser.text(`//h2[.="On hand"]/following::tr[td[1][normalize-space(.)="${base}"]][1]/td[3]`);

  test('receives a delivery, counts the shelf, and the ledger tells both', async () => {
    await browser.signIn('Hanne Brook');
    await browser.click('//a[normalize-space(.)="PK-SK90"]');
    await browser.see('//h1[normalize-space(.)="PK-SK90"]');
    const before = Number(await onHand('Brindle Quay'));
    await browser.button('Receive');
    await browser.fill('How many', '4');
    await browser.fill('Note', 'delivery of Tuesday');
    await browser.click('//button[@type="submit"][normalize-space(.)="Receive"]');
    await browser.seeText(`PK-SK90: ${before + 4} on hand now.`);
    await browser.button('Count');
    await browser.fill('On the shelf', String(before + 3));
    await browser.click('//button[@type="submit"][normalize-space(.)="Count"]');
    await browser.seeText(`PK-SK90: ${before + 3} on hand now.`);
    await browser.until(async () => (await onHand('Brindle Quay')) === String(before + 3));
    const ledger = await browser.text('//h2[.="Ledger"]/following::tbody[1]');
    expect(ledger).toMatch(/counted -1 \d+ Hanne Brook/);
    expect(ledger).toMatch(/received \+4 \d+ Hanne Brook delivery of Tuesday/);
  });

  test('cannot move more than the shelf has: it is said, and nothing moves', async () => {
    const before = await onHand('Brindle Quay');
    await browser.button('Send to another base');
    await browser.fill('How many', '99');
    await browser.choose('To', 'Outer Mole');
    await browser.click('//button[@type="submit"][normalize-space(.)="Send"]');
    await browser.seeText('99 cannot leave it. Count it first if that is wrong.');
    expect(await onHand('Brindle Quay')).toBe(before);
  });

  test('sees what is short for what comes up, by model', async () => {
    await browser.go('/stores');
    const cell = await browser.text(
      '//table[@aria-label="What the shelves still do, by model"]//tr[contains(., "Corvane 60")]/td[2]',
    );
    expect(cell).toContain('up to C60-40116');
    expect(cell).toContain('from C60-40117');
  });
});

describe('the coordinator keeps the fleet', () => {
  test('adds a boat and an engine, corrects a form, and the engine falls due as unknown', async () => {
    await browser.signIn('Ilse Maren');
    await browser.go('/fleet');
    await browser.button('Add a boat');
    await browser.see('//*[@role="dialog"]');
    await browser.click('//button[@type="submit"][normalize-space(.)="Add the boat"]');
    await browser.seeText('Name is missing');
    await browser.fill('Name', 'Whimbrel');
    await browser.click('//button[@type="submit"][normalize-space(.)="Add the boat"]');
    await browser.seeText('Another boat in the fleet has this name.');
    await browser.fill('Name', 'Bittern');
    await browser.click('//button[@type="submit"][normalize-space(.)="Add the boat"]');
    await browser.see('//h1[normalize-space(.)="Bittern"]');
    await browser.button('Add an engine');
    await browser.see('//*[@role="dialog"]');
    await browser.fill('Serial', 'C60-77001');
    await browser.choose('Model', 'Corvane 60');
    await browser.click('//button[@type="submit"][normalize-space(.)="Add the engine"]');
    await browser.see('//td[normalize-space(.)="C60-77001"]');
    await browser.go('/due?view=list&q=Bittern');
    await browser.see('//tbody/tr[contains(., "Bittern")][contains(., "no history")]');
  });

  test('writes down earlier work; the wrong entry is corrected, not erased', async () => {
    await browser.click('//tbody/tr[1]//a[contains(., "Bittern")]');
    await browser.button('Write down earlier work');
    for (const task of ['Gear lube', 'Impeller'])
      await browser.click(`//fieldset//label[normalize-space(.)="${task}"]//input`);
    // A day is typed part by part, whatever order the machine's own language would ask for.
    const [base] = await browser.call<{ today: string }[]>('GET', '/fleet/bases');
    const day = addDays(base!.today, -2);
    await browser.fillDay('Done on', day);
    await browser.click('//button[@type="submit"][normalize-space(.)="Write it down"]');
    await browser.seeText('2 tasks are in the log.');
    const log = await browser.call<{ rows: { task: string; doneOn: string }[] }>('GET', '/service/entries?q=Bittern');
    expect(log.rows.filter((e) => e.task === 'impeller').map((e) => e.doneOn)).toContain(day);
    await browser.see('//h2[.="Next due"]/following::tr[contains(., "Gear lube")][1]//*[contains(., "left")]');
    await browser.click(
      '//h2[.="Service history"]/following::*[self::tr or self::li][contains(., "Gear lube")][1]//button[normalize-space(.)="wrong?"]',
    );
    await browser.fill('Why', 'it was the boat beside it');
    await browser.button('Cancel the entry');
    await browser.see('//tr[contains(., "it was the boat beside it")]');
    await browser.see('//h2[.="Next due"]/following::tr[contains(., "Gear lube")][1]//*[contains(., "unknown")]');
    await browser.see('//h2[.="Next due"]/following::tr[contains(., "Impeller")][1]//*[contains(., "left")]');
  });

  test('changes a programme, and due dates follow at once', async () => {
    await browser.go('/due?view=list&task=impeller&q=Whimbrel');
    await browser.see('//tbody/tr[contains(., "4 h left")]');
    await browser.go('/fleet/models');
    await browser.click('//a[normalize-space(.)="Skarn 90"]');
    await browser.fill('Impeller, hours', '150');
    await browser.button('Work out what this does to the fleet');
    await browser.seeText('earlier, 0 later');
    await browser.button('Keep the changes');
    await browser.seeText('Due dates follow the programme from now on.');
    await browser.go('/due?view=list&task=impeller&q=Whimbrel');
    await browser.see('//tbody/tr[contains(., "46 h over")]');
  });

  test('changes a meter; life hours go on', async () => {
    await browser.go('/fleet');
    await browser.click('//tr[contains(., "Skua")]//a[normalize-space(.)="single"]');
    const hours = Number(/([\d.]+) h/.exec(await browser.text('//dl'))![1]);
    await browser.button('Change the meter');
    await browser.fill('Old meter showed', (hours + 2).toFixed(1));
    await browser.fill('New meter shows', '0');
    await browser.fill('Why', 'the display went blank');
    await browser.click('//button[@type="submit"][normalize-space(.)="Change it"]');
    await browser.seeText('life hours go on without a step');
    await browser.see(`//dl[contains(., "${(hours + 2).toFixed(1)} h")]`);
  });

  test('calls a job off: its work is due again, with nobody', async () => {
    await browser.go('/jobs?whose=all&show=open');
    const boat = await browser.text('(//ul[@aria-label="Job cards"]//a)[1]//b');
    await browser.click('(//ul[@aria-label="Job cards"]//a)[1]');
    await browser.button('Call the job off');
    await browser.fill('Why', 'the boat went out early');
    await browser.button('Call it off');
    await browser.seeText(`${boat} is called off.`);
    await browser.go(`/due?view=list&q=${boat}`);
    await browser.see('//button[starts-with(@aria-label, "Hand out work on")]');
  });
});

describe('the dock hand, on a phone', () => {
  test('types the hours of a boat that came back, in two taps and a figure', async () => {
    await browser.resize(PHONE);
    await browser.signIn('Bram Tidewell');
    await browser.see('//h1[normalize-space(.)="Boats back"]');
    await browser.click('//ul[@aria-label="Coming back"]//button[@aria-expanded][contains(., "Sanderling")]');
    const was = Number(await browser.text('//label[contains(., "was")]//span/span'));
    await browser.press((was + 1).toFixed(1));
    await browser.seeText('+1 h');
    await browser.button('Write it down');
    await browser.seeText('Hours of Sanderling are written down.');
    await browser.see(
      '//ul[@aria-label="Coming back"]//button[@aria-expanded][contains(., "Sanderling")][contains(., "hours in")]',
    );
  });

  test('and reports a snag with a picture, which the coordinator sees and closes', async () => {
    await browser.click('//ul[@aria-label="Coming back"]//button[@aria-expanded][contains(., "Sanderling")]');
    await browser.button('Something is wrong');
    await browser.button('Weak or no cooling stream');
    await browser.fill('In your words, if you like', 'Weak stream, then an alarm');
    const picture = join(mkdtempSync(join(tmpdir(), 'diurna-snag-')), 'stream.png');
    writeFileSync(picture, Buffer.from(await browser.driver.takeScreenshot(), 'base64'));
    await browser.attach(picture);
    await browser.see('//img[@alt="What you took"]');
    await browser.button('Report it');
    await browser.seeText('The snag of Sanderling is written down.');
    await browser.sent();
    await browser.resize(DESK);
    await browser.signIn('Ilse Maren');
    await browser.see(
      '//h2[.="Snags"]/following-sibling::ul/li[contains(., "Weak stream, then an alarm")]//a[.="picture"]',
    );
    await browser.click('//button[starts-with(@aria-label, "likely causes, Sanderling")]');
    await browser.see(
      '//section[starts-with(@aria-label, "Likely causes")]//ol/li[1][contains(., "Worn pump impeller")]',
    );
    await browser.click('//button[starts-with(@aria-label, "close it: the snag of Sanderling")]');
    await browser.fill('What was done', 'impeller renewed');
    await browser.button('Close it');
    await browser.gone('//li[contains(., "Weak stream, then an alarm")]');
  });
});

describe('the administrator', () => {
  test('lets a person in, and the person signs in', async () => {
    await browser.signIn('Wyn Aldous');
    await browser.go('/yard');
    await browser.button('Add a person');
    await browser.fill('Name', 'Nils Reed');
    await browser.fill('Signs in as', 'nils');
    await browser.fill('Password', 'short');
    await browser.click('//button[@type="submit"][normalize-space(.)="Add the person"]');
    await browser.seeText('Password is too short: twelve characters or more');
    await browser.fill('Password', 'long-enough-for-nils');
    await browser.click('//button[@type="submit"][normalize-space(.)="Add the person"]');
    await browser.seeText('Nils Reed is in the yard’s list.');
    await browser.button('Sign out');
    await browser.seeText('The invented yard');
    await browser.fill('Name', 'nils');
    await browser.fill('Password', 'long-enough-for-nils');
    await browser.button('Open the book');
    await browser.see('//h1[normalize-space(.)="Jobs today"]');
    await browser.seeText('Nothing for you here.');
  });
});

describe('an empty book', () => {
  test('begins with its administrator, and each empty room says what comes next', async () => {
    const emptyBook = await openBook({ empty: true });
    const empty = await Browser.open(emptyBook.address, DESK);
    try {
      await empty.go('/');
      await empty.seeText('This book is empty. Begin it.');
      expect(await empty.count('//h2[@id="demo-people"]')).toBe(0);
      for (const [label, value] of [
        ['Company', 'Reed Hire'],
        ['First base', 'Reed Quay'],
        ['Its time zone', 'Europe/Lisbon'],
        ['Your name', 'Ada Reed'],
        ['Name to sign in with', 'ada'],
        ['Password', 'a-password-of-ada'],
      ] as const)
        await empty.fill(label, value);
      await empty.button('Begin the book');
      await empty.see('//nav[@aria-label="Rooms"]');
      await empty.seeText('Nobody works here yet.');
      await empty.go('/due');
      await empty.seeText('No engines yet.');
      await empty.go('/stores');
      await empty.seeText('The shelf list is empty.');
      await empty.go('/fleet');
      await empty.seeText('No boat here.');
      await empty.go('/records');
      await empty.seeText('Nothing is written down here yet.');
    } finally {
      await empty.close();
    }
  });
});
