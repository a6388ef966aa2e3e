import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { openBook } from './book.ts';
import { Browser, DESK, PHONE } from './browser.ts';
import setup from './setup.mjs';
import teardown from './teardown.mjs';

const folder = join(import.meta.dirname, '../docs/screenshots');
mkdirSync(folder, { recursive: true });
process.env.DIURNA_E2E_FINE = '1';
await setup();
const book = await openBook({ boxes: true });
const browser = await Browser.open(book.address, DESK);

/** A picture of the top of a page, or, where what is done says so, of where it stands then. */
async function picture(name: string, path: string, there: string, act?: () => Promise<unknown>): Promise<void> {
  await browser.go(path);
  await browser.see(there);
  if ((await act?.()) !== 'stays') await browser.driver.executeScript('scrollTo(0, 0)');
  await browser.shot(join(folder, `${name}.png`));
}

try {
  await browser.signIn('Ilse Maren');
  await picture('day', '/day', '//*[@role="group"][starts-with(@aria-label, "The day by the hour")]');
  await picture('hours', '/day/hours', '//tbody/tr', async () => {
    const was = (boat: string) =>
      browser.text(`//tr[th[contains(., "${boat}")]]/td[starts-with(@id, "was-")]`).then(Number);
    await browser.fill('Hours of Avocet', ((await was('Avocet')) + 4.2).toFixed(1));
    await browser.fill('Hours of Dunlin', ((await was('Dunlin')) + 89).toFixed(1));
  });
  await browser.driver.executeScript('localStorage.clear()');
  await picture('due', '/due', '//*[@role="grid"]//button');
  await picture('plan', '/plan', '//*[@role="grid"]//*[@role="gridcell"]', async () => {
    await browser.button('Plan again');
    await browser.until(
      async () =>
        (await browser.count('//progress')) === 0 &&
        (await browser.count('//*[@role="gridcell"]//button[@aria-pressed]')) > 12,
    );
    await browser.click('(//*[@role="gridcell"]//button[@aria-pressed])[3]');
    await browser.seeText('Leaving it out of this plan would cost');
  });
  await picture('yard', '/yard', '//h2[.="Working hours"]');
  await picture('rules', '/rules', '//fieldset//input', async () => {
    await browser.click('//label[contains(., "Every 300 h, with the big service")]//input');
    await browser.seeText('Moves furthest');
  });
  await picture('stores', '/stores', '//table[@aria-label="What the shelves still do, by model"]//tbody/tr');
  await picture('orders', '/stores/orders?base=3', '//button[.="Order it"]', () =>
    browser.gone('//*[@role="progressbar"]'),
  );
  await picture('picks', '/stores/picks?base=1', '//ul[@aria-label="To pick"]/li');
  await picture('fleet', '/fleet', '//tbody/tr');
  await picture('engine', '/fleet/engines/3', '//h2[.="Readings"]');
  const { rows: boats } = await browser.call<{ rows: { name: string; engines: { id: number; position: string }[] }[] }>(
    'GET',
    '/fleet/boats?size=200',
  );
  const aged = boats.find((b) => b.name === 'Turnstone')!.engines.find((e) => e.position === 'starboard')!.id;
  const curves = '//h3[contains(., "Readings over time")]';
  await picture('condition', `/fleet/engines/${aged}`, curves, async () => {
    await browser.driver.executeScript('arguments[0].scrollIntoView(); scrollBy(0, -110)', await browser.see(curves));
    return 'stays';
  });
  await picture('jobs', '/jobs?show=open&whose=all', '//ul[@aria-label="Job cards"]//a');
  await picture('steps', '/rules/steps?of=gear-lube', '//ol[@aria-label="Steps"]/li');
  await picture('season', '/season?base=3', '//table[@aria-label="Boats of the season"]//tbody/tr');
  await browser.driver.executeScript("localStorage.setItem('diurna.mode', 'dark')");
  await picture('day-dark', '/day', '//*[@role="group"][starts-with(@aria-label, "The day by the hour")]');
  await browser.driver.executeScript("localStorage.setItem('diurna.mode', 'day')");
  await browser.resize(PHONE);
  await browser.signIn('Ines Okoye');
  await picture('phone-jobs', '/jobs', '//ul[@aria-label="Job cards"]//a');
  // In the middle of the work: what drains, the step at hand.
  await browser.click('(//ul[@aria-label="Job cards"]//a[contains(., "Noddy")])[1]');
  const next = '//*[@role="group"][@aria-label="Tick the step"]//button[not(@disabled)][.!="Something wrong"]';
  for (let i = 0; i < 14 && (await browser.count('//p[@role="timer"]')) === 0; i++) {
    const step = await browser.text('//*[@role="group"][@aria-label="The step at hand"]//h2');
    const unanswered =
      '(//*[@role="group"][@aria-label="The step at hand"]//*[@role="radiogroup"][not(.//*[@aria-checked="true"])]//button[@role="radio"])[1]';
    while ((await browser.count(unanswered)) > 0) {
      await browser.click(unanswered);
      await browser.settled();
    }
    await browser.click(next);
    await browser.until(
      async () => (await browser.text('//*[@role="group"][@aria-label="The step at hand"]//h2')) !== step,
    );
  }
  await browser.driver.executeScript('scrollTo(0, 0)');
  await browser.shot(join(folder, 'phone-card.png'));
  await browser.driver.executeScript("localStorage.setItem('diurna.mode', 'sun')");
  await browser.signIn('Bram Tidewell');
  await picture('phone-back-sun', '/day/back', '//ul[@aria-label="Coming back"]', () =>
    browser.click('//ul[@aria-label="Coming back"]//button[@aria-expanded][contains(., "Sanderling")]'),
  );
} finally {
  await browser.close();
  await teardown();
}
