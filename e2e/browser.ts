import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Builder, By, until, type WebElement } from 'selenium-webdriver';
import chrome from 'selenium-webdriver/chrome.js';
import { Wire } from './wire.ts';

export interface Size {
  width: number;
  height: number;
  phone?: boolean;
}
export const DESK: Size = { width: 1280, height: 800 };
export const PHONE: Size = { width: 390, height: 844, phone: true };

/** Longest wait for something to appear: generous, because machines are shared. */
const WAIT_MS = Number(process.env.DIURNA_E2E_WAIT ?? 12_000);
/** How often it is looked whether it is there: seldom enough to leave the processor to the page. */
const LOOK_MS = 40;

/** A headless Chromium as a person uses it: what is seen, clicked and typed. */
export class Browser {
  readonly driver: chrome.Driver;
  readonly #address: string;
  readonly #profile: string;
  readonly downloads: string;
  readonly #wire: Wire | null;

  private constructor(driver: chrome.Driver, address: string, profile: string, downloads: string, wire: Wire | null) {
    this.#wire = wire;
    this.driver = driver;
    this.#address = address;
    this.#profile = profile;
    this.downloads = downloads;
  }

  /** @param wired its line to the server can be cut, see `signal` */
  static async open(address: string, size: Size = DESK, { wired = false } = {}): Promise<Browser> {
    process.env.SE_OFFLINE = 'true';
    // Chromium takes the order of day and month from here.
    process.env.LANGUAGE = 'en_GB';
    const profile = mkdtempSync(join(tmpdir(), 'diurna-chromium-'));
    const downloads = mkdtempSync(join(tmpdir(), 'diurna-downloads-'));
    const options = new chrome.Options();
    options.setChromeBinaryPath('/usr/bin/chromium');
    options.addArguments(
      '--headless',
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-dev-shm-usage',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      '--force-color-profile=srgb',
      '--force-prefers-reduced-motion',
      '--disable-extensions',
      '--disable-default-apps',
      '--disable-component-extensions-with-background-pages',
      '--mute-audio',
      '--lang=en-GB',
      `--user-data-dir=${profile}`,
    );
    options.setUserPreferences({ 'download.default_directory': downloads, 'download.prompt_for_download': false });
    const driver = (await new Builder()
      .forBrowser('chrome')
      .setChromeOptions(options)
      .setChromeService(new chrome.ServiceBuilder('/usr/bin/chromedriver'))
      .build()) as unknown as chrome.Driver;
    const wire = wired ? await Wire.to(address) : null;
    const browser = new Browser(driver, wire?.address ?? address, profile, downloads, wire);
    await browser.resize(size);
    return browser;
  }

  async resize(size: Size): Promise<void> {
    await this.driver.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
      width: size.width,
      height: size.height,
      // Pictures want the phone's fine pixels; what is only looked for costs four times less without.
      deviceScaleFactor: size.phone && process.env.DIURNA_E2E_FINE ? 2 : 1,
      mobile: size.phone ?? false,
    });
    await this.driver.sendDevToolsCommand('Emulation.setTouchEmulationEnabled', { enabled: size.phone ?? false });
  }

  async close(): Promise<void> {
    await this.driver.quit();
    await this.#wire?.close();
    for (const folder of [this.#profile, this.downloads])
      rmSync(folder, { recursive: true, force: true, maxRetries: 5 });
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
        const reply = await fetch('/api' + path, { method, headers: { 'content-type': 'application/json', 'x-diurna-token': session.csrfToken }, ...(body && { body: JSON.stringify(body) }) });
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

  async signIn(name: string): Promise<void> {
    await this.driver.manage().deleteAllCookies();
    await this.go('/');
    await this.click(`//section[@aria-labelledby="demo-people"]//button[contains(., "${name}")]`);
    await this.see('//nav[@aria-label="Rooms"]');
  }

  /** What stood on the page instead, for whoever reads the failure. */
  async #shown(): Promise<string> {
    const [where, text] = await this.driver
      .executeScript<[string, string]>(
        `return [location.pathname, (document.querySelector('main') ?? document.body).innerText]`,
      )
      .catch(() => ['', 'nothing']);
    return `\nthe page ${where} showed: ${text.replace(/\s+/g, ' ').slice(0, 600)}`;
  }

  /** Waits until the element of the XPath is there and visible; a page that is redrawn meanwhile is looked at again. */
  async see(xpath: string): Promise<WebElement> {
    await this.driver.wait(until.elementLocated(By.xpath(xpath)), WAIT_MS, undefined, LOOK_MS).catch(async () => {
      throw new Error(`not on the page: ${xpath}${await this.#shown()}`);
    });
    return this.driver.wait(
      async () => {
        try {
          const found = await this.driver.findElement(By.xpath(xpath));
          return (await found.isDisplayed()) ? found : null;
        } catch (error) {
          if (['StaleElementReferenceError', 'NoSuchElementError'].includes((error as Error).name)) return null;
          throw error;
        }
      },
      WAIT_MS,
      `not visible: ${xpath}`,
      LOOK_MS,
    ) as Promise<WebElement>;
  }

  async seeText(text: string): Promise<WebElement> {
    return this.see(
      `//*[not(self::script) and not(self::title) and contains(normalize-space(.), "${text}") and not(*[contains(normalize-space(.), "${text}")])]`,
    );
  }

  async gone(xpath: string): Promise<void> {
    await this.driver.wait(
      async () => (await this.driver.findElements(By.xpath(xpath))).length === 0,
      WAIT_MS,
      `still on the page: ${xpath}`,
      LOOK_MS,
    );
  }

  async count(xpath: string): Promise<number> {
    return (await this.driver.findElements(By.xpath(xpath))).length;
  }

  async text(xpath: string): Promise<string> {
    return (await this.see(xpath)).getText();
  }

  /** Clicks once it can be clicked; a page that is redrawn meanwhile is looked at again. */
  async click(xpath: string): Promise<void> {
    await this.driver
      .wait(
        async () => {
          try {
            const found = await this.driver.findElement(By.xpath(xpath));
            if (!(await found.isEnabled())) return false;
            await this.driver.executeScript('arguments[0].scrollIntoView({block: "center"})', found);
            await found.click();
            return true;
          } catch (error) {
            if (
              [
                'StaleElementReferenceError',
                'NoSuchElementError',
                'ElementClickInterceptedError',
                'ElementNotInteractableError',
              ].includes((error as Error).name)
            )
              return false;
            throw error;
          }
        },
        WAIT_MS,
        undefined,
        LOOK_MS,
      )
      .catch(async (error: unknown) => {
        throw (error as Error).name === 'TimeoutError'
          ? new Error(`cannot be clicked: ${xpath}${await this.#shown()}`)
          : error;
      });
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
    const type = await field.getAttribute('type');
    if (type === 'date') {
      await this.driver.executeScript(
        `Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(arguments[0], arguments[1]);
         arguments[0].dispatchEvent(new Event('input', {bubbles: true})); arguments[0].dispatchEvent(new Event('change', {bubbles: true}));`,
        field,
        value,
      );
      return;
    }
    await this.driver.executeScript('arguments[0].focus(); arguments[0].select?.()', field);
    await field.sendKeys(value);
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
