import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { DayReply } from '@diurna/contract/day';
import type { Hire } from '@diurna/contract/hires';
import type { JobCard } from '@diurna/contract/jobs';
import type { BoardReply } from '@diurna/contract/planner';
import { addDays, type Day } from '@diurna/core/calendar';
import { closeBook, openBook } from './book.ts';
import { Browser, DESK } from './browser.ts';

/** A coordinator's morning: what is told, decided in one press, and taken back. A book of its own. */
const book = await openBook();
let browser: Browser;
let today: Day;
beforeAll(async () => {
  browser = await Browser.open(book.address, DESK);
  await browser.signIn('Ilse Maren');
  today = (await browser.call<{ today: Day }[]>('GET', '/fleet/bases'))[0]!.today;
});
afterAll(async () => {
  await browser.close();
  await closeBook(book);
});

const board = () => browser.call<BoardReply>('GET', '/plan?days=14');
const matter = (title: string) => `//article[h4[contains(., "${title}")]]`;
/** Opens the line of a matter, if another stands open. */
const open = async (title: string) => {
  await browser.see(matter(title));
  if ((await browser.count(`${matter(title)}//button[@aria-expanded="false"]`)) > 0)
    await browser.click(`${matter(title)}//button[@aria-expanded="false"]`);
};
const TAKE_BACK = '//*[@aria-live="polite"]//button[.="Take it back"]';

test('leave entered over two cards: both are told with who and why, one is moved with one press and taken back', async () => {
  const b = await board();
  const technician = b.problem.technicians.find((t) => t.shift.filter((s, d) => d > 0 && d < 7 && s).length > 2)!;
  // A day of the coming week on which the person works and two boats without a card lie at the base all day.
  const base = typeof technician.base === 'string' ? technician.base : technician.base.find((x) => x !== null)!;
  const free = (d: number) =>
    b.problem.boats.filter(
      (x) =>
        x.base === base &&
        x.free[d]!.some((w) => w.to - w.from > 500) &&
        !b.standing.some((s) => s.boat === x.id && s.day === d) &&
        b.problem.engines.some((e) => e.boat === x.id) &&
        b.boats[x.id]!.held.length === 0,
    );
  const day = technician.shift.findIndex((s, d) => d > 0 && s !== null && free(d).length > 1);
  const boats = free(day).slice(0, 2);
  const ids: number[] = [];
  for (const x of boats) {
    const { id } = await browser.call<{ id: number }>('POST', '/jobs', {
      boatId: Number(x.id),
      technicianId: Number(technician.id),
      day: addDays(today, day),
      tasks: [{ engineId: Number(b.problem.engines.find((e) => e.boat === x.id)!.id), task: 'steering-rod' }],
      insist: 'for the morning',
    });
    ids.push(id);
  }
  const leave = addDays(today, day);
  await browser.call('POST', `/people/${technician.id}/exceptions`, {
    kind: 'away',
    firstDay: leave,
    lastDay: leave,
    baseId: null,
    fromMinute: null,
    toMinute: null,
    reason: 'a wedding',
  });
  await browser.go('/day');
  const titles = boats.map((x) => `${b.boats[x.id]!.name} on `);
  for (const t of titles) await browser.see(matter(t));
  await open(titles[0]!);
  expect(await browser.text(matter(titles[0]!))).toContain('is off');
  await browser.click(`(${matter(titles[0]!)}//button[starts-with(normalize-space(.), "Move to")])[1]`);
  const card = async () => {
    const { day: on, technicianId } = await browser.call<JobCard>('GET', `/jobs/${ids[0]}`);
    return `${on} ${technicianId}`;
  };
  await browser.until(async () => (await card()) !== `${leave} ${technician.id}`);
  await browser.gone(matter(titles[0]!));
  await browser.click(TAKE_BACK);
  await browser.until(async () => (await card()) === `${leave} ${technician.id}`);
});

describe('milky lube in a boat that is booked', () => {
  let name = '';
  let boatId = '';
  let engineId = '';
  let hire: { id: number };
  let day: Day;
  const hireNow = async () => {
    const { rows } = await browser.call<{ rows: Hire[] }>('GET', `/hires?from=${day}&days=1`);
    return rows.find((h) => h.id === hire.id)!;
  };

  test('held, the hire goes to another boat of its class with one press, written to the hires', async () => {
    const b = await board();
    const idle = (x: (typeof b.problem.boats)[number], d: number) =>
      !b.standing.some((s) => s.boat === x.id && s.day === d) &&
      b.boats[x.id]!.held.length === 0 &&
      !b.boats[x.id]!.hires.some(([out, back]) => out < (d + 1) * 1440 && back > d * 1440);
    const mates = (x: (typeof b.problem.boats)[number], d: number) =>
      b.problem.boats.filter(
        (y) => y.id !== x.id && y.base === x.base && b.boats[y.id]!.classKey === b.boats[x.id]!.classKey && idle(y, d),
      );
    const found = [1, 2, 3, 4, 5]
      .flatMap((d) => b.problem.boats.map((x) => ({ x, d })))
      .find(({ x, d }) => idle(x, d) && mates(x, d).length > 0 && b.problem.engines.some((e) => e.boat === x.id))!;
    boatId = found.x.id;
    name = b.boats[boatId]!.name;
    engineId = b.problem.engines.find((e) => e.boat === boatId)!.id;
    day = addDays(today, found.d);
    hire = await browser.call('POST', '/hires', {
      boatId: Number(boatId),
      outDay: day,
      outTime: '09:00',
      backDay: day,
      backTime: '12:00',
      reference: 'Q 12',
    });
    await browser.call('POST', '/findings/holds', {
      engineId: Number(engineId),
      why: 'The gear lube came out milky.',
      checks: ['gear-seals', 'gear-lube'],
    });
    await browser.go('/day');
    const own = `//article[h4[contains(., "${name}")][contains(., "is held and goes out")]]`;
    await browser.see(own);
    if ((await browser.count(`${own}//button[@aria-expanded="false"]`)) > 0)
      await browser.click(`${own}//button[@aria-expanded="false"]`);
    expect(await browser.text(own)).toContain('Wanted first: gear-case seals, gear lube.');
    expect(await browser.count(`${own}//button[starts-with(normalize-space(.), "Call the hire desk")]`)).toBe(1);
    await browser.click(`(${own}//button[starts-with(normalize-space(.), "Give the hire to")])[1]`);
    await browser.until(async () => (await hireNow()).givenFrom?.boatName === name);
    expect((await hireNow()).boatId).not.toBe(Number(boatId));
    // What is left to decide is about later hires, if there are any.
    const { matters } = await browser.call<DayReply>('GET', `/day?day=${today}`);
    const acts = matters!.find((m) => m.key === `hold ${boatId}`)!.options.map((o) => o.act);
    expect(acts.some((a) => a.kind === 'stand in' && a.hireId === hire.id)).toBe(false);
  });

  test('its repair is due, stands in the plan with the lube after it, and once it is in the log the boat is let go', async () => {
    const b = await board();
    expect(b.tasks[`${engineId} gear-seals`]?.brings).toContain('gear-lube');
    expect(b.problem.tasks.some((t) => t.id === `${engineId} gear-lube`)).toBe(false);
    for (const task of ['gear-seals', 'gear-lube'])
      await browser.call('POST', '/service/entries', {
        engineId: Number(engineId),
        tasks: [task],
        doneOn: today,
        hours: null,
        doneBy: 'The engine shop',
        remark: null,
      });
    await browser.go('/day');
    await browser.until(async () => {
      const { matters } = await browser.call<DayReply>('GET', `/day?day=${today}`);
      return matters!.some((m) => m.key === `hold ${boatId}` && m.options[0]!.label === 'Look and let it go');
    });
    await browser.go(`/fleet/engines/${engineId}`);
    const { holds } = await browser.call<{ holds: { id: number; version: number; released: object | null }[] }>(
      'GET',
      `/findings/engines/${engineId}`,
    );
    const held = holds.find((h) => h.released === null)!;
    await browser.call('POST', `/findings/holds/${held.id}/release`, { version: held.version, because: 'run and dry' });
    await browser.go('/day');
    await browser.see('//section[h2[contains(., "To decide")]]');
    const { matters } = await browser.call<DayReply>('GET', `/day?day=${today}`);
    expect(matters!.some((m) => m.key === `hold ${boatId}`)).toBe(false);
  });
});

test('after walking through five days the sheet on paper has the rows of the one day it is for', async () => {
  // A boat booked twice at one time stands on the sheet twice, on its day alone.
  const b = await board();
  const twice = Object.keys(b.boats)[0]!;
  const times = { outDay: today, outTime: '23:10', backDay: today, backTime: '23:40', reference: null };
  for (let i = 0; i < 2; i++) await browser.call('POST', '/hires', { boatId: Number(twice), ...times });
  await browser.go('/day');
  const rows = '//*[@role="group"][@aria-label="Day sheet"]//h2[.="Boats"]/following-sibling::ul/li';
  const boats = async (d: Day) => (await browser.call<DayReply>('GET', `/day?day=${d}`)).boats.length;
  const onDay = async (d: Day, turn: string | null) => {
    if (turn) await browser.click(turn);
    const wanted = await boats(d);
    await browser.until(async () => (await browser.count(rows)) === wanted, `the sheet of ${d} is not that day's`);
  };
  await onDay(today, null);
  const open = '//nav[@aria-label="Days"]//button[@aria-pressed="true"]';
  for (let i = 1; i <= 5; i++) await onDay(addDays(today, i), `${open}/following-sibling::button[1]`);
  for (let i = 4; i >= 0; i--) await onDay(addDays(today, i), `${open}/preceding-sibling::button[1]`);
});
