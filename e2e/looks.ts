import type { WebElement } from 'selenium-webdriver';
import type chrome from 'selenium-webdriver/chrome.js';
import { PATIENCE_MS } from './patience.ts';

/** How often it is looked whether it is there: seldom enough to leave the processor to the page. */
export const LOOK_MS = 40;
/** So long a page is left to look by itself before it is asked again. */
const ASK_AGAIN_MS = 1500;

/** What goes wrong when the page is drawn anew between finding and clicking: it is looked at again. */
export const LEFT = new Set([
  'StaleElementReferenceError',
  'NoSuchElementError',
  'ElementClickInterceptedError',
  'ElementNotInteractableError',
]);
/** What the driver says of a look into a page that is just being left. */
const LEAVING = /document unloaded|aborted by navigation|execution context|uniqueContextId/i;
/** The words of an element as a person reads them: no tabs between cells, no hard spaces. */
const WORDS = (element: string) =>
  `(${element}.innerText ?? ${element}.textContent).replace(/[\\t\\u00a0]/g, ' ').trim()`;

/** What is seen on the page of a Chromium, and waited for until it is. */
export class Looks {
  readonly driver: chrome.Driver;

  protected constructor(driver: chrome.Driver) {
    this.driver = driver;
  }

  /** What stood on the page instead, for whoever reads the failure. */
  protected async shown(): Promise<string> {
    const [where, text] = await this.driver
      .executeScript<[string, string]>(
        `return [location.pathname, (document.querySelector('main') ?? document.body).innerText]`,
      )
      .catch(() => ['', 'nothing']);
    return `\nthe page ${where} showed: ${text.replace(/\s+/g, ' ').slice(0, 1500)}`;
  }

  /**
   * Looks inside the page: `how` sees the elements of the XPath (`all`), whether one is `shown`, and `more`. A look is
   * one step of the page, so no redraw comes between finding and reading.
   *
   * @param within milliseconds it is looked for again whenever the page changes; asking from outside costs far more
   * @returns null where there was no answer, or the page is just being left
   */
  protected async look<T>(xpath: string, how: string, more: unknown = null, within = 0): Promise<T | null> {
    try {
      return await this.driver.executeScript<T>(
        `const [xpath, more, within] = arguments;
         const seen = { opacityProperty: true, visibilityProperty: true };
         const shown = (e) => e.checkVisibility(seen) && e.getClientRects().length > 0;
         const look = () => {
           const found = document.evaluate(xpath, document, null, XPathResult.ORDERED_NODE_SNAPSHOT_TYPE, null);
           const all = Array.from({ length: found.snapshotLength }, (_, i) => found.snapshotItem(i));
           ${how}
         };
         const first = look();
         if (first !== null || within === 0) return first;
         return new Promise((done) => {
           const end = performance.now() + within;
           let timer, soon = false;
           const again = () => {
             soon = false;
             const answer = look();
             if (answer === null && performance.now() < end) { timer = setTimeout(again, 100); return; }
             changes.disconnect();
             done(answer);
           };
           // Changes come in bursts: the page is looked at when one is over; what no change tells of, now and then.
           const changes = new MutationObserver(() => {
             if (soon) return;
             soon = true;
             clearTimeout(timer);
             timer = setTimeout(again, 10);
           });
           changes.observe(document, { subtree: true, childList: true, attributes: true, characterData: true });
           timer = setTimeout(again, 100);
         });`,
        xpath,
        more,
        within,
      );
    } catch (error) {
      if (LEFT.has((error as Error).name) || LEAVING.test((error as Error).message)) return null;
      throw error;
    }
  }

  /** Looks again and again until there is an answer. */
  protected async untilSeen<T>(xpath: string, how: string, trouble: string, more: unknown = null): Promise<T> {
    const end = performance.now() + PATIENCE_MS;
    for (;;) {
      const answer = await this.look<T>(xpath, how, more, ASK_AGAIN_MS);
      if (answer !== null) return answer;
      if (performance.now() > end) throw new Error(`${trouble}: ${xpath}${await this.shown()}`);
      await new Promise((done) => setTimeout(done, LOOK_MS));
    }
  }

  /** Asks again and again until it is so; what the page shows instead is told with the trouble. */
  async until(is: () => Promise<boolean>, trouble = 'it never came', ms = PATIENCE_MS): Promise<void> {
    const end = performance.now() + ms;
    while (!(await is())) {
      if (performance.now() > end) throw new Error(`${trouble}${await this.shown()}`);
      await new Promise((done) => setTimeout(done, LOOK_MS));
    }
  }

  /** Waits until the element of the XPath is there and visible. Who only reads it asks `text` or `attribute`. */
  see(xpath: string): Promise<WebElement> {
    return this.untilSeen(xpath, 'return all[0] && shown(all[0]) ? all[0] : null', 'not to be seen');
  }

  /** Waits until all that was written on this device is in the book: a card shows it at once, the book has it later. */
  sent(): Promise<void> {
    return this.gone('//*[@role="status"][@aria-label="Signal"]');
  }

  /** Waits until these words stand somewhere to be seen, in one element or across what is in it. */
  seeText(text: string): Promise<WebElement> {
    return this.untilSeen(
      '/html/body',
      `const says = (e) => e.textContent.replace(/\\s+/g, ' ').trim().includes(more);
       const spoken = (e) => e.localName !== 'script' && e.localName !== 'style';
       let e = all[0];
       if (!e || !says(e)) return null;
       for (let inner = e; inner; ) { e = inner; inner = [...e.children].find((c) => spoken(c) && says(c)); }
       return e !== all[0] && shown(e) ? e : null;`,
      `the words are not to be seen: ${text}`,
      text,
    );
  }

  async gone(xpath: string): Promise<void> {
    await this.untilSeen(xpath, 'return all.length === 0 || null', 'still on the page');
  }

  count(xpath: string): Promise<number> {
    return this.untilSeen(xpath, 'return all.length', 'the page was not there to be counted');
  }

  /** The words of the element, as they are seen, once it is. */
  text(xpath: string): Promise<string> {
    return this.untilSeen(xpath, `return all[0] && shown(all[0]) ? ${WORDS('all[0]')} : null`, 'not to be seen');
  }

  /** The words of the element as it stands now; none where it is not to be seen. */
  glance(xpath: string): Promise<string> {
    return this.untilSeen(xpath, `return all[0] && shown(all[0]) ? ${WORDS('all[0]')} : ''`, 'the page was not there');
  }

  /** An attribute of the element once it is seen; of a field also what stands in it now (`value`). */
  attribute(xpath: string, name: string): Promise<string> {
    return this.untilSeen(
      xpath,
      `if (!all[0] || !shown(all[0])) return null;
       return String((more === 'value' ? all[0].value : all[0].getAttribute(more)) ?? '');`,
      'not to be seen',
      name,
    );
  }

  /** An attribute of all elements that stand there now. */
  attributes(xpath: string, name: string): Promise<string[]> {
    return this.untilSeen(xpath, "return all.map((e) => e.getAttribute(more) ?? '')", 'the page was not there', name);
  }
}
