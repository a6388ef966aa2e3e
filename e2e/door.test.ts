import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { TOTP } from 'otpauth';
import { closeBook, openBook } from './book.ts';
import { Browser, DESK, PHONE } from './browser.ts';

/** Who gets in, as the administrator meets it: a second factor set up and asked for, and a session ended elsewhere. */
const PASSWORD = 'shorebird-demo';
const book = await openBook();
let desk: Browser;
let laptop: Browser;
let recovery: string[] = [];
beforeAll(async () => {
  desk = await Browser.open(book.address, DESK);
  laptop = await Browser.open(book.address, DESK);
});
afterAll(async () => {
  await desk.close();
  await laptop.close();
  await closeBook(book);
});

const door = '//button[normalize-space(.)="Open the book"]';
async function knock(browser: Browser): Promise<void> {
  await browser.go('/');
  await browser.fill('Name', 'wyn');
  await browser.fill('Password', PASSWORD);
  await browser.click(door);
}

describe('a second factor', () => {
  test('is set up with the password and the first code; codes for recovery are shown once', async () => {
    await desk.signIn('Wyn Aldous');
    await desk.go('/yard');
    await desk.button('Set up a second factor');
    await desk.fill('Your password', PASSWORD);
    await desk.button('Set it up');
    const secret = (await desk.text('//p[contains(., "Let the authenticator read this picture")]/b')).replaceAll(
      /\s/g,
      '',
    );
    await desk.fill('The six figures it shows', new TOTP({ secret }).generate());
    await desk.button('Confirm');
    await desk.see('//ol[@aria-label="Codes for recovery"]/li');
    recovery = (await desk.text('//ol[@aria-label="Codes for recovery"]')).split(/\s+/).filter(Boolean);
    expect(recovery).toHaveLength(10);
    await desk.button('I have kept them');
    await desk.seeText('10 of 10 codes for recovery are left.');
  });

  test('is asked for at the door: the password alone opens nothing, a code for recovery does, once', async () => {
    await knock(laptop);
    await laptop.fill('Code', '000000');
    await laptop.click(door);
    await laptop.see('//*[@role="alert"]');
    await laptop.fill('Code', recovery[0]!);
    await laptop.click(door);
    await laptop.see('//nav[@aria-label="Rooms"]');
  });
});

test('a session ended elsewhere: its screen shows the door, with nobody touching it', async () => {
  await laptop.go('/day');
  await laptop.see('//nav[@aria-label="Rooms"]');
  await desk.go('/yard');
  await desk.click('//button[starts-with(@aria-label, "Sign out Chrome")]');
  await desk.gone('//button[starts-with(@aria-label, "Sign out Chrome")]');
  await laptop.until(async () => (await laptop.count(door)) > 0, 'the laptop is still in the book');
  await laptop.seeText('The session of Wyn Aldous was ended');
  // The one who ended it goes on.
  await desk.go('/records/audit');
  await desk.see('//tbody/tr');
});

test('signed out without signal, a phone opens nothing, and lets in again once the book has heard of it', async () => {
  const phone = await Browser.open(book.address, PHONE, { wired: true });
  try {
    await phone.signIn('Ines Okoye');
    await phone.driver.executeAsyncScript(
      'const done = arguments[0]; navigator.serviceWorker.ready.then(() => done())',
    );
    await phone.go('/yard');
    await phone.see('//button[normalize-space(.)="Sign out"]');
    await phone.signal(false);
    await phone.button('Sign out');
    await phone.seeText('this device is locked until it can tell the book');
    // Neither a reload nor another address opens it.
    await phone.go('/jobs');
    await phone.seeText('this device is locked until it can tell the book');
    await phone.signal(true);
    await phone.until(async () => (await phone.count(door)) > 0, 'it stays locked');
    // The session is over in the book, not on this phone alone.
    const { person } = await phone.call<{ person: unknown }>('GET', '/session');
    expect(person).toBeNull();
  } finally {
    await phone.close();
  }
});
