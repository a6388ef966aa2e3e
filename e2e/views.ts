import type { Browser } from './browser.ts';

/** Every view of the book, and what is seen there once it is drawn. */
export const VIEWS: [path: string, there: string][] = [
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
  ['/season?base=1', '//table[@aria-label="Boats of the season"]//tbody/tr'],
  ['/season/plan?base=3', '//table[@aria-label="The campaign by week"]//tbody/tr'],
  ['/season/batteries?base=1', '//h1[.="Season"]'],
  ['/season/shelf?base=1', '//table[@aria-label="What the campaign takes"]//tbody/tr'],
  ['/season/put-off?base=1', '//h1[.="Season"]'],
  ['/season/paper?base=3', '//section[@aria-label="Campaign sheet"]//tbody/tr'],
  ['/season/year?base=1', '//h2[.="Where boats stand"]'],
  ['/records', '//tbody/tr'],
  ['/records/audit', '//tbody/tr'],
  ['/records/mail', '//h1[.="Mail"]'],
  ['/records/background', '//h1[.="Work behind the scenes"]'],
  ['/records/last-day', '//h1[.="The last day"]'],
  ['/records/waste', '//h2[.="Entries"]'],
  ['/rules/steps', '//ol[@aria-label="Steps"]/li'],
  ['/rules/life', '//h1[.="Rules"]'],
  ['/rules/minutes', '//h2[.="By technician"]'],
  ['/yard', '//tbody/tr'],
];

/** Turns to a view, and waits until the one before it has gone: what is looked for may stand on both. */
export async function turn(browser: Browser, path: string, there: string): Promise<void> {
  await browser.driver.executeScript(
    `if (location.pathname !== arguments[0].split('?')[0])
       for (const head of document.querySelectorAll('h1')) head.dataset.left = 'yes';`,
    path,
  );
  await browser.turnTo(path);
  await browser.gone('//h1[@data-left]');
  await browser.see(there);
}

/** The page itself never scrolls sideways; wide tables do so in their own frame. */
export const wider = (browser: Browser) =>
  // Not `innerWidth`: a phone's grows with what is too wide.
  browser.driver.executeScript<number>(
    'return document.documentElement.scrollWidth - document.documentElement.clientWidth',
  );
