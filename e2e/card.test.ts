import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { JobCard } from '@diurna/contract/jobs';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { closeBook, openBook, passTime } from './book.ts';
import { Browser, DESK, PHONE } from './browser.ts';
import { STEP_AT_HAND, TICKS, workStepOn } from './work-step.ts';

/**
 * A full service of twins on the phone, with signal lost in the middle, and the coordinator's screen that follows it.
 */
const book = await openBook();
const { address } = book;
let phone: Browser;
let desk: Browser;
let id = 0;
beforeAll(async () => {
  phone = await Browser.open(address, PHONE, { wired: true });
  desk = await Browser.open(address, DESK);
});
afterAll(async () => {
  await phone.close();
  await desk.close();
  await closeBook(book);
});

const [now, bar] = [STEP_AT_HAND, TICKS];
const stepText = () => phone.text(`${now}//h2`);
const workStep = () => workStepOn(phone);
const next = () => phone.click(`${bar}//button[not(@disabled)][.!="Something wrong"]`);
const stepNo = async () => Number(/step (\d+) of/.exec(await phone.text(now))?.[1] ?? 0);
const card = () => desk.call<JobCard>('GET', `/jobs/${id}`);

const milky = (c: JobCard) => c.holds.find((h) => h.why === 'The gear lube is milky.')!;

/** Whether the step is whole in view above the bar, whatever stands beside it. */
async function isWhole(): Promise<void> {
  const over = await phone.driver.executeScript<number>(`
    const [step, bar] = ['The step at hand', 'Tick the step'].map((n) => document.querySelector('[aria-label="' + n + '"]'));
    if (!step || !bar) return 0;
    const { top, bottom } = step.getBoundingClientRect();
    return Math.max(-top, bottom - bar.getBoundingClientRect().top);`);
  if (over > 1) throw new Error(`${over} px of the step are out of view: ${await phone.glance(now)}`);
}

/** What stands beside the step, unfolded. */
async function unfold(): Promise<void> {
  const folded = '//*[@role="group"][@aria-label="Beside the step"]/button[@aria-expanded="false"]';
  if ((await phone.count(folded)) > 0) await phone.click(folded);
}

/** Goes on until this stands at hand. */
async function workUntil(words: string): Promise<void> {
  for (let i = 0; i < 70 && !(await stepText()).toLowerCase().includes(words.toLowerCase()); i++) await workStep();
  expect((await stepText()).toLowerCase()).toContain(words.toLowerCase());
}

/** Hands Ines a card of a boat that has none, for the day it is. @returns the boat's name */
async function handAnother(): Promise<string> {
  const { rows } = await desk.call<{ rows: { id: number; name: string; baseId: number; engines: { id: number }[] }[] }>(
    'GET',
    '/fleet/boats?size=200',
  );
  const due = await desk.call<{ rows: { boatId: number; job: unknown }[] }>('GET', '/service/due?size=200');
  const busy = new Set(due.rows.filter((r) => r.job !== null).map((r) => r.boatId));
  const people = await desk.call<{ id: number; name: string; baseId: number }[]>('GET', '/people');
  const ines = people.find((p) => p.name === 'Ines Okoye')!;
  const boat = rows.find((b) => b.baseId === ines.baseId && b.engines.length > 0 && !busy.has(b.id))!;
  const bases = await desk.call<{ id: number; today: string }[]>('GET', '/fleet/bases');
  await desk.call('POST', '/jobs', {
    insist: 'as this is about the card',
    boatId: boat.id,
    technicianId: ines.id,
    day: bases.find((b) => b.id === boat.baseId)!.today,
    tasks: [{ engineId: boat.engines[0]!.id, task: 'grease' }],
  });
  return boat.name;
}

describe('the card, step by step', () => {
  test('twins’ oil and gear lube are handed to Ines, whose phone shows the first step', async () => {
    await desk.signIn('Ilse Maren');
    const { rows } = await desk.call<{
      rows: { id: number; name: string; engines: { id: number; position: string; modelName: string }[] }[];
    }>('GET', '/fleet/boats?size=200');
    const free = await desk.call<{ rows: { engineId: number; boatId: number; job: unknown }[] }>(
      'GET',
      '/service/due?size=200',
    );
    const busy = new Set(free.rows.filter((r) => r.job !== null).map((r) => r.boatId));
    const boat =
      rows.find(
        (b) =>
          b.engines.filter((e) => e.position === 'port' || e.position === 'starboard').length === 2 &&
          b.engines[0]!.modelName.includes('60') &&
          !busy.has(b.id),
      ) ?? rows.find((b) => b.engines.length === 2 && b.engines[0]!.position === 'port' && !busy.has(b.id))!;
    const [{ today }] = (await desk.call<{ today: string }[]>('GET', '/fleet/bases')) as [{ today: string }];
    const people = await desk.call<{ id: number; name: string }[]>('GET', '/people');
    id = (
      await desk.call<{ id: number }>('POST', '/jobs', {
        insist: 'as this is about the card',
        boatId: boat.id,
        technicianId: people.find((p) => p.name === 'Ines Okoye')!.id,
        day: today,
        tasks: boat.engines.flatMap((e) =>
          ['engine-oil', 'oil-filter', 'gear-lube'].map((task) => ({ engineId: e.id, task })),
        ),
      })
    ).id;
    await phone.signIn('Ines Okoye');
    await phone.driver.executeAsyncScript(
      'const done = arguments[0]; navigator.serviceWorker.ready.then(() => done())',
    );
    await phone.go(`/jobs/${id}`);
    await phone.see(now);
    expect(await stepNo()).toBe(1);
    expect(await phone.text(now)).toContain(
      'Follow the engine maker’s manual, your local codes and licensed practice.',
    );
  });

  test('the sump drains by its timer while the other work goes on; a reload loses nothing', async () => {
    await desk.go('/jobs?show=open&whose=all');
    const beside = '//*[@role="group"][@aria-label="Beside the step"]/button';
    for (let i = 0; i < 12 && (await phone.count('//*[@role="timer"]')) === 0; i++) {
      await workStep();
      await isWhole();
    }
    // One line, with the nearest time; it unfolds.
    expect(await phone.text(beside)).toMatch(/^(20:00|19:\d\d)\s.*Port: turn to the drain side/s);
    await unfold();
    expect(await phone.text('//p[@role="timer"]')).toMatch(/^(20:00|19:\d\d)\s+Port: turn to the drain side/);
    await phone.click(`${beside}[@aria-expanded="true"]`);
    expect(await phone.text(now)).not.toMatch(/Still \d+:\d\d to wait/);
    const at = await stepNo();
    await phone.driver.navigate().refresh();
    expect(await phone.text('//*[@role="timer"]')).toMatch(/^(19|18):\d\d/);
    expect(await stepNo()).toBe(at);
  });

  test('the coordinator’s list follows without being asked', async () => {
    const shown = () => desk.text(`//ul[@aria-label="Job cards"]//a[@href="/jobs/${id}"]`);
    const before = await shown();
    await workStep();
    await desk.until(async () => (await shown()) !== before);
    expect(await desk.text(`//a[@href="/jobs/${id}"]`)).toMatch(/\d+:\d\d Port: turn to the drain side/);
  });

  test('signal goes; the work goes on, also over a reload, and is kept on the phone', async () => {
    // Everything written so far is in the book: an answer that is cut off would be counted here and there.
    await phone.sent();
    await phone.signal(false);
    const book = (await card()).entries.length;
    // Whatever stands at hand by now: two steps are ticked that only the phone knows of.
    await workStep();
    await workStep();
    await phone.seeText('No signal.');
    const at = await stepNo();
    await phone.driver.navigate().refresh();
    await phone.seeText('kept on this phone');
    expect(await stepNo()).toBe(at);
    expect((await card()).entries.length).toBe(book);
    await workUntil('What came out? Rub it between two fingers; look at the magnet');
  });

  test('milky lube is judged on the phone without signal, and held there', async () => {
    await phone.click(`${now}//button[@role="radio"][normalize-space(.)="milky"]`);
    await phone.see('//section[@aria-label="What was found"]//article[starts-with(., "hold")]');
    expect(await phone.text('//section[@aria-label="What was found"]//article[starts-with(., "hold")]')).toContain(
      'Never just refill.',
    );
    await phone.button('Hold the engine');
    // Decided, it folds: the next step is what is looked for.
    await phone.gone('//section[@aria-label="What was found"]//article[starts-with(., "hold")]');
    await unfold();
    await phone.see(
      '//section[@aria-label="What was found"]//article[starts-with(., "hold")][contains(., "As proposed")]',
    );
    await next();
  });

  test('a picture taken without signal waits with what was written', async () => {
    await phone.button('Something wrong');
    const picture = join(mkdtempSync(join(tmpdir(), 'diurna-card-')), 'lube.png');
    writeFileSync(picture, Buffer.from(await phone.driver.takeScreenshot(), 'base64'));
    await phone.attach(picture, '//label[contains(., "Take a picture")]/input');
    await phone.seeText('a picture, on its way');
    await phone.seeText('and 1 picture kept on this phone');
    await phone.driver.navigate().refresh();
    await phone.seeText('and 1 picture kept on this phone');
  });

  test('an engine is held by hand without signal too, and the phone says that the book does not know yet', async () => {
    await phone.button('Something wrong');
    await phone.choose('Engine', 'starboard');
    await phone.fill('Why it is held', 'The bracket is cracked.');
    await phone.button('Hold the engine');
    await unfold();
    await phone.seeText('It is on this phone and goes into the book with the next signal.');
    expect((await card()).holds).toEqual([]);
  });

  test('signal comes back: everything is sent in its order, nothing lost, nothing twice', async () => {
    const waiting = Number(/(\d+) entr/.exec(await phone.text('//*[@role="status"][@aria-label="Signal"]'))![1]);
    expect(waiting).toBeGreaterThan(5);
    const before = await card();
    await phone.signal(true);
    await phone.sent();
    const after = await card();
    expect(after.entries.length).toBe(before.entries.length + waiting);
    expect(new Set(after.entries.map((e) => e.id)).size).toBe(after.entries.length);
    const fresh = after.entries.slice(before.entries.length);
    expect(fresh.map((e) => e.at)).toEqual(fresh.map((e) => e.at).sort((a, b) => a - b));
    expect(after.holds.map((h) => h.why).sort()).toEqual(['The bracket is cracked.', 'The gear lube is milky.']);
    await unfold();
    await phone.seeText('Held, port:');
    await phone.seeText('Held, starboard:');
    await phone.gone('//*[contains(text(), "It is on this phone")]');
    const shown = await phone.see('//*[@role="group"][@aria-label="Pictures"]//img');
    await phone.driver.executeScript('arguments[0].scrollIntoView()', shown);
    await phone.until(
      async () => (await phone.driver.executeScript<number>('return arguments[0].naturalWidth', shown)) > 100,
      'the picture cannot be seen',
    );
  });

  test('the case is not filled again before the seals: they join the card where it stands', async () => {
    const before = (await card()).steps.length;
    await unfold();
    await phone.click(`//article[starts-with(., "hold")]//button[starts-with(normalize-space(.), "Do on this card")]`);
    await phone.until(async () => (await card()).steps.length > before, 'nothing joined the card');
    const { steps, holds } = await card();
    const order = steps.map((s) => s.step.id);
    const port = milky(await card()).engineId;
    expect(order.indexOf(`${port} gear-seals/again`)).toBeLessThan(order.indexOf(`${port} gear-lube/fill`));
    expect(holds.find((h) => h.engineId === port)!.missing).toEqual(['gear-seals', 'gear-lube']);
    await phone.gone('//button[starts-with(normalize-space(.), "Do on this card")]');
  });

  test('the held boat does not go out, and only a coordinator could let it', async () => {
    const c = await card();
    const [{ today }] = (await desk.call<{ today: string }[]>('GET', '/fleet/bases')) as [{ today: string }];
    await desk.call('POST', '/hires', {
      boatId: c.boatId,
      outDay: today,
      outTime: '23:00',
      backDay: today,
      backTime: '23:30',
      reference: null,
    });
    await desk.signIn('Bram Tidewell');
    await desk.go('/day/back');
    await desk.choose('Base', c.baseName);
    await desk.see(`//ul[@aria-label="Going out"]//li[contains(., "${c.boatName}")]//b[normalize-space(.)="held"]`);
    expect(await desk.count(`//ul[@aria-label="Going out"]//li[contains(., "${c.boatName}")]//button`)).toBe(0);
    await desk.signIn('Ilse Maren');
    await desk.go(`/fleet/engines/${milky(c).engineId}`);
    await desk.seeText('It can be let go once these are in the log.');
  });

  test('the rest of both engines, the level after the run, every gate by hand, and it is finished', async () => {
    for (let i = 0; i < 80 && (await phone.count(now)) > 0; i++) {
      await phone.until(
        async () =>
          (await phone.count(`${bar}//button[not(@disabled)][.!="Something wrong"]`)) > 0 ||
          (await phone.count(`${now}//*[contains(., "Still ")]`)) > 0 ||
          (await phone.count(`${now}//button[@role="radio"] | ${now}//input`)) > 0,
        'neither a step to tick nor one that waits',
      );
      if (/Still \d/.test(await phone.glance(now))) {
        // The drains are over: the book's clock went on, and the phone goes by it.
        await passTime(book, 25);
        await phone.driver.navigate().refresh();
        await phone.see(now);
      }
      await workStep();
    }
    await phone.seeText('Every step is done.');
    expect(await phone.count('//button[@role="checkbox"][@aria-checked="false"]')).toBe(0);
    await phone.seeText('all confirmed');
    await phone.sent();
    await phone.button('Finish the job');
    await phone.until(
      async () =>
        (await card()).status === 'done' ||
        (await phone.count('//*[@role="group"][@aria-label="Finish"]//div[@role="alert"]')) > 0,
    );
    const done = await card();
    expect(
      done.status === 'done'
        ? 'done'
        : await phone.text('//*[@role="group"][@aria-label="Finish"]//div[@role="alert"]'),
    ).toBe('done');
    expect(done.waste.map((w) => w.stream).sort()).toEqual(['filters', 'gear lube', 'used oil']);
    expect(done.followUps.filter((f) => f.task === 'first-outing')).toHaveLength(2);
    // Seals, lube and shaft were done after the look: nothing more is asked, and the hold wants only a person.
    expect(done.followUps.filter((f) => f.engineId === milky(done).engineId).map((f) => f.task)).toEqual([
      'first-outing',
    ]);
    expect(milky(done).missing).toEqual([]);
  });

  test('the engine page keeps what was read, beside the twin', async () => {
    const done = await card();
    await desk.go(`/fleet/engines/${milky(done).engineId}`);
    await desk.see('//h3[contains(., "Readings over time, starboard twin beside")]');
    expect(await desk.text('//tr[th[.="Gear lube"]]')).toMatch(/milky[\s\S]*dark and clear/);
    expect(await desk.text('//section[@aria-label="Condition"]')).toContain('Asked for besides its programme');
  });

  test('the coordinator lets a held engine go, and holds it again for work wanted in the log first', async () => {
    const bracket = (await card()).holds.find((h) => h.why === 'The bracket is cracked.')!;
    await desk.go(`/fleet/engines/${bracket.engineId}`);
    await desk.button('Let it go');
    await desk.fill('What was looked at', 'bracket replaced');
    await desk.click('//div[@role="dialog"]//button[normalize-space(.)="Let it go"]');
    await desk.seeText('The engine may go out again.');
    await desk.button('Hold this engine');
    await desk.fill('Why it is held', 'Water in the separator twice.');
    await desk.choose('Work wanted before it goes out', 'Fuel separator');
    await desk.button('Hold the engine');
    await desk.seeText('Fuel separator still to be done');
    await desk.seeText('It can be let go once these are in the log.');
    expect((await card()).holds.find((h) => h.why.startsWith('Water'))).toMatchObject({
      engineId: bracket.engineId,
      missing: ['separator'],
      by: 'Ilse Maren',
    });
  });

  test('on a phone new to the book, list and card are there without signal after one look', async () => {
    // A card of the day it is by now: the clock went on while the first one was worked.
    const boat = await handAnother();
    const link = `//ul[@aria-label="Job cards"]//a[contains(., "${boat}")]`;
    const fresh = await Browser.open(address, PHONE, { wired: true });
    try {
      await fresh.signIn('Ines Okoye');
      await fresh.click(link);
      await fresh.see(now);
      const words = await fresh.text(`${now}//h2`);
      await fresh.until(
        () => fresh.driver.executeScript('return navigator.serviceWorker.controller !== null'),
        'the worker never came',
      );
      const keptHere = (path: string) =>
        fresh.driver.executeAsyncScript<boolean>(
          `const done = arguments[1]; caches.match(arguments[0]).then((found) => done(found !== undefined));`,
          path,
        );
      const card = new URL(await fresh.driver.getCurrentUrl()).pathname;
      await fresh.until(() => keptHere(`/api${card}`), 'the card is not kept');
      await fresh.signal(false);
      await fresh.driver.navigate().refresh();
      expect(await fresh.text(`${now}//h2`)).toBe(words);
      await fresh.go('/jobs');
      await fresh.see(link);
    } finally {
      await fresh.close();
    }
  });

  test('printed, it is a page of steps with boxes and blanks', async () => {
    await desk.go(`/jobs/${id}`);
    await desk.see('//article');
    await desk.driver.sendDevToolsCommand('Emulation.setEmulatedMedia', { media: 'print' });
    await desk.see('//main//*[@aria-hidden="true"]//ol/li[10]');
    expect(await desk.text('//main')).toContain('Before you start:');
    // What is for the screen is not on the paper.
    expect(await desk.glance('//section[@aria-label="Steps in working order"]')).toBe('');
    expect(await desk.glance('//nav[@aria-label="Rooms"]')).toBe('');
    await desk.driver.sendDevToolsCommand('Emulation.setEmulatedMedia', { media: '' });
  });
});
