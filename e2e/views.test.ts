import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { closeBook, openBook } from './book.ts';
import { Browser, DESK, PHONE } from './browser.ts';
import { badTexts } from './texts.ts';

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

/** The page itself never scrolls sideways; wide tables do so in their own frame. */
const wider = () =>
  // Not `innerWidth`: a phone's grows with what is too wide.
  browser.driver.executeScript<number>(
    'return document.documentElement.scrollWidth - document.documentElement.clientWidth',
  );

const VIEWS: [path: string, there: string][] = [
  ['/day', '//*[@role="group"][starts-with(@aria-label, "The day by the hour")]'],
  ['/day/hours', '//table'],
  ['/day/back', '//ul[@aria-label="Coming back"]'],
  ['/plan', '//*[@role="grid"]//*[@role="gridcell"]'],
  ['/due?view=weeks', '//*[@role="grid"]//button'],
  ['/due?view=list', '//tbody/tr'],
  ['/fleet/hires', '//tbody/tr'],
  ['/fleet/boxes', '//tbody/tr'],
  ['/fleet/hires/calendars', '//tbody/tr'],
  ['/jobs?whose=all', '//ul[@aria-label="Job cards"]//a'],
  ['/jobs/1', '//article'],
  ['/stores', '//table[@aria-label="What the shelves still do, by model"]//tbody/tr'],
  ['/stores/parts/1', '//h2[.="Ledger"]'],
  ['/stores/orders?base=3', '//button[.="Order it"]'],
  ['/stores/suppliers', '//tbody/tr'],
  ['/stores/picks?base=1', '//ul[@aria-label="To pick"]/li | //*[.="Nothing to pick."]'],
  ['/stores/count?base=1', '//form[@aria-label="Count"]//tbody/tr'],
  ['/stores/money', '//section[@aria-label="Money on the shelves"]//tbody/tr'],
  ['/stores/labels', '//b[.="OIL-1030"]'],
  ['/fleet', '//tbody/tr'],
  ['/fleet/boats/1', '//h2[.="Engines"]'],
  ['/fleet/engines/1', '//h2[.="Readings"]'],
  ['/rules', '//fieldset//input'],
  ['/rules/own', '//h2[.="Give one"]'],
  ['/fleet/models', '//tbody/tr'],
  ['/fleet/models/1', '//h2[.="Programme"]'],
  ['/fleet/bases', '//tbody/tr'],
  ['/fleet/files', '//input[@type="file"]'],
  ['/records', '//tbody/tr'],
  ['/records/audit', '//tbody/tr'],
  ['/records/mail', '//h1[.="Mail"]'],
  ['/records/background', '//h1[.="Work behind the scenes"]'],
  ['/records/last-day', '//h1[.="The last day"]'],
  ['/records/waste', '//h2[.="Entries"]'],
  ['/rules/steps', '//ol[@aria-label="Steps"]/li'],
  ['/rules/minutes', '//h2[.="By technician"]'],
  ['/yard', '//tbody/tr'],
];

/** Turns to a view, and waits until the one before it has gone: what is looked for may stand on both. */
async function turn(path: string, there: string): Promise<void> {
  await browser.driver.executeScript(
    `if (location.pathname !== arguments[0].split('?')[0])
       for (const head of document.querySelectorAll('h1')) head.dataset.left = 'yes';`,
    path,
  );
  await browser.turnTo(path);
  await browser.gone('//h1[@data-left]');
  await browser.see(there);
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
    await turn(path, there);
    expect(await violations()).toEqual([]);
    expect(await wider()).toBeLessThanOrEqual(0);
    expect(await badTexts(browser)).toEqual([]);
    await browser.resize(PHONE);
    await browser.see(there);
    expect(await violations()).toEqual([]);
    expect(await wider()).toBeLessThanOrEqual(0);
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
      await turn(path, there);
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
    await turn(path, there);
    await browser.settled();
    const by = await wider();
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
