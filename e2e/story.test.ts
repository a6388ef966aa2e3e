import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { Day } from '@diurna/core/calendar';
import type { DayReply } from '@diurna/contract/day';
import type { WorkingPerson } from '@diurna/contract/work-calendar';
import { closeBook, openBook } from './book.ts';
import { Browser, PHONE } from './browser.ts';

/**
 * The demo's story, whatever day and hour it is started on, and the main jobs of a day in it. Run at one instant
 * with the other browser tests, and at every awkward one by `npm run test:dates`.
 */
const book = await openBook();
let browser: Browser;
let today: Day;
let day: DayReply;
beforeAll(async () => {
  browser = await Browser.open(book.address);
  await browser.signIn('Ilse Maren');
  const bases = await browser.call<{ today: Day }[]>('GET', '/fleet/bases');
  today = bases[0]!.today;
  day = await browser.call<DayReply>('GET', `/day?day=${today}`);
});
afterAll(async () => {
  await browser.close();
  await closeBook(book);
});

const TECHNICIANS = ['Ines Okoye', 'Tomasz Wil', 'Reva Sand', 'Jory Pell'];

describe('the story of the demo', () => {
  test('every technician is on duty, at least three have cards, and each card finds its hour in the shift', () => {
    const people = day.people.filter((p) => TECHNICIANS.includes(p.name));
    expect(people.map((p) => [p.name, p.shift !== null])).toEqual(people.map((p) => [p.name, true]));
    expect(people.filter((p) => p.visits.length > 0).length).toBeGreaterThanOrEqual(3);
    for (const p of people)
      for (const v of p.visits.filter((x) => x.status === 'open' && x.trouble === null && x.start !== null))
        expect({ who: p.name, boat: v.boatName, in: v.start! >= p.shift!.from && v.start! < p.shift!.to }).toEqual({
          who: p.name,
          boat: v.boatName,
          in: true,
        });
  });

  test('boats are out, one goes out and one comes back, today or by tomorrow noon', () => {
    expect(day.boatsOut).toBeGreaterThan(0);
    expect(day.boats.some((b) => b.way === 'out')).toBe(true);
    expect(day.boats.some((b) => b.way === 'back')).toBe(true);
  });

  test('there are matters to decide, and none of them is about an hour that is past', () => {
    expect(day.matters!.length).toBeGreaterThan(1);
    expect(day.matters!.some((m) => m.title.includes('Fulmar starboard is held'))).toBe(true);
    const clock = `${Math.floor(day.now! / 60)}:${String(day.now! % 60).padStart(2, '0')}`;
    for (const m of day.matters!) {
      const at = /today (\d+):(\d\d)/.exec(m.title);
      if (at)
        expect({ title: m.title, ahead: Number(at[1]) * 60 + Number(at[2]) > day.now!, clock }).toMatchObject({
          ahead: true,
        });
    }
  });

  test('finished work was done on a day and in hours on which who did it works', async () => {
    const { rows } = await browser.call<{ rows: { id: number; technician: string; day: Day; boatName: string }[] }>(
      'GET',
      '/jobs?status=done',
    );
    const done = rows.find((r) => r.boatName === 'Kittiwake')!;
    expect(done.technician).toBe('Ines Okoye');
    const { people } = await browser.call<{ people: WorkingPerson[] }>('GET', `/people/work?from=${today}`);
    const shift = people
      .find((p) => p.name === 'Ines Okoye')!
      .shifts.find((s) => s.weekday === (new Date(done.day).getUTCDay() || 7))!;
    const card = await browser.call<{ entries: { at: number }[] }>('GET', `/jobs/${done.id}`);
    const zone = 'Atlantic/Madeira';
    for (const { at } of card.entries) {
      const [hour, minute] = new Intl.DateTimeFormat('en-GB', { timeZone: zone, hour: '2-digit', minute: '2-digit' })
        .format(new Date(at))
        .split(':')
        .map(Number);
      const is = hour! * 60 + minute!;
      expect({ is, in: is >= shift.fromMinute && is <= shift.toMinute }).toEqual({ is, in: true });
    }
  });

  test('the same bookings come from the desk as before: reading it again changes nothing', async () => {
    const [feed] = await browser.call<{ id: number }[]>('GET', '/hires/feeds');
    const again = await browser.call<{ outcome: string; failed: boolean }>('POST', `/hires/feeds/${feed!.id}/read`);
    expect(again).toMatchObject({ failed: false });
    expect(again.outcome).not.toMatch(/new|changed|called off/);
  });
});

describe('the main jobs of the day', () => {
  test('the day is drawn with its people, and the page shows the book’s day whatever the machine’s is', async () => {
    await browser.go('/day');
    await browser.see('//*[@role="group"][starts-with(@aria-label, "The day by the hour")]');
    expect(await browser.text('//h1')).toContain(String(Number(today.slice(8))));
    await browser.see('//*[@role="group"][starts-with(@aria-label, "The day by the hour")]//*[contains(., "Ines")]');
  });

  test('hours are typed where a meter was read last', async () => {
    await browser.go('/day/hours');
    const was = Number(await browser.text('//tr[th[contains(., "Dunlin")]]/td[starts-with(@id, "was-")]'));
    await browser.fill('Hours of Dunlin', (was + 1.2).toFixed(1));
    await browser.button('Write 1 figure into the book');
    await browser.seeText('1 figure in the book.');
  });

  test('a plan is worked out and accepted', async () => {
    await browser.go('/plan');
    await browser.see('//*[@role="grid"]//*[@role="gridcell"]');
    await browser.button('Plan again');
    await browser.until(
      async () => (await browser.count('//progress')) === 0 && (await browser.count('//button[.="Plan again"]')) === 1,
      'the plan is not done',
    );
    await browser.button('Accept');
    await browser.button('Accept the plan');
    await browser.seeText('The plan holds:');
  });

  test('a technician opens a card on the phone and ticks the first step', async () => {
    await browser.resize(PHONE);
    await browser.signIn('Ines Okoye');
    await browser.go('/jobs?show=open&whose=mine');
    await browser.click('(//ul[@aria-label="Job cards"]//a)[1]');
    const text = await browser.text('//*[@role="group"][@aria-label="The step at hand"]//h2');
    await browser.click(
      '//*[@role="group"][@aria-label="Tick the step"]//button[not(@disabled)][.!="Something wrong"]',
    );
    await browser.until(
      async () => (await browser.text('//*[@role="group"][@aria-label="The step at hand"]//h2')) !== text,
    );
  });
});
