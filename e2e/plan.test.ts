import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { BoardReply } from '@diurna/contract/planner';
import ICAL from 'ical.js';
import { Key, Origin } from 'selenium-webdriver';
import { closeBook, openBook, passTime } from './book.ts';
import { Browser, DESK, PHONE } from './browser.ts';

/** The work of the demo fleet planned from end to end, in a book of its own. */
const book = await openBook();
const { address } = book;
let browser: Browser;
beforeAll(async () => {
  browser = await Browser.open(address, DESK);
  await browser.signIn('Ilse Maren');
});
afterAll(async () => {
  await browser.close();
  await closeBook(book);
});

const cost = async () =>
  Number((await browser.text('//p[@aria-label="The plan in figures"]/span[1]/b')).replaceAll(',', ''));
const chip = '//*[@role="gridcell"]//button[@aria-pressed]';
const offer = '//*[@role="gridcell"]//button[contains(@title, " in all")]';
const LIFTED = '[@aria-pressed="true"]';
const PINNED = '[.//*[@aria-label="pinned"]]';
/** Where something begins on the screen (px). */
type Place = { x: number; y: number };
const planned = async () => {
  await browser.until(
    async () => (await browser.count('//progress')) === 0 && (await browser.count('//button[.="Plan again"]')) === 1,
    'the plan is not done',
  );
};
/** The focusable cell of a chip. */
const cellOf = (text: string) => `//*[@role="gridcell"][.//b[normalize-space(.)="${text}"]]`;

describe('the plan of the demo fleet', () => {
  test('is computed in the browser, better and better, and says how far from the best possible it is', async () => {
    await browser.go('/plan');
    await browser.see('//*[@role="grid"]//*[@role="gridcell"]');
    const before = await cost();
    await browser.button('Plan again');
    await browser.see('//progress');
    await planned();
    expect(await cost()).toBeLessThan(before);
    expect(await browser.count(chip)).toBeGreaterThan(15);
    expect(await browser.text('//p[@aria-label="The plan in figures"]')).toMatch(
      /within \d+(\.\d)? % of the best possible|the best possible/,
    );
    expect(await browser.text('//p[@aria-label="The plan in figures"]')).toMatch(/\d+ tasks in \d+ visits/);
  });

  test('what is not placed says why, and what would free it at what price', async () => {
    await browser.see('//h2[.="Not placed"]/following-sibling::*[1]');
    await browser.until(
      async () =>
        (await browser.count('//*[@role="group"][starts-with(@aria-label, "No place for")]/p')) > 0 ||
        (await browser.count('//p[contains(., "Everything that falls due within these days has its place")]')) > 0,
    );
    if ((await browser.count('//*[@role="group"][starts-with(@aria-label, "No place for")]')) > 0)
      expect(
        (await browser.text('(//*[@role="group"][starts-with(@aria-label, "No place for")])[1]')).length,
      ).toBeGreaterThan(60);
  });

  test('picked up, every place shows its cost; moved by drag the cost changes by that much, undo brings it back', async () => {
    const before = await cost();
    let boat = '';
    let a: Place = { x: 0, y: 0 };
    let dear: (Place & { cell: string; more: number })[] = [];
    let b: Place | undefined;
    // The first visit that costs elsewhere, in a place one sees: not every day makes every visit dear to move.
    for (let n = 1; n <= 16 && !b; n++) {
      await browser.click(`(${chip})[${n}]`);
      await browser.see('//h2[starts-with(., "Why ")]');
      await browser.seeText('Leaving it out of this plan would');
      boat = await browser.text(`(${chip})[${n}]/b`);
      const from = await browser.see(`(${chip})[${n}]`);
      // In one look, the visit scrolled to first: where every offer stands on the screen.
      const [at, offers] = await browser.driver.executeScript<[Place, (Place & { words: string; cell: string })[]]>(
        `const [from] = arguments;
         from.scrollIntoView({ block: 'center' });
         const place = (e) => { const { x, y } = e.getBoundingClientRect(); return { x, y }; };
         return [place(from), [...document.querySelectorAll('[role="gridcell"] button[title*=" in all"]')].map((o) =>
           ({ ...place(o), words: o.innerText, cell: o.closest('[data-cell]').dataset.cell }))];`,
        from,
      );
      a = at;
      expect(offers.length).toBeGreaterThan(3);
      dear = offers.map(({ words, ...o }) => ({
        ...o,
        more: Number(words.replace('−', '-').replace('+', '').replaceAll(',', '')),
      }));
      // The dearest place in sight, so that the cost shows it; near an edge the lines begin to scroll under the hand.
      b = dear
        .filter((d) => d.x > 290 && d.x < 770 && d.y > 350 && d.y < 680 && d.more >= 3)
        .sort((one, two) => two.more - one.more)[0];
      if (!b) await browser.driver.actions().sendKeys(Key.ESCAPE).perform();
    }
    await browser.driver
      .actions({ async: true })
      .move({ x: Math.round(a.x + 12), y: Math.round(a.y + 12), origin: Origin.VIEWPORT })
      .press()
      .move({ x: Math.round(a.x + 24), y: Math.round(a.y + 20), duration: 120, origin: Origin.VIEWPORT })
      .move({ x: Math.round(b!.x + 10), y: Math.round(b!.y - 8), duration: 400, origin: Origin.VIEWPORT })
      .pause(400)
      .release()
      .perform();
    await browser.until(async () => Math.abs((await cost()) - before) > 1, 'the cost did not change');
    // What a person put somewhere is pinned there; its price is the one that stood there.
    const put = await browser.see(`${chip}${PINNED}[b="${boat}"]`);
    const cell = await browser.driver.executeScript<string>(
      'return arguments[0].closest("[data-cell]").dataset.cell',
      put,
    );
    const said = dear.find((d) => d.cell === cell)!;
    expect(Math.abs((await cost()) - before - said.more)).toBeLessThanOrEqual(2);
    await browser.button('Undo');
    await browser.until(async () => (await cost()) === before, 'not undone');
    await browser.button('Redo');
    await browser.until(async () => (await cost()) !== before, 'not done again');
    await browser.button('Undo');
    await browser.until(async () => (await cost()) === before, 'not undone');
  });

  test('by keyboard alone: picked up, put down elsewhere, pinned, planned again around it', async () => {
    const boat = await browser.text(`(${chip})[2]/b`);
    await browser.driver.executeScript('arguments[0].focus()', await browser.see(cellOf(boat)));
    await browser.press(Key.ENTER);
    await browser.see(`${chip}${LIFTED}`);
    await browser.see(offer);
    // Step right until a place takes it.
    for (let step = 0; step < 27; step++) {
      await browser.press(Key.ARROW_RIGHT);
      const here = await browser.driver.executeScript<string>('return document.activeElement.textContent');
      if (/dearer|cheaper|costs the same/.test(here)) break;
    }
    await browser.press(Key.ENTER);
    await browser.gone(`${chip}${LIFTED}`);
    await browser.see(`${chip}${PINNED}`);
    const pinned = await browser.text(`(${chip}${PINNED})[1]/b`);
    const place = await browser.attribute(`(${chip}${PINNED})[1]/ancestor::*[@role="gridcell"]`, 'data-cell');
    await browser.button('Plan again');
    await planned();
    expect(await browser.text(`//*[@data-cell="${place}"]`)).toContain(pinned);
    await browser.see(`//*[@data-cell="${place}"]//button${PINNED}`);
  });

  test('accepted, the visit is a card on the technician’s phone, and she is told', async () => {
    const boat = await browser.text(`(${chip})[1]/b`);
    const technician = await browser.text(`(${chip})[1]/ancestor::*[@role="row"]/*[@role="rowheader"]/b`);
    await browser.button('Accept');
    await browser.button('Accept the plan');
    await browser.seeText('Everybody it touches is told.');
    const phone = await Browser.open(address, PHONE);
    try {
      await phone.signIn(technician);
      await phone.see('//section[@aria-label="Told to you"]//li');
      await phone.go('/jobs?show=open&whose=mine');
      await phone.see(`//ul[@aria-label="Job cards"]//a[contains(., "${boat}")]`);
      await phone.click('//section[@aria-label="Told to you"]//button[.="Seen"]');
      await phone.gone('//section[@aria-label="Told to you"]');
      // Her calendar, read with a calendar library.
      await phone.go('/yard');
      await phone.button('Make an address');
      const url = await phone.attribute('//input[contains(@value, "/api/calendars/")]', 'value');
      const text = await (await fetch(url)).text();
      const events = new ICAL.Component(ICAL.parse(text) as unknown[])
        .getAllSubcomponents('vevent')
        .map((e) => new ICAL.Event(e));
      expect(events.some((e) => e.summary.startsWith(`${boat}: `))).toBe(true);
      for (const e of events) expect(e.endDate.compare(e.startDate)).toBeGreaterThan(0);
    } finally {
      await phone.close();
    }
  });

  test('taken back, the cards stand as before it, and the same plan comes again as one decision', async () => {
    const standing = async () =>
      (await browser.call<BoardReply>('GET', '/plan?days=28')).standing.map((v) => [v.jobId, v.day, v.technician]);
    const accepted = await standing();
    await browser.go('/day');
    const lately = '//section[h2[.="Decided of late"]]';
    await browser.click(`(${lately}//button[contains(., "The plan of 14 days")])[1]`);
    await browser.see(`${lately}//section[@aria-label="New cards"]//li`);
    await browser.click(`${lately}//button[.="Take it back"]`);
    await browser.seeText('Everybody it touches is told.');
    expect(await standing()).not.toEqual(accepted);
    // It was taken back by mistake.
    await browser.click('//*[@aria-live="polite"]//button[.="Take it back"]');
    await browser.until(async () => JSON.stringify(await standing()) === JSON.stringify(accepted));
  });

  test('compared with the plan accepted before: nothing differs', async () => {
    await browser.go('/plan');
    await browser.see(chip);
    await browser.button('Compare');
    await browser.seeText('No visit differs.');
  });
});

describe('two coordinators at once', () => {
  test('what only one changed is put together, what both changed is shown, and nothing is lost', async () => {
    await browser.go('/plan');
    await browser.see(chip);
    const first = async (who: Browser, n: number) => who.text(`(${chip})[${n}]/b`);
    const mine = await first(browser, 1);
    // Here the first visit is left out; there too it is moved, and another is left out.
    await browser.click(`(${chip})[1]`);
    await browser.button('Leave out of the plan');
    await browser.see('//button[.="Accept"][not(@disabled)]');
    const other = await Browser.open(address, DESK);
    try {
      await other.signIn('Wyn Aldous');
      await other.go('/plan');
      await other.see(chip);
      expect(await first(other, 1)).toBe(mine);
      await other.click(`(${chip})[1]`);
      await other.see(offer);
      await other.click(`(${offer})[1]`);
      await other.gone(`${chip}${LIFTED}`);
      await other.button('Accept');
      await other.button('Accept the plan');
      await other.seeText('Everybody it touches is told.');
    } finally {
      await other.close();
    }
    await browser.button('Accept');
    await browser.see('//*[@role="alert"][contains(., "Somebody else accepted")]');
    expect(await browser.text('//*[@role="alert"][contains(., "Somebody else accepted")]')).toContain(mine);
    expect(await browser.count('//button[.="Accept"][@disabled]')).toBe(1);
    await browser.click('//*[@role="alert"][contains(., "Somebody else accepted")]//button[.="take mine"]');
    await browser.gone('//*[@role="alert"][contains(., "Somebody else accepted")]');
    await browser.button('Accept');
    await browser.button('Accept the plan');
    await browser.seeText('Everybody it touches is told.');
  });
});

/** Minutes after midnight between which boats are out and people at work. */
const MORNING = 660;
const AFTERNOON = 900;

describe('the day', () => {
  test('shows who works when; an option in To decide is taken with one click', async () => {
    // A card on a day on which its boat is out has to be decided. In the middle of a morning: at night none is out.
    const [base] = await browser.call<{ today: string }[]>('GET', '/fleet/bases');
    const { now } = await browser.call<{ now: number | null }>('GET', `/day?day=${base!.today}`);
    if (now! < MORNING) await passTime(book, MORNING - now!);
    if (now! > AFTERNOON) await passTime(book, 1440 + MORNING - now!);
    const made = await browser.driver.executeAsyncScript<string>(`
      const done = arguments[0];
      (async () => {
        const session = await (await fetch('/api/session')).json();
        const board = await (await fetch('/api/plan?days=14')).json();
        const day = board.firstDay;
        const engineOf = (boat) => board.problem.engines.find((e) => e.boat === boat.id);
        const worked = (boat) => board.standing.some((s) => s.boat === boat.id && s.day === 0);
        const send = (path, body) => fetch(path, {
          method: 'POST',
          headers: { 'content-type': 'application/json', 'x-diurna-token': session.csrfToken },
          body: JSON.stringify(body),
        });
        let out = board.problem.boats.find((b) => b.free[0].length === 0 && engineOf(b) && !worked(b));
        // None is out all day: one that is not booked at all is let for it.
        for (const b of board.problem.boats) {
          if (out || !engineOf(b) || worked(b)) continue;
          const times = { outDay: day, outTime: '00:30', backDay: day, backTime: '23:30', reference: null };
          if ((await send('/api/hires', { boatId: Number(b.id), ...times })).ok) out = b;
        }
        if (!out) return done('');
        await send('/api/jobs', {
          boatId: Number(out.id),
          technicianId: Number(board.problem.technicians[0].id),
          day,
          tasks: [{ engineId: Number(engineOf(out).id), task: 'steering-rod' }],
          insist: 'to be decided on the day',
        });
        done(board.boats[out.id].name);
      })();`);
    expect(made).not.toBe('');
    await browser.go('/day');
    await browser.see('//*[@role="group"][starts-with(@aria-label, "The day by the hour")]');
    const title = `${made} cannot be done by`;
    const matter = `//article[h4[contains(., "${title}")]]`;
    await browser.see(matter);
    // A line each, one of them open.
    if ((await browser.count(`${matter}//button[@aria-expanded="false"]`)) > 0)
      await browser.click(`${matter}//button[@aria-expanded="false"]`);
    await browser.click(`${matter}//button[contains(., "Call it off")]`);
    await browser.gone(matter);
  });

  test('when somebody is ill the rest of the day is arranged anew, what moves is shown, and taken', async () => {
    await browser.go('/day');
    await browser.see('//*[@role="group"][starts-with(@aria-label, "The day by the hour")]');
    await browser.button('Something slipped');
    await browser.see('//section[@aria-label="Something slipped"]//select');
    const options = await browser.count(
      '//section[@aria-label="Something slipped"]//label[contains(., "Which")]//option',
    );
    if (options === 0) return; // A day on which nobody works has nobody to fall ill.
    await browser.button('Note it');
    await browser.seeText('is away today');
    await browser.button('Rearrange the rest of the day');
    await browser.see('//section[@aria-label="Something slipped"]//*[@role="status"]');
    await browser.button('Take it');
    await browser.seeText('The day is arranged anew');
  });
});
