import { writeFileSync } from 'node:fs';
import type { WebElement } from 'selenium-webdriver';
import { DESK, resize, startChromium, type Size } from './chromium.ts';
import { LEFT, LOOK_MS, Looks } from './looks.ts';
import { PATIENCE_MS } from './patience.ts';
import { Wire } from './wire.ts';

export { DESK, PHONE, type Size } from './chromium.ts';

/** The parts of a day or an hour with that label. */
const GROUP = (label: string) =>
  `//*[@role="group"][@aria-labelledby=//label[normalize-space(translate(., "*\u2009", ""))="${label}"]/@id]`;

/** A headless Chromium as a person uses it: what is seen, clicked and typed. */
export class Browser extends Looks {
  readonly #address: string;
  readonly downloads: string;
  readonly #leave: () => Promise<void>;
  readonly #wire: Wire | null;

  private constructor(
    { driver, downloads, leave }: Awaited<ReturnType<typeof startChromium>>,
    address: string,
    wire: Wire | null,
  ) {
    super(driver);
    this.#wire = wire;
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

  /** Clicks once it can be clicked; a page that is redrawn meanwhile is looked at again. */
  async click(xpath: string): Promise<void> {
    const end = performance.now() + PATIENCE_MS;
    for (;;) {
      const found = await this.look<WebElement>(
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
      if (performance.now() > end) throw new Error(`cannot be clicked: ${xpath}${await this.shown()}`);
      await new Promise((done) => setTimeout(done, LOOK_MS));
    }
  }

  /** Chooses a file, as the dialog of the machine would; the field itself may be hidden behind its label. */
  async attach(file: string, xpath = '//input[@type="file"]'): Promise<void> {
    const field = await this.untilSeen<WebElement>(xpath, 'return all[0] ?? null', 'no field for a file');
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
    return this.untilSeen(`${GROUP(label)}/..//input`, 'return all[0]?.value ?? null', 'no field of that label');
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
