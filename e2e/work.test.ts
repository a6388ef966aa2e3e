import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Key } from 'selenium-webdriver';
import { closeBook, openBook } from './book.ts';
import { Browser, DESK, PHONE } from './browser.ts';

/** The seven steps of a day, driven as people do them: coordinator at the desk, technician on the phone. */
const book = await openBook();
const { address } = book;
let desk: Browser;
let phone: Browser;
beforeAll(async () => {
  desk = await Browser.open(address, DESK);
  phone = await Browser.open(address, PHONE, { wired: true });
});
afterAll(async () => {
  await desk.close();
  await phone.close();
  await closeBook(book);
});

describe('the coordinator', () => {
  test('is kept out with a wrong password, and let in with the right one', async () => {
    await desk.go('/due');
    await desk.fill('Name', 'ilse');
    await desk.fill('Password', 'not-the-password');
    await desk.button('Open the book');
    await desk.seeText('Name and password do not belong together');
    await desk.fill('Password', 'shorebird-demo');
    await desk.button('Open the book');
    await desk.see('//h1[contains(., "day")]');
    expect(await desk.text('//nav[@aria-label="Rooms"]')).toContain('Due');
  });

  test('types hours down the column by keyboard; a slip is questioned in place and corrected', async () => {
    await desk.go('/day/hours');
    const was = Number(await desk.text('//tr[th[contains(., "Dunlin")]]/td[starts-with(@id, "was-")]'));
    const next = Number(
      await desk.text('//tr[th[contains(., "Fulmar") and contains(., "port")]]/td[starts-with(@id, "was-")]'),
    );
    await desk.fill('Hours of Dunlin', (was - 5).toFixed(1));
    expect(await desk.text('//tr[th[contains(., "Dunlin")]]/td[starts-with(@id, "verdict-")]')).toContain(
      '5 h below the last reading',
    );
    await desk.fill('Hours of Dunlin', (was + 2.5).toFixed(1));
    await desk.press(Key.ENTER);
    await desk.press(String(next + 1));
    await desk.seeText('+2.5 h');
    await desk.see('//input[@aria-label="Hours of Fulmar port"][@value!=""]');
    await desk.button('Write 2 figures into the book');
    await desk.seeText('2 figures in the book.');
    await desk.see(`//tr[th[contains(., "Dunlin")]]/td[starts-with(@id, "was-")][.="${(was + 2.5).toFixed(1)}"]`);
  });

  test('what was typed survives a reload', async () => {
    await desk.fill('Hours of Petrel', '9999');
    await desk.driver.navigate().refresh();
    await desk.see('//input[@aria-label="Hours of Petrel"][@value="9999"]');
    await desk.seeText('more than 24 h a day');
    await desk.fill('Hours of Petrel', Key.BACK_SPACE);
  });

  test('sees what is due, worst first, and why', async () => {
    await desk.press(Key.ESCAPE);
    await desk.go('/due?view=list&task=gear-lube');
    await desk.click('//button[contains(., "Why: Turnstone starboard")]');
    await desk.see('//aside[@aria-label="Why"]//h2');
    const why = await desk.text('//aside[@aria-label="Why"]');
    expect(why).toContain('6 h over');
    expect(why).toContain('Gear lube: every 100 h or 12 months, whichever comes first.');
    expect(why).toMatch(/By hours: limit [\d.]+ h, now [\d.]+ h, 6 h over\./);
    expect(why).toMatch(/By calendar: limit .* days left\./);
  });

  test('hands the work to a technician, with minutes and parts worked out', async () => {
    await desk.click('//aside[@aria-label="Why"]//button[normalize-space(.)="Hand out"]');
    await desk.seeText('saved by doing it in one visit');
    await desk.seeText('Gear lube 80, light');
    await desk.choose('Technician', 'Ines Okoye');
    // At some hours and on some days something is against it: then it wants a reason.
    const submit = '//button[@type="submit"][starts-with(normalize-space(.), "Hand out")]';
    const reason = '//label[contains(., "Why it is handed out all the same")]';
    await desk.until(async () => (await desk.count(`${submit}[not(@disabled)]`)) + (await desk.count(reason)) > 0);
    if ((await desk.count(reason)) > 0) await desk.fill('Why it is handed out all the same', 'she stays longer');
    await desk.click(submit);
    await desk.seeText('Turnstone goes to Ines');
    await desk.see('//tr[contains(., "Turnstone")]//a[starts-with(., "Ines")]');
  });
});

describe('the technician, on a phone', () => {
  let used = '';

  test('sees the day’s jobs and opens one', async () => {
    await phone.signIn('Ines Okoye');
    await phone.click('//ul[@aria-label="Job cards"]//a[contains(., "Turnstone")]');
    // The caution stands with the first step.
    await phone.seeText('Kill-switch lanyard off and battery isolated before hands go near propeller or plugs.');
    expect(await phone.text('//article')).toMatch(/Case holds\s+0\.64 L = 21\.64 US fl oz/);
    expect(await phone.text('//article')).toContain('Follow the engine maker’s manual');
  });

  test('cannot finish before a task is ticked; ticks all, and the unit trap is caught', async () => {
    expect(await phone.count('//button[normalize-space(.)="Finish the job"][@disabled]')).toBe(1);
    // Tasks as a whole, then what a person confirms before the boat goes back.
    const open = '//button[@role="checkbox"][@aria-checked="false"]';
    const task = `//section[starts-with(@aria-label, "Turnstone")]${open}`;
    for (let left = await phone.count(task); left > 0; left = await phone.count(task)) {
      await phone.click(`(${task})[1]`);
      await phone.until(async () => (await phone.count(task)) < left);
    }
    await phone.seeText('Before it goes back on hire');
    const picked = '//*[@role="group"][@aria-label="The step at hand"][contains(., "out of order")]';
    for (let gates = await phone.count(open); gates > 0; gates = await phone.count(open)) {
      await phone.click(`(${open})[1]`);
      const left = gates;
      await phone.until(
        async () => (await phone.count(open)) < left || (await phone.count(picked)) > 0,
        'neither confirmed nor asked',
      );
      // What a gate rests on is asked first: stream, leaks, the level after the run.
      for (const word of ['soon and strong', 'out', 'dry', 'upper half']) {
        const look = `${picked}//button[@role="radio"][@aria-checked="false"][normalize-space(.)="${word}"]`;
        if ((await phone.count(look)) > 0) await phone.click(look);
      }
      if ((await phone.count(picked)) > 0) await phone.button('I confirm it');
      await phone.until(async () => (await phone.count(open)) < left);
    }
    await phone.seeText('all confirmed');
    // 0.68 typed as litres is what 0.64 L is in quarts.
    await phone.fill('Volume put in, Gear lube, starboard', '0.676');
    await phone.seeText('looks like US qt, not L');
    await phone.fill('Volume put in, Gear lube, starboard', '0.6');
    await phone.gone('//*[contains(text(), "looks like US qt")]');
  });

  test('enters hours, changes a part, leaves a remark; a reload loses nothing', async () => {
    const was = /was ([\d.]+)/.exec(await phone.text('//section[@aria-label="Turnstone starboard"]'))![1]!;
    await phone.fill('Hours of Turnstone starboard', (Number(was) + 3).toFixed(1));
    await phone.fill('Used: Gear-case screw gasket', '3');
    await phone.button('Something wrong');
    await phone.fill('Remark, for the next one', 'Vent screw slot is worn.');
    await phone.button('Keep the remark');
    await phone.seeText('Vent screw slot is worn.');
    await phone.driver.navigate().refresh();
    await phone.seeText('Vent screw slot is worn.');
    used = await phone.text('//tr[contains(., "Gear lube 80")]/td[1]');
  });

  test('finishes without signal: kept on the phone over a reload, taken back, finished again', async () => {
    await phone.driver.executeAsyncScript(
      'const done = arguments[0]; navigator.serviceWorker.ready.then(() => done())',
    );
    await phone.driver.navigate().refresh();
    await phone.see('//button[normalize-space(.)="Finish the job"][not(@disabled)]');
    await phone.signal(false);
    await phone.seeText('No signal.');
    await phone.button('Finish it on this phone');
    await phone.seeText('It goes into the book when signal is back.');
    expect(await phone.count('//button[@role="checkbox"][not(@disabled)]')).toBe(0);
    await phone.driver.navigate().refresh();
    await phone.seeText('It goes into the book when signal is back.');
    await phone.button('Not yet: open it again');
    await phone.see('//input[@aria-label="Hours of Turnstone starboard"][@value!=""]');
    await phone.button('Finish it on this phone');
    await phone.go('/jobs');
    await phone.see(
      '//ul[@aria-label="Job cards"]//a[contains(., "Turnstone")][contains(., "finished on this phone, not yet in the book")]',
    );
    await phone.click('//ul[@aria-label="Job cards"]//a[contains(., "Turnstone")]');
  });

  test('signal is back: history, stock and next due dates in one go', async () => {
    await phone.signal(true);
    await phone.seeText('Turnstone is done and in the book.');
    await phone.seeText('✓ Finished');
    await phone.see('//tr[contains(., "Gear-case screw gasket")]//td[normalize-space(.)="3"]');
  });

  test('the coordinator sees the stock down, the history and the next limit', async () => {
    await desk.go('/stores');
    await desk.click('//a[normalize-space(.)="LUBE-80"]');
    await desk.see('//tr[contains(., "used on a job")]');
    expect(used).not.toBe('');
    const ledger = await desk.text('//tr[contains(., "used on a job")]');
    expect(ledger).toContain('-600 mL');
    await desk.go('/due?view=list&task=gear-lube&q=Turnstone');
    await desk.see('//tr[contains(., "starboard")]//*[contains(., "100 h left")]');
    await desk.go('/records');
    expect(await desk.text('//tbody/tr[contains(., "Turnstone")][1]')).toContain('Ines Okoye');
  });

  test('Stores sees what a finding asks for, says where the part lies, and notes the order', async () => {
    await desk.signIn('Hanne Brook');
    await desk.go('/stores');
    await desk.click('//button[starts-with(@aria-label, "See to it: parts for Kittiwake")]');
    await desk.fill('Order LUBE-80, mL', '1000');
    await desk.button('Note the order');
    await desk.seeText('Ordered for Kittiwake');
    await desk.gone('//section[@aria-label="Asked for by cards"]');
    await desk.click('//a[normalize-space(.)="LUBE-80"]');
    await desk.see('//tr[contains(., "for Kittiwake, gear lube")]');
    await desk.click('//button[contains(@aria-label, "the place at Brindle Quay")]');
    await desk.fill('Place at Brindle Quay', 'rack 7');
    await desk.button('Keep');
    await desk.see('//tr[contains(., "Brindle Quay")][contains(., "rack 7")]');
    await desk.signIn('Ilse Maren');
  });

  test('undoes the card by correcting entries; nothing is erased', async () => {
    await phone.button('Undo this card');
    await phone.fill('Why', 'it was the port engine');
    await phone.button('Undo it');
    await phone.seeText('Undone. The card is open again.');
    await desk.go('/records');
    await desk.see('//tr[contains(., "it was the port engine")]');
    await desk.go('/due?view=list&task=gear-lube&q=Turnstone');
    await desk.see('//tr[contains(., "starboard")]//*[contains(., "9 h over")]');
    await desk.go('/records/audit?');
    expect(await desk.text('//tbody/tr[1]')).toContain('undone job');
  });
});

describe('files', () => {
  test('a faulty file is shown cell by cell and not written; a good one is, and again changes nothing', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'diurna-files-'));
    const header = 'base,boat,position,maker,model,serial,power_hp,stroke,cylinders,time_zone\n';
    writeFileSync(join(folder, 'bad.csv'), `${header}Fourth Base,Brent,single,Corvane,60,C60-90001,,,,\n`);
    writeFileSync(
      join(folder, 'good.csv'),
      `${header}Fourth Base,Brent,single,Corvane,60,C60-90001,,,,Atlantic/Madeira\n`,
    );
    const choose = async (name: string) => desk.attach(join(folder, name));
    await desk.go('/fleet/files');
    await desk.see('//input[@type="file"]');
    await choose('bad.csv');
    await desk.see('//td[contains(., "Fourth Base is new to the book and needs a time zone")]');
    expect(await desk.count('//button[contains(., "into the book")]')).toBe(0);
    await choose('good.csv');
    await desk.button('Write 1 row into the book');
    await desk.seeText('good.csv is in the book: 1 new');
    await desk.go('/fleet/files');
    await desk.see('//input[@type="file"]');
    await choose('good.csv');
    await desk.seeText('Everything in this file is in the book already.');
  });
});

describe('by keyboard alone', () => {
  test('figures change rooms, / finds, ? lists, arrows turn the day, . comes back', async () => {
    await desk.go('/day');
    const today = await desk.text('//h1');
    await desk.press('5');
    await desk.see('//h1[normalize-space(.)="Stores"]');
    await desk.press('/');
    await desk.see('//input[@role="combobox"]');
    await desk.press('whim');
    await desk.see('//div[@role="option"][contains(., "Whimbrel")]');
    await desk.press(Key.ENTER);
    await desk.see('//h1[normalize-space(.)="Whimbrel"]');
    await desk.press('1');
    await desk.see(`//h1[normalize-space(.)="${today}"]`);
    await desk.driver.executeScript('document.querySelector("nav[aria-label=Days] button[aria-pressed=true]").focus()');
    await desk.press(Key.ARROW_RIGHT);
    await desk.gone(`//h1[normalize-space(.)="${today}"]`);
    await desk.press('.');
    await desk.see(`//h1[normalize-space(.)="${today}"]`);
    await desk.press('?');
    await desk.see('//*[@role="dialog"][h3[.="Keys"]]//h2[.="Day"]');
    await desk.press(Key.ESCAPE);
  });
});
