import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { batteryRoutes } from '@diurna/contract/batteries';
import type { seasonRoutes } from '@diurna/contract/season';
import type { ReplyOf } from '@diurna/contract';
import { Key } from 'selenium-webdriver';
import { closeBook, openBook, passTime } from './book.ts';
import { Browser, DESK, PHONE } from './browser.ts';
import { STEP_AT_HAND, workStepOn } from './work-step.ts';

type Season = ReplyOf<(typeof seasonRoutes)['readSeason']>;
type Round = ReplyOf<(typeof batteryRoutes)['batteryRound']>;

/** The seasons of the yard: one base closes soon, one has just opened, one never closes. */
const book = await openBook();
let desk: Browser;
let phone: Browser | null = null;
const base = new Map<string, number>();
beforeAll(async () => {
  desk = await Browser.open(book.address, DESK);
  await desk.signIn('Ilse Maren');
  for (const b of await desk.call<{ id: number; name: string }[]>('GET', '/fleet/bases')) base.set(b.name, b.id);
});
afterAll(async () => {
  await phone?.close();
  await desk.close();
  await closeBook(book);
});

const season = (name: string) => desk.call<Season>('GET', `/season?baseId=${base.get(name)}`);
const BOATS = '//table[@aria-label="Boats of the season"]';

test('by its key: the base that closes soon, its pace and its boats, and why each piece of work is on the list', async () => {
  await desk.go('/day');
  await desk.see('//h1[contains(., "April") or contains(., " ")]');
  await desk.press('6');
  await desk.see('//h1[.="Season"]');
  await desk.choose('Base', 'Larkspur Slip');
  await desk.see(`${BOATS}//tbody/tr`);
  const { boats, layUp, off } = await season('Larkspur Slip');
  expect(await desk.count(`${BOATS}//tbody/tr`)).toBe(boats.length);
  expect(await desk.text('//section[@aria-label="Lay-up"]')).toContain(`${layUp!.done} of ${layUp!.total}`);
  const first = boats[0]!;
  await desk.click(`${BOATS}//button[.="${first.boatName}"]`);
  await desk.see(`//*[@role="dialog"]//h2[.="${first.boatName}, ${off!.name}"]`);
  const because = first.visits[0]!.tasks[0]!.because;
  await desk.see(`//*[@role="dialog"]//section[@aria-label="before the last hire"]//*[contains(., "${because}")]`);
  await desk.see('//*[@role="dialog"]//section[@aria-label="Left out"]//li');
  await desk.press('\uE00C');
  await desk.gone('//*[@role="dialog"]');
});

test('by keyboard alone: from leaf to leaf, into a boat’s sheet and back to where one was', async () => {
  await desk.go('/season');
  await desk.see(`${BOATS}//tbody/tr`);
  const at = () => desk.driver.executeScript<string>('return document.activeElement.textContent.trim()');
  /** Goes on by Tab until it stands on what is called so. */
  const tabTo = async (name: string) => {
    for (let i = 0; i < 60 && (await at()) !== name; i++) await desk.press(Key.TAB);
    expect(await at()).toBe(name);
  };
  await tabTo('Batteries');
  await desk.press(Key.ENTER);
  await desk.see('//table[@aria-label="Batteries in store"]');
  await tabTo('Boats');
  await desk.press(Key.ENTER);
  const first = await desk.text(`(${BOATS}//tbody//button)[1]`);
  await tabTo(first);
  await desk.press(Key.ENTER);
  await desk.see(`//*[@role="dialog"]//h2[starts-with(., "${first}, ")]`);
  // What is asked in a sheet stays in it.
  for (let i = 0; i < 40; i++) await desk.press(Key.TAB);
  expect(
    await desk.driver.executeScript<boolean>('return document.activeElement.closest(\'[role="dialog"]\') !== null'),
  ).toBe(true);
  await desk.press(Key.ESCAPE);
  await desk.gone('//*[@role="dialog"]');
  expect(await at()).toBe(first);
});

test('a boat that is not brought out stays at the dock; the coordinator lets it go once, with a reason', async () => {
  const { boats, today } = await season('Brindle Quay');
  const boat = boats.find((b) => b.next === 'spring' && b.held.length === 0)!;
  await desk.call('POST', '/hires', {
    ...{ boatId: boat.boatId, outDay: today, outTime: '18:40', backDay: today, backTime: '19:40', reference: null },
  });
  const row = `//ul[@aria-label="Going out"]/li[contains(., "${boat.boatName}")][contains(., "18:40")]`;
  const dock = await Browser.open(book.address, PHONE);
  await dock.signIn('Bram');
  await dock.go('/day/back');
  await dock.see(`${row}[contains(., "not brought out")][contains(., "It was put away and is not brought out yet")]`);
  expect(await dock.count(`${row}//button`)).toBe(0);
  await desk.go('/day/back');
  await desk.click(`${row}//button[.="Let it go all the same"]`);
  await desk.fill('Why', 'run in yesterday, not written down yet');
  await desk.button('Let it go');
  await desk.see(`${row}[contains(., "out ")]//button[.="It is still here"]`);
  await desk.click(`${row}//button[.="It is still here"]`);
  await dock.close();
});

test('planned backwards: every visit has its day, and what comes after the last hire comes after it', async () => {
  await desk.turnTo(`/season/plan?base=${base.get('Larkspur Slip')}`);
  await desk.see('//table[@aria-label="The campaign by week"]//tbody/tr');
  await desk.choose('The campaign gets', '100 % of the free hands');
  await desk.see('//table[@aria-label="Visits by day"]//tbody/tr');
  const { boats } = await season('Larkspur Slip');
  const visits = boats.flatMap((b) =>
    b.visits.filter((v) => v.visit !== 'spring' && v.tasks.some((t) => !t.doneOn && !t.job)),
  );
  await desk.until(async () => (await desk.count('//table[@aria-label="Visits by day"]//tbody/tr')) === visits.length);
});

test('a visit is handed out from the room, and is a card on the technician’s phone like any other', async () => {
  await desk.turnTo(`/season?base=${base.get('Larkspur Slip')}`);
  await desk.see(`${BOATS}//tbody/tr`);
  const free = (await season('Larkspur Slip')).boats.find((b) =>
    b.visits.some((v) => v.visit === b.next && v.tasks.every((t) => t.job === null && t.doneOn === null)),
  )!;
  await desk.button('Hand out the next visits');
  const dialog = '//*[@role="dialog"]';
  await desk.click(
    `${dialog}//input[@type="checkbox"][contains(@aria-label, "${free.boatName}")] | ${dialog}//label[contains(., "${free.boatName}")]//input[@type="checkbox"]`,
  );
  // What is against it is told; it is done all the same, with a reason where one is asked for.
  await desk.see(`${dialog}//button[contains(., "Hand out 1 boat")]`);
  if ((await desk.count(`${dialog}//label[contains(., "All the same")]`)) > 0)
    await desk.fill('All the same, because', 'it closes');
  await desk.click(`${dialog}//button[contains(., "Hand out 1 boat")]`);
  await desk.gone(dialog);
  const after = (await season('Larkspur Slip')).boats.find((b) => b.boatId === free.boatId)!;
  const { job } = after.visits.find((v) => v.visit === free.next)!.tasks[0]!;
  expect(job).not.toBeNull();
  phone = await Browser.open(book.address, PHONE, { wired: true });
  await phone.signIn(job!.technician);
  await phone.go(`/jobs/${job!.id}`);
  await phone.see(`//article//*[contains(., "${free.boatName}")]`);
  await phone.seeText('Fuel stabiliser');
});

test('a round of the batteries by phone, without signal: judged on the spot, kept through a reload, and sent by itself', async () => {
  const round = async () =>
    (await desk.call<Round>('GET', `/season/batteries?baseId=${base.get('Brindle Quay')}`)).batteries;
  const { boatName } = (await round())[0]!;
  const row = `//table[@aria-label="Batteries in store"]//tr[th[.="${boatName}"]]`;
  await phone!.signIn('Ines Okoye');
  await phone!.driver.executeAsyncScript('const done = arguments[0]; navigator.serviceWorker.ready.then(() => done())');
  await phone!.go(`/season/batteries?base=${base.get('Brindle Quay')}`);
  await phone!.see(row);
  await phone!.signal(false);
  // The boat in front of one, by its name; a hand scanner types the label.
  await phone!.fill('Boat: scan or name', boatName.toLowerCase());
  await phone!.press(Key.ENTER);
  await phone!.fill('Volts, rested', '12.2');
  await phone!.fill('Temperature (°C)', '-3');
  await phone!.button('Write it down');
  await phone!.seeText(`${boatName}: `);
  await phone!.see(`${row}[contains(., "12.20 V")][contains(., "not sent yet")]`);
  await phone!.go(`/season/batteries?base=${base.get('Brindle Quay')}`);
  await phone!.see(`${row}[contains(., "12.20 V")][contains(., "not sent yet")]`);
  expect((await round()).find((b) => b.boatName === boatName)!.looks[0]?.volts).not.toBe(12.2);
  await phone!.signal(true);
  await phone!.sent();
  const look = (await round()).find((b) => b.boatName === boatName)!;
  expect(look.looks[0]).toMatchObject({ volts: 12.2, celsius: -3 });
});

test('work put off to spring is found there; a base that never closes says so', async () => {
  const due = await desk.call<{
    rows: {
      engineId: number;
      boatName: string;
      baseId: number;
      job: unknown;
      deferral: unknown;
      due: { task: string };
    }[];
  }>('GET', '/service/due?size=200&task=impeller');
  const row = due.rows.find((r) => r.baseId === base.get('Brindle Quay') && r.job === null && r.deferral === null)!;
  await desk.call('POST', `/service/engines/${row.engineId}/deferrals`, {
    task: 'impeller',
    until: null,
    reason: 'Impeller in spring',
  });
  await desk.go(`/season/put-off?base=${base.get('Brindle Quay')}`);
  await desk.see(`//tr[contains(., "${row.boatName}")][contains(., "Impeller in spring")]`);
  await desk.go(`/season?base=${base.get('Outer Mole')}`);
  await desk.seeText('This base never closes.');
});

test('one boat through both visits on the phone: the first dose before its last hire, all of lay-up after it', async () => {
  const place = base.get('Larkspur Slip')!;
  const people = await desk.call<{ id: number; name: string }[]>('GET', '/people');
  const of = async (name: string) => (await season('Larkspur Slip')).boats.find((b) => b.boatName === name)!;
  /** Hands a visit out, and works its card step by step on the phone. */
  const work = async (name: string, visit: 'before' | 'after') => {
    const boat = await of(name);
    const { today } = (await desk.call<{ id: number; today: string }[]>('GET', '/fleet/bases')).find(
      (b) => b.id === place,
    )!;
    const { id } = await desk.call<{ id: number }>('POST', '/jobs', {
      insist: 'the season closes',
      boatId: boat.boatId,
      technicianId: people.find((p) => p.name === 'Jory Pell')!.id,
      day: today,
      tasks: boat.visits
        .find((v) => v.visit === visit)!
        .tasks.filter((t) => t.doneOn === null && t.job === null)
        .map(({ engineId, task }) => ({ engineId, task })),
    });
    await phone!.go(`/jobs/${id}`);
    await phone!.see(STEP_AT_HAND);
    for (let i = 0; i < 90 && (await phone!.count(STEP_AT_HAND)) > 0; i++) {
      if (/Still \d/.test(await phone!.glance(STEP_AT_HAND))) {
        await passTime(book, 25);
        await phone!.driver.navigate().refresh();
        await phone!.see(STEP_AT_HAND);
      }
      await workStepOn(phone!);
    }
    await phone!.seeText('Every step is done.');
    await phone!.sent();
    await phone!.button('Finish the job');
    await phone!.until(
      async () => (await desk.call<{ status: string }>('GET', `/jobs/${id}`)).status === 'done',
      'the card is not finished',
    );
  };
  await phone!.signIn('Jory Pell');
  // A small engine, with its stabiliser alone before the last hire.
  const first = (await season('Larkspur Slip')).boats.find(
    (b) => b.next === 'before' && b.visits[0]!.tasks.length === 1 && b.visits[0]!.tasks[0]!.job === null,
  )!;
  await work(first.boatName, 'before');
  expect(await of(first.boatName)).toMatchObject({ laidUpOn: null });
  expect((await of(first.boatName)).visits[0]).toMatchObject({ open: 0, done: 1 });
  // The last hire comes back.
  const days = Math.round(
    (Date.parse(first.lastBack!) - Date.parse((await season('Larkspur Slip')).today)) / 86_400_000,
  );
  await passTime(book, (days + 1) * 1440);
  expect((await of(first.boatName)).next).toBe('after');
  await work(first.boatName, 'after');
  const done = await of(first.boatName);
  expect(done.visits.find((v) => v.visit === 'after')!.open).toBe(0);
  expect(done.laidUpOn).not.toBeNull();
  // Its card for the cover says what has to be known before anybody starts it.
  await desk.go(`/season/paper?base=${place}`);
  await desk.button('Cards for the covers');
  await desk.see(`//article[@aria-label="Card of ${first.boatName}"][contains(., "The drain bungs are out")]`);
});
