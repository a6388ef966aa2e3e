import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Builder } from 'selenium-webdriver';
import chrome from 'selenium-webdriver/chrome.js';

export interface Size {
  width: number;
  height: number;
  phone?: boolean;
}
export const DESK: Size = { width: 1280, height: 800 };
export const PHONE: Size = { width: 390, height: 844, phone: true };

/** A headless Chromium with a profile and a folder of downloads of its own; `leave` ends it and takes both away. */
export async function startChromium({ film }: { film?: string | undefined } = {}) {
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
  // What its camera sees, and that it may be looked through.
  if (film !== undefined)
    options.addArguments(
      '--use-fake-device-for-media-stream',
      '--use-fake-ui-for-media-stream',
      `--use-file-for-fake-video-capture=${film}`,
    );
  options.setUserPreferences({ 'download.default_directory': downloads, 'download.prompt_for_download': false });
  const driver = (await new Builder()
    .forBrowser('chrome')
    .setChromeOptions(options)
    .setChromeService(new chrome.ServiceBuilder('/usr/bin/chromedriver'))
    .build()) as unknown as chrome.Driver;
  const leave = async () => {
    await driver.quit();
    for (const folder of [profile, downloads]) rmSync(folder, { recursive: true, force: true, maxRetries: 5 });
  };
  return { driver, downloads, leave };
}

/** Gives the page the size of a desk's screen or of a phone, with its touch. */
export async function resize(driver: chrome.Driver, size: Size): Promise<void> {
  await driver.sendDevToolsCommand('Emulation.setDeviceMetricsOverride', {
    width: size.width,
    height: size.height,
    // Pictures want the phone's fine pixels; what is only looked for costs four times less without.
    deviceScaleFactor: size.phone && process.env.DIURNA_E2E_FINE ? 2 : 1,
    mobile: size.phone ?? false,
  });
  await driver.sendDevToolsCommand('Emulation.setTouchEmulationEnabled', { enabled: size.phone ?? false });
}
