import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { JobCard } from '@diurna/contract/jobs';
import { Key } from 'selenium-webdriver';
import { closeBook, openBook } from './book.ts';
import { Browser, PHONE } from './browser.ts';

/** A card at phone size with the keyboard alone, and what people type wrong on it. */
const book = await openBook();
const { address } = book;
let phone: Browser;
let id = 0;
beforeAll(async () => {
  phone = await Browser.open(address, PHONE);
  await phone.signIn('Ilse Maren');
  const { rows } = await phone.call<{
    rows: { boatId: number; engineId: number; engine: string; job: unknown; due: { task: string } }[];
  }>('GET', '/service/due?size=200');
  const busy = new Set(rows.filter((r) => r.job !== null).map((r) => r.boatId));
  const { rows: boats } = await phone.call<{
    rows: { id: number; engines: { id: number; position: string; modelName: string }[] }[];
  }>('GET', '/fleet/boats?size=200');
  const boat = boats.find(
    (b) => !busy.has(b.id) && b.engines.length === 1 && b.engines[0]!.modelName.includes('Corvane 60'),
  )!;
  const [{ today }] = (await phone.call<{ today: string }[]>('GET', '/fleet/bases')) as [{ today: string }];
  const people = await phone.call<{ id: number; name: string }[]>('GET', '/people');
  id = (
    await phone.call<{ id: number }>('POST', '/jobs', {
      insist: 'as this is about the card',
      boatId: boat.id,
      technicianId: people.find((p) => p.name === 'Ines Okoye')!.id,
      day: today,
      tasks: ['engine-oil', 'compression'].map((task) => ({ engineId: boat.engines[0]!.id, task })),
    })
  ).id;
  await phone.signIn('Ines Okoye');
  await phone.go(`/jobs/${id}`);
  await phone.see(now);
});
afterAll(async () => {
  await phone.close();
  await closeBook(book);
});

const now = '//*[@role="group"][@aria-label="The step at hand"]';
const card = () => phone.call<JobCard>('GET', `/jobs/${id}`);
const focused = () =>
  phone.driver.executeScript<string>(
    'const e = document.activeElement; return e === document.body ? "nothing" : (e.getAttribute("aria-label") || e.labels?.[0]?.textContent || e.textContent || e.tagName).trim()',
  );
const tabTo = async (name: string | RegExp, back = false) => {
  const is = async () => {
    const f = await focused();
    return typeof name === 'string' ? f === name : name.test(f);
  };
  for (let i = 0; i < 80 && !(await is()); i++)
    await (back ? phone.press(Key.chord(Key.SHIFT, Key.TAB)) : phone.press(Key.TAB));
  expect(await focused()).toEqual(typeof name === 'string' ? name : expect.stringMatching(name));
};
const stepText = () => phone.text(`${now}//h2`);
const moved = (from: string) =>
  phone.until(async () => (await phone.glance(`${now}//h2`)) !== from, `still at ${from}`);

describe('the card by keyboard alone', () => {
  test('one key ticks step after step; the focus stays where the next tick is', async () => {
    await tabTo('Tick and next');
    for (let i = 0; i < 2; i++) {
      const before = await stepText();
      await phone.press(Key.ENTER);
      await moved(before);
    }
    expect(await focused()).toBe('Tick and next');
    await phone.sent();
    const { entries } = await card();
    expect(entries.filter((e) => e.act.kind === 'tick')).toHaveLength(2);
  });

  test('a tick is taken back, and everything wrong is reached: pause with its reason, go on', async () => {
    const before = await stepText();
    await tabTo('Back one step', true);
    await phone.press(Key.ENTER);
    await moved(before);
    await tabTo('Something wrong');
    await phone.press(Key.ENTER);
    await phone.seeText('Remark, for the next one');
    expect(await focused()).toBe('Something wrong');
    await tabTo(/What it waits for/);
    await phone.press('a second person');
    await tabTo('Pause the card');
    await phone.press(Key.ENTER);
    await phone.seeText('a second person, since');
    expect(
      await phone.count(
        `//*[@role="group"][@aria-label="Tick the step"]//button[not(@disabled)][.!="Something wrong"]`,
      ),
    ).toBe(0);
    expect(await focused()).toBe('Something wrong');
    await tabTo('Go on', true);
    await phone.press(Key.SPACE);
    await phone.gone('//p[@role="status"][contains(., "Paused")]');
    const pauses = async () => (await card()).entries.filter((e) => e.act.kind === 'pause').map((e) => e.act);
    // The phone shows it at once; the book has it a moment later.
    await phone.until(async () => (await pauses()).length === 2);
    expect(await pauses()).toEqual([
      { kind: 'pause', on: true, why: 'a second person' },
      { kind: 'pause', on: false, why: null },
    ]);
  });
});

describe('what people get wrong on a card', () => {
  /** Goes on by hand until this is asked. */
  const until = async (label: string) => {
    for (let i = 0; i < 40 && (await phone.count(`${now}//input[starts-with(@aria-label, "${label}")]`)) === 0; i++) {
      const before = await stepText();
      for (const word of ['black, normal', 'light and dry', 'free']) {
        const look = `(${now}//button[@role="radio"][@aria-checked="false"][normalize-space(.)="${word}"])`;
        for (let left = await phone.count(look); left > 0; left--) {
          await phone.click(`${look}[1]`);
          await phone.until(async () => (await phone.count(look)) < left);
        }
      }
      await phone.click(
        '//*[@role="group"][@aria-label="Tick the step"]//button[not(@disabled)][.!="Something wrong"]',
      );
      await moved(before);
    }
  };
  const readings = async () => (await card()).entries.filter((e) => e.act.kind === 'read');

  test('words for a figure are questioned in place, and nothing of them is kept', async () => {
    await until('Cylinder 1');
    await phone.sent();
    const before = (await readings()).length;
    await phone.fill('Cylinder 1', 'high');
    await phone.press(Key.TAB);
    await phone.seeText('Figures only');
    expect((await readings()).length).toBe(before);
    // Say what you saw: it cannot be passed by.
    await phone.see('//button[@disabled][normalize-space(.)="Say what you saw"]');
  });

  test('a figure no engine can have is refused with the reason; the right one is taken, its spread worked out', async () => {
    await phone.fill('Cylinder 1', '12500');
    await phone.press(Key.TAB);
    await phone.seeText('Compression, cylinder 1, lies between 0 and 363 psi: 12500 psi cannot be right.');
    // It goes nowhere: neither into the book nor onto the pile of what was not taken.
    expect(await phone.count('//*[@role="status"][@aria-label="Signal"]')).toBe(0);
    for (const [i, psi] of [125, 130, 128, 127].entries()) {
      await phone.fill(`Cylinder ${i + 1}`, String(psi));
      await phone.press(Key.TAB);
    }
    await phone.seeText('3.8 %');
    await phone.see('//button[not(@disabled)][normalize-space(.)="Tick and next"]');
    await phone.until(
      async () =>
        (await readings()).filter((e) => e.act.kind === 'read' && e.act.key.includes('compression')).length >= 4,
    );
  });

  test('the page fits the phone, and reading it needs no sideways scrolling', async () => {
    expect(
      await phone.driver.executeScript<number>('return document.documentElement.scrollWidth - innerWidth'),
    ).toBeLessThanOrEqual(0);
  });

  test('a card that is not there says so; a finish with nothing done cannot be sent', async () => {
    expect(await phone.count('//button[normalize-space(.)="Finish the job"][@disabled]')).toBe(1);
    await phone.go('/jobs/999999');
    await phone.seeText('There is no such job.');
  });
});
