import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { closeBook, openBook } from './book.ts';
import { Browser, DESK, PHONE } from './browser.ts';

/** A card ticked out of order, on the phone, with signal and without. */
const book = await openBook();
let desk: Browser;
let phone: Browser;
let id = 0;
beforeAll(async () => {
  desk = await Browser.open(book.address, DESK);
  await desk.signIn('Ilse Maren');
  const { rows } = await desk.call<{ rows: { id: number; engines: { id: number; modelName: string }[] }[] }>(
    'GET',
    '/fleet/boats?size=200',
  );
  const due = await desk.call<{ rows: { boatId: number; job: unknown }[] }>('GET', '/service/due?size=200');
  const busy = new Set(due.rows.filter((r) => r.job !== null).map((r) => r.boatId));
  const boat = rows.find((b) => b.engines.length === 1 && b.engines[0]!.modelName.includes('60') && !busy.has(b.id))!;
  const people = await desk.call<{ id: number; name: string }[]>('GET', '/people');
  const [base] = await desk.call<{ today: string }[]>('GET', '/fleet/bases');
  ({ id } = await desk.call<{ id: number }>('POST', '/jobs', {
    insist: 'as this is about the card',
    boatId: boat.id,
    technicianId: people.find((p) => p.name === 'Ines Okoye')!.id,
    day: base!.today,
    tasks: ['engine-oil', 'spark-plugs'].map((task) => ({ engineId: boat.engines[0]!.id, task })),
  }));
  phone = await Browser.open(book.address, PHONE, { wired: true });
  await phone.signIn('Ines Okoye');
});
afterAll(async () => {
  await phone.close();
  await desk.close();
  await closeBook(book);
});

const now = '//*[@role="group"][@aria-label="The step at hand"]';
const step = (words: string, ticked = false) =>
  `//*[@aria-label="Steps in working order"]//button[@role="checkbox"][@aria-checked="${String(ticked)}"][contains(@aria-label, "${words}")]`;
const unfold = () => phone.click('//*[@role="group"][@aria-label="Beside the step"]/button[@aria-expanded="false"]');
const showAll = () => phone.click('//button[starts-with(normalize-space(.), "All ")]');
const refusesToRun = async () => {
  await phone.click(step('un it five minutes'));
  await phone.see(`${now}//*[@role="alert"][contains(., "Plugs are out")]`);
  expect(await phone.count('//button[normalize-space(.)="Not now"][@disabled]')).toBe(1);
  expect(await phone.count(step('un it five minutes', true))).toBe(0);
  await phone.click(`${now}//button[normalize-space(.)="Back to the order"]`);
};

test('with the plugs out the run is not to be ticked, and the phone says why; without signal and after a reload, too', async () => {
  await phone.go(`/jobs/${id}`);
  await phone.see(now);
  await phone.driver.executeAsyncScript('const done = arguments[0]; navigator.serviceWorker.ready.then(() => done())');
  await showAll();
  for (const words of ['owl off', 'plugs out']) {
    await phone.click(step(words));
    await phone.see(step(words, true));
  }
  await unfold();
  await phone.see('//ul[@aria-label="Open now"]/li[contains(., "plugs are out")]');
  await refusesToRun();
  await phone.sent();
  await phone.go(`/jobs/${id}`);
  await phone.see(now);
  await phone.signal(false);
  await phone.driver.navigate().refresh();
  await unfold();
  await phone.see('//ul[@aria-label="Open now"]/li[contains(., "plugs are out")]');
  await showAll();
  await refusesToRun();
  await phone.signal(true);
});

test('a step that finds the engine otherwise wants a reason, which is in the book', async () => {
  await phone.click(step('drain side'));
  await phone.see('//ul[@aria-label="Open now"]/li[contains(., "the sump is empty")]');
  await phone.click(step('our in'));
  await phone.see(`${now}//*[@role="alert"][contains(., "The drain screw is out")]`);
  await phone.fill('Why it is done all the same', 'the screw was in, the tick was forgotten');
  await phone.button('Tick and next');
  await phone.sent();
  const card = await desk.call<{ entries: { act: { kind: string; why?: string } }[] }>('GET', `/jobs/${id}`);
  expect(card.entries.map((e) => e.act.why).filter(Boolean)).toEqual(['the screw was in, the tick was forgotten']);
});

test('a template that would run an engine with the plugs out is refused at the desk, with both steps named', async () => {
  await desk.go('/rules/steps?of=spark-plugs');
  await desk.button('Add a step');
  await desk.fill('What is to be done', 'Start it and listen');
  await desk.choose('The engine runs', 'runs it, once everything is closed');
  await desk.click('//button[contains(@aria-label, "take it out")]');
  await desk.choose('Comes after one more', 'Covers and coils or caps off');
  // The new plugs wait for it.
  await desk.click(
    '//ol[@aria-label="Steps"]/li[contains(., "New plugs in by hand")]//button[normalize-space(.)="edit"]',
  );
  await desk.choose('Comes after one more', 'Start it and listen');
  await desk.fill('Why it is changed', 'to hear the bearings');
  await desk.click('//button[starts-with(normalize-space(.), "Keep as version")]');
  const refused = await desk.text('//*[@role="alert"][contains(., "would run the engine while plugs are out")]');
  expect(refused).toContain('Start it and listen');
  expect(refused).toContain('plugs out, laid in order');
});
