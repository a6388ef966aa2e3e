import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { closeBook, openBook } from './book.ts';
import { Browser, DESK } from './browser.ts';
import { turn, VIEWS, wider } from './views.ts';

/** Room for the work on every view, at the sizes of desks, phones and a tablet. */
const book = await openBook({ boxes: true });
let browser: Browser;
beforeAll(async () => {
  browser = await Browser.open(book.address, DESK);
});
afterAll(async () => {
  await browser.close();
  await closeBook(book);
});

/** Where things stand on the screen, from its top. */
const at = (selector: string) =>
  browser.driver.executeScript<{ top: number; bottom: number } | null>(
    `const e = document.querySelector(arguments[0]); const r = e?.getBoundingClientRect();
     return r ? { top: Math.round(r.top), bottom: Math.round(r.bottom) } : null;`,
    selector,
  );

describe.each([
  [1280, 800],
  [1440, 900],
  [1920, 1080],
])('room for the work at %d x %d', (width, height) => {
  test('the ribbon takes 56 px at most, and every room begins within 130 px of the top', async () => {
    await browser.signIn('Ilse Maren');
    await browser.resize({ width, height });
    await browser.turnTo('/day');
    await browser.see('//section[@aria-label="Told to you"]');
    for (const [path, there] of VIEWS.filter(([p]) => !p.startsWith('/jobs/'))) {
      await turn(browser, path, there);
      const ribbon = (await at('nav[aria-label="Days"]'))!;
      expect({ path, high: ribbon.bottom - ribbon.top <= 56 }).toEqual({ path, high: true });
      // Its name and what it is narrowed by stand in one line, also under a message.
      expect({ path, begins: (await at('.page-head'))!.bottom <= 130 }).toEqual({ path, begins: true });
    }
  });

  test('the plan keeps its grid: 560 px, and 520 with a visit picked up', async () => {
    await browser.turnTo('/plan');
    await browser.see('//*[@role="grid"]//*[@role="gridcell"]');
    expect(height - (await at('[role="grid"]'))!.top).toBeGreaterThanOrEqual(560);
    const first = '(//*[@role="grid"]//*[@role="gridcell"]//button)[1]';
    await browser.click(first);
    await browser.see('//aside[@aria-label="Why here"]//h2[contains(., "Why")]');
    expect(height - (await at('[role="grid"]'))!.top).toBeGreaterThanOrEqual(520);
    // The reasons stand beside it, in view.
    expect((await at('aside[aria-label="Why here"] h2'))!.bottom).toBeLessThan(height);
    await browser.button('Put back');
  });
});

test.each([
  [360, 640, true],
  [844, 390, true],
  [820, 1180, true],
])('no page is wider than %d x %d', async (width, height, phone) => {
  await browser.signIn('Wyn Aldous');
  await browser.resize({ width, height, phone });
  const wide: string[] = [];
  for (const [path, there] of VIEWS) {
    await turn(browser, path, there);
    await browser.settled();
    const by = await wider(browser);
    if (by > 0) wide.push(`${path}: ${by} px`);
  }
  expect(wide).toEqual([]);
});

test('the days stand up on demand, and stay so', async () => {
  await browser.resize(DESK);
  await browser.go('/day');
  await browser.button('Tall days');
  const tall = (await at('nav[aria-label="Days"]'))!;
  expect(tall.bottom - tall.top).toBeGreaterThan(80);
  await browser.go('/due');
  await browser.see('//h1');
  await browser.until(async () => ((await at('nav[aria-label="Days"]'))?.bottom ?? 0) > 80);
  await browser.button('Tall days');
});
