import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { closeBook, openBook } from './book.ts';
import { Browser, DESK, PHONE } from './browser.ts';
import { badTexts } from './texts.ts';
import { turn, VIEWS, wider } from './views.ts';

/** Every view through a general accessibility engine, at desk and phone size, in all three lights. */
const book = await openBook({ boxes: true });
const { address } = book;
const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
let browser: Browser;
beforeAll(async () => {
  browser = await Browser.open(address, DESK);
});
afterAll(async () => {
  await browser.close();
  await closeBook(book);
});

interface Violation {
  id: string;
  impact: string;
  nodes: { html: string; failureSummary: string }[];
}

async function violations(rules = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']): Promise<string[]> {
  const loaded = await browser.driver.executeScript<boolean>('return typeof window.axe === "object"');
  if (!loaded) await browser.driver.executeScript(axe);
  return look(rules);
}

async function look(rules: string[]): Promise<string[]> {
  const found = await browser.driver.executeAsyncScript<Violation[]>(
    `
    const done = arguments[1];
    axe.run(document, { runOnly: arguments[0], resultTypes: ['violations'], elementRef: false })
      .then((r) => done(r.violations));`,
    rules,
  );
  return found
    .filter((v) => v.impact === 'serious' || v.impact === 'critical')
    .flatMap((v) =>
      v.nodes
        // What a bar at the edge half covers is scrolled out from under it; sizes are measured by the test below.
        .filter((n) => !n.failureSummary.includes('partially obscured'))
        .map((n) => `${v.id}: ${n.html.slice(0, 160)} ${n.failureSummary.slice(0, 200)}`),
    );
}

describe('no serious or critical violation', () => {
  test('at the door', async () => {
    await browser.go('/');
    await browser.seeText('The invented yard');
    expect(await violations()).toEqual([]);
    await browser.click('//section[@aria-labelledby="demo-people"]//button[contains(., "Wyn Aldous")]');
    await browser.see('//nav[@aria-label="Rooms"]');
  });

  test.each(VIEWS)('%s, on the desk and on the phone', async (path, there) => {
    await turn(browser, path, there);
    expect(await violations()).toEqual([]);
    expect(await wider(browser)).toBeLessThanOrEqual(0);
    expect(await badTexts(browser)).toEqual([]);
    await browser.resize(PHONE);
    await browser.see(there);
    expect(await violations()).toEqual([]);
    expect(await wider(browser)).toBeLessThanOrEqual(0);
    expect(await badTexts(browser)).toEqual([]);
    await browser.resize(DESK);
  });

  // What another light changes is its colours alone.
  test.each(['dark', 'sun'])('in %s light', async (mode) => {
    await browser.driver.executeScript(`localStorage.setItem('diurna.mode', '${mode}')`);
    for (const [path, there] of [VIEWS[0]!, VIEWS[1]!, VIEWS[3]!, VIEWS[9]!, VIEWS[10]!]) {
      await browser.go(path);
      await browser.see(there);
      expect({ path, found: await violations(['color-contrast']) }).toEqual({ path, found: [] });
    }
    await browser.driver.executeScript("localStorage.setItem('diurna.mode', 'day')");
  });

  test('targets on the phone are large enough for a thumb (WCAG 2.2 AA asks 24 px, we keep 40)', async () => {
    await browser.resize(PHONE);
    await browser.go('/jobs/1');
    await browser.see('//article');
    const small = await browser.driver.executeScript<string[]>(`
      return [...document.querySelectorAll('main button, main input, nav[aria-label="Rooms"] a')].filter((e) => { const r = e.getBoundingClientRect(); return r.height > 0 && r.height < 40; }).map((e) => e.outerHTML.slice(0, 80));`);
    expect(small).toEqual([]);
  });
});

test('each role opens where it works first, and sees only what it may do', async () => {
  await browser.resize(DESK);
  await browser.signIn('Hanne Brook');
  await browser.see('//h1[normalize-space(.)="Stores"]');
  await browser.signIn('Bram Tidewell');
  await browser.see('//h1[normalize-space(.)="Boats back"]');
  await browser.signIn('Odile Farrow');
  await browser.go('/due?view=list');
  await browser.see('//tbody/tr');
  expect(await browser.count('//button[normalize-space(.)="Hand out"]')).toBe(0);
});
