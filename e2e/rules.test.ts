import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { closeBook, openBook } from './book.ts';
import { Browser } from './browser.ts';

const book = await openBook();
const { address } = book;
let browser: Browser;
beforeAll(async () => {
  browser = await Browser.open(address);
  await browser.signIn('Ilse Maren');
});
afterAll(async () => {
  await browser.close();
  await closeBook(book);
});

describe('rules', () => {
  test('another answer is worked out on the fleet before it is kept, one engine seen under each', async () => {
    await browser.go('/rules');
    await browser.click('//label[contains(., "Every 24 months, however little it ran")]//input');
    await browser.seeText('due dates');
    expect(await browser.text('//p[@role="status"][contains(., "touched")]/following::table[1]')).toMatch(
      /A year like the one behind[\s\S]*A year ahead/,
    );
    await browser.fill('See it on one engine', 'Lapwing');
    await browser.click('//li[@role="option"][starts-with(normalize-space(.), "Lapwing")]');
    await browser.see(
      '//label[.="See it on one engine"]/following::tr[contains(., "Every 300 h, with the big service")]',
    );
    await browser.fill('Why it is answered otherwise', 'our pumps last');
    await browser.button('Answer it so');
    await browser.seeText('is answered: every 24 months, however little it ran.');
    await browser.go('/due?view=list&task=impeller&q=Lapwing');
    await browser.click('//button[contains(., "Why: Lapwing")]');
    await browser.seeText('is answered “every 24 months, however little it ran”');
    // Back as it was, for who comes after.
    await browser.go('/rules');
    await browser.click('//label[contains(., "Every 12 months or 200 h")]//input');
    await browser.fill('Why it is answered otherwise', 'our pumps last');
    await browser.button('Answer it so');
    await browser.seeText('is answered: every 12 months or 200 h.');
  });

  test('a boat’s own rule stands with its reason beside the due date; ended, the fleet’s holds again', async () => {
    await browser.go('/rules/own');
    await browser.fill('Boat', 'Lapwing');
    await browser.click('//li[@role="option"][normalize-space(.)="Lapwing"]');
    await browser.choose('Task', 'Gear lube');
    await browser.fill('Every, hours', '60');
    await browser.fill('Because', 'works the sandbanks');
    await browser.button('Work it out');
    await browser.seeText('1 engine touched.');
    await browser.button('Set it');
    await browser.see('//tr[contains(., "Lapwing")][contains(., "60 h")][contains(., "works the sandbanks")]');
    await browser.go('/due?view=list&task=gear-lube&q=Lapwing');
    await browser.click('//button[contains(., "Why: Lapwing")]');
    await browser.seeText('Set for this boat by Ilse Maren: works the sandbanks.');
    await browser.go('/rules/own');
    await browser.button('end it: the rule of Lapwing for gear lube');
    await browser.button('End it');
    await browser.seeText('follows the fleet’s rule for gear lube again');
  });

  test('the yard writes its own steps, only where a model is built so; kept as a version, taken back', async () => {
    await browser.go('/rules/steps?of=grease');
    await browser.seeText('as it comes with the book');
    await browser.button('Add a step');
    await browser.see('//p[@role="alert"][contains(., "Say what is to be done")]');
    await browser.fill('What is to be done', 'Grease the cover’s pegs');
    await browser.choose('Only where', 'Side cover');
    await browser.click('//label[starts-with(normalize-space(.), "is")]//option[normalize-space(.)="yes"]');
    await browser.see('//button[normalize-space(.)="Side cover: yes ×"]');
    await browser.seeText('only where: Side cover: yes');
    // Nothing typed is lost by leaving the page.
    await browser.go('/rules/steps?of=anodes');
    await browser.go('/rules/steps?of=grease');
    await browser.fill('Why it is changed', 'pegs squeak');
    await browser.click('//button[starts-with(normalize-space(.), "Keep as version")]');
    await browser.seeText('Cards issued from now on have these steps of grease points');
    await browser.seeText('the yard’s own, version 2, by Ilse');
    await browser.button('Take the book’s steps again');
    await browser.fill('Why it is changed', 'as before');
    await browser.click('//button[starts-with(normalize-space(.), "Keep as version")]');
    await browser.seeText('Why it was changed: as before');
    expect(await browser.count('//ol[@aria-label="Steps"]/li[contains(., "pegs")]')).toBe(0);
  });

  test('of the steps that open and close, the words change and the step stays', async () => {
    await browser.go('/rules/steps');
    await browser.click('//nav[@aria-label="Tasks"]//button[normalize-space(.)="Lower unit"]');
    await browser.click(
      '//ol[@aria-label="Steps"]/li[contains(., "wiggle it down")]//button[normalize-space(.)="edit"]',
    );
    await browser.seeText('Other steps hang on this one');
    expect(await browser.count('//button[normalize-space(.)="Take this step out"]')).toBe(0);
    await browser.fill('Caution', 'Two of us, always.');
    await browser.see('//button[starts-with(normalize-space(.), "Keep as version")]');
    await browser.button('Leave it as it was');
    await browser.seeText('support it before working under it');
  });
});
