import { writeFileSync } from 'node:fs';
import type { WebElement } from 'selenium-webdriver';
import type chrome from 'selenium-webdriver/chrome.js';
import { DESK, resize, startChromium, type Size } from './chromium.ts';
import { PATIENCE_MS } from './patience.ts';
import { Wire } from './wire.ts';

export { DESK, PHONE, type Size } from './chromium.ts';

/** How often it is looked whether it is there: seldom enough to leave the processor to the page. */
const LOOK_MS = 40;
/** So long a page is left to look by itself before it is asked again. */
const ASK_AGAIN_MS = 1500;

/** What goes wrong when the page is drawn anew between finding and clicking: it is looked at again. */
const LEFT = new Set([
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

/** A headless Chromium as a person uses it: what is seen, clicked and typed. */
/** The parts of a day or an hour with that label. */
const GROUP = (label: string) =>
  `//*[@role="group"][@aria-labelledby=//label[normalize-space(translate(., "*\u2009", ""))="${label}"]/@id]`;

export class Browser {
  readonly driver: chrome.Driver;
  readonly #address: string;
  readonly downloads: string;
  readonly #leave: () => Promise<void>;
  readonly #wire: Wire | null;

  private constructor(
    { driver, downloads, leave }: Awaited<ReturnType<typeof startChromium>>,
    address: string,
    wire: Wire | null,
  ) {
    this.#wire = wire;
    this.driver = driver;
    this.#address = address;
    this.downloads = downloads;
    this.#leave = leave;
  }

  /** @param wired its line to the server can be cut, see `signal` */
  static async open(
    address: string,
    size: Size = DESK,
    { wired = false, film }: { wired?: boolean; film?: string } = {},
  ): Promise<Browser> {
    const chromium = await startChromium({ film });
    const wire = wired ? await Wire.to(address) : null;
    const browser = new Browser(chromium, wire?.address ?? address, wire);
    await browser.resize(size);
    return browser;
  }

  resize(size: Size): Promise<void> {
    return resize(this.driver, size);
  }

  async close(): Promise<void> {
    await this.#leave();
    await this.#wire?.close();
  }

  /** Takes the network away, or gives it back: the line itself, and what the page is told of it. */
  async signal(on: boolean): Promise<void> {
    if (!this.#wire) throw new Error('open this browser with { wired: true } to cut its line');
    this.#wire.cut(!on);
    await this.driver.sendDevToolsCommand('Network.enable', {});
    await this.driver.sendDevToolsCommand('Network.emulateNetworkConditions', {
      offline: !on,
      latency: 0,
      downloadThroughput: on ? -1 : 0,
      uploadThroughput: on ? -1 : 0,
    });
  }

  /** A call to the server from the page, as whoever is signed in. */
  async call<T>(method: 'GET' | 'POST' | 'PUT', path: string, body?: unknown): Promise<T> {
    return this.driver.executeAsyncScript<T>(
      `
      const [method, path, body, done] = arguments;
      (async () => {
        const session = await (await fetch('/api/session')).json();
        const reply = await fetch('/api' + path, {
          method,
          headers: { 'content-type': 'application/json', 'x-diurna-token': session.csrfToken },
          ...(body && { body: JSON.stringify(body) }),
        });
        done(await reply.json());
      })();`,
      method,
      path,
      body ?? null,
    );
  }

  async go(path: string): Promise<void> {
    await this.driver.get(`${this.#address}${path}`);
  }

  /** Turns to another page of the book within the page that is open, as a link does. */
  async turnTo(path: string): Promise<void> {
    await this.driver.executeScript(
      `history.pushState(null, '', arguments[0]); dispatchEvent(new PopStateEvent('popstate'));`,
      path,
    );
  }

  /** Waits until the page is drawn: fonts are there, nothing loads, and its size stays for some frames. */
  async settled(): Promise<void> {
    await this.driver.executeAsyncScript(`
      const done = arguments[0]; let last = '', same = 0;
      const look = () => {
        const d = document.documentElement;
        const now = [d.scrollWidth, d.scrollHeight, performance.getEntriesByType('resource').length].join();
        same = now === last && !document.querySelector('[role="progressbar"]') ? same + 1 : 0;
        last = now;
        if (same > 8) done(); else setTimeout(look, 50);
      };
      document.fonts.ready.then(look);`);
  }

  /** Opens the book as one of the demo's people, by name or first name; the door itself is tried in `door.test.ts`. */
  async signIn(name: string): Promise<void> {
    const at = `${this.#address}/api/session`;
    const door = await fetch(at);
    const { csrfToken, demoAccounts } = (await door.json()) as {
      csrfToken: string;
      demoAccounts: { name: string; username: string; password: string }[];
    };
    const account = demoAccounts.find((a) => a.name.startsWith(name));
    if (!account) throw new Error(`nobody of the demo is called ${name}`);
    const opened = await fetch(at, {
      method: 'POST',
      headers: {
        'content-type': 'application/json',
        'x-diurna-token': csrfToken,
        cookie: door.headers
          .getSetCookie()
          .map((c) => c.split(';')[0])
          .join('; '),
      },
      body: JSON.stringify({ username: account.username, password: account.password }),
    });
    const cookie = opened.headers.getSetCookie().find((c) => c.startsWith('diurna='));
    if (!opened.ok || !cookie) throw new Error(`${name} was not let in: ${await opened.text()}`);
    await this.driver.manage().deleteAllCookies();
    await this.driver.sendDevToolsCommand('Network.setCookie', {
      name: 'diurna',
      value: cookie.split(';')[0]!.slice('diurna='.length),
      url: this.#address,
      httpOnly: true,
      sameSite: 'Lax',
    });
    await this.go('/');
    await this.see('//nav[@aria-label="Rooms"]');
  }

  /** What stood on the page instead, for whoever reads the failure. */
  async #shown(): Promise<string> {
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
  async #look<T>(xpath: string, how: string, more: unknown = null, within = 0): Promise<T | null> {
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
  async #until<T>(xpath: string, how: string, trouble: string, more: unknown = null): Promise<T> {
    const end = performance.now() + PATIENCE_MS;
    for (;;) {
      const answer = await this.#look<T>(xpath, how, more, ASK_AGAIN_MS);
      if (answer !== null) return answer;
      if (performance.now() > end) throw new Error(`${trouble}: ${xpath}${await this.#shown()}`);
      await new Promise((done) => setTimeout(done, LOOK_MS));
    }
  }

  /** Asks again and again until it is so; what the page shows instead is told with the trouble. */
  async until(is: () => Promise<boolean>, trouble = 'it never came', ms = PATIENCE_MS): Promise<void> {
    const end = performance.now() + ms;
    while (!(await is())) {
      if (performance.now() > end) throw new Error(`${trouble}${await this.#shown()}`);
      await new Promise((done) => setTimeout(done, LOOK_MS));
    }
  }

  /** Waits until the element of the XPath is there and visible. Who only reads it asks `text` or `attribute`. */
  see(xpath: string): Promise<WebElement> {
    return this.#until(xpath, 'return all[0] && shown(all[0]) ? all[0] : null', 'not to be seen');
  }

  /** Waits until all that was written on this device is in the book: a card shows it at once, the book has it later. */
  sent(): Promise<void> {
    return this.gone('//*[@role="status"][@aria-label="Signal"]');
  }

  /** Waits until these words stand somewhere to be seen, in one element or across what is in it. */
  seeText(text: string): Promise<WebElement> {
    return this.#until(
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
    await this.#until(xpath, 'return all.length === 0 || null', 'still on the page');
  }

  count(xpath: string): Promise<number> {
    return this.#until(xpath, 'return all.length', 'the page was not there to be counted');
  }

  /** The words of the element, as they are seen, once it is. */
  text(xpath: string): Promise<string> {
    return this.#until(xpath, `return all[0] && shown(all[0]) ? ${WORDS('all[0]')} : null`, 'not to be seen');
  }

  /** The words of the element as it stands now; none where it is not to be seen. */
  glance(xpath: string): Promise<string> {
    return this.#until(xpath, `return all[0] && shown(all[0]) ? ${WORDS('all[0]')} : ''`, 'the page was not there');
  }

  /** An attribute of the element once it is seen; of a field also what stands in it now (`value`). */
  attribute(xpath: string, name: string): Promise<string> {
    return this.#until(
      xpath,
      `if (!all[0] || !shown(all[0])) return null;
       return String((more === 'value' ? all[0].value : all[0].getAttribute(more)) ?? '');`,
      'not to be seen',
      name,
    );
  }

  /** An attribute of all elements that stand there now. */
  attributes(xpath: string, name: string): Promise<string[]> {
    return this.#until(xpath, "return all.map((e) => e.getAttribute(more) ?? '')", 'the page was not there', name);
  }

  /** Clicks once it can be clicked; a page that is redrawn meanwhile is looked at again. */
  async click(xpath: string): Promise<void> {
    const end = performance.now() + PATIENCE_MS;
    for (;;) {
      const found = await this.#look<WebElement>(
        xpath,
        `const e = all[0];
         if (!e || e.matches(':disabled')) return null;
         e.scrollIntoView({ block: 'center' });
         // A thumb waits until the page stands still, or it hits what has moved under it.
         const place = () => {
           const { x, y, width, height } = e.getBoundingClientRect();
           return [x, y, width, height].join();
         };
         const frame = () => new Promise((next) => requestAnimationFrame(next));
         return (async () => {
           for (let was = '', same = 0; same < 2; was = place()) {
             await frame();
             if (!e.isConnected) return null;
             same = place() === was ? same + 1 : 0;
           }
           window.pressedIt = null;
           if (e.localName !== 'option')
             addEventListener('click', (c) => { window.pressedIt = c.composedPath().includes(e); },
               { capture: true, once: true });
           return e;
         })();`,
      );
      const clicked =
        found !== null &&
        (await found.click().then(
          // What comes in between the look and the press can push the place away: a press that missed is made again.
          async () =>
            (await this.driver.executeScript<boolean | null>('return window.pressedIt ?? null').catch(() => null)) !==
            false,
          (error: unknown) => {
            if (LEFT.has((error as Error).name)) return false;
            throw error;
          },
        ));
      if (clicked) return;
      if (performance.now() > end) throw new Error(`cannot be clicked: ${xpath}${await this.#shown()}`);
      await new Promise((done) => setTimeout(done, LOOK_MS));
    }
  }

  /** Chooses a file, as the dialog of the machine would; the field itself may be hidden behind its label. */
  async attach(file: string, xpath = '//input[@type="file"]'): Promise<void> {
    const field = await this.#until<WebElement>(xpath, 'return all[0] ?? null', 'no field for a file');
    await field.sendKeys(file);
  }

  button(name: string): Promise<void> {
    return this.click(
      `//*[self::button or self::a][not(@disabled)][normalize-space(.)="${name}" or @aria-label="${name}"]`,
    );
  }

  /** Types into the field with that label, after emptying it; where a dialog is open, into the dialog's. */
  async fill(label: string, value: string): Promise<void> {
    const within = (await this.count('//*[@role="dialog"]')) > 0 ? '//*[@role="dialog"]' : '';
    const field = await this.see(
      `${within}//*[self::input or self::textarea][@aria-label="${label}" or @id=//label[normalize-space(translate(., "*\u2009", ""))="${label}"]/@for or ancestor::label[contains(normalize-space(.), "${label}")]]`,
    );
    await this.driver.executeScript('arguments[0].focus(); arguments[0].select?.();', field);
    await field.sendKeys(value);
  }

  /** Types a day such as "2026-04-05" into the field with that label, part by part. */
  fillDay(label: string, day: string): Promise<void> {
    return this.#fillParts(label, day.split('-').reverse());
  }

  /** Types an hour such as "07:30" into the field with that label, part by part. */
  fillHour(label: string, hour: string): Promise<void> {
    return this.#fillParts(label, hour.split(':'));
  }

  /** A part is taken by itself: a typed one goes on to the next, which is not waited for here. */
  async #fillParts(label: string, parts: readonly string[]): Promise<void> {
    for (const [i, typed] of parts.entries()) {
      await this.click(`(${GROUP(label)}//*[@role="spinbutton"])[${i + 1}]`);
      await this.press(typed);
    }
  }

  /** What stands in a field of parts: "9 Apr 2026", "07:30". */
  parts(label: string): Promise<string> {
    return this.#until(`${GROUP(label)}/..//input`, 'return all[0]?.value ?? null', 'no field of that label');
  }

  async choose(label: string, option: string): Promise<void> {
    await this.click(
      `//label[contains(normalize-space(.), "${label}")]//select/option[contains(normalize-space(.), "${option}")]`,
    );
  }

  async press(...keys: string[]): Promise<void> {
    await this.driver
      .actions()
      .sendKeys(...keys)
      .perform();
  }

  async shot(path: string): Promise<void> {
    // Fonts and data first, so that the picture is of the finished page.
    await this.driver.executeAsyncScript(
      'const done = arguments[0]; document.fonts.ready.then(() => setTimeout(done, 250));',
    );
    writeFileSync(path, Buffer.from(await this.driver.takeScreenshot(), 'base64'));
  }
}
