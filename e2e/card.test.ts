import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import { Browser, PHONE } from './browser.ts';

/** The steps of a card on the phone, in the book whose work is planned. */
let phone: Browser;
beforeAll(async () => { phone = await Browser.open(process.env.DIURNA_E2E_PLAN!, PHONE); });
afterAll(async () => { await phone.close(); });

const now = '//div[@class="step-now"]';

describe('the card, step by step', () => {
  test('drains run while other steps go on, outlive a reload, and the last step of a task ticks it', async () => {
    await phone.signIn('Ilse Maren');
    // An oil service with its filter, for Ines, on a boat that has none on a card.
    const id = await phone.driver.executeAsyncScript<number>(`
      const done = arguments[0];
      (async () => {
        const session = await (await fetch('/api/session')).json();
        const due = await (await fetch('/api/service/due?size=200')).json();
        const people = await (await fetch('/api/people')).json();
        const engine = due.rows.find((r) => r.due.task === 'oil-filter' && !r.job && due.rows.some((x) => x.engineId === r.engineId && x.due.task === 'engine-oil' && !x.job));
        const reply = await fetch('/api/jobs', { method: 'POST', headers: { 'content-type': 'application/json', 'x-diurna-token': session.csrfToken }, body: JSON.stringify({ boatId: engine.boatId, technicianId: people.find((p) => p.name === 'Ines Okoye').id, day: (await (await fetch('/api/fleet/bases')).json())[0].today, tasks: [{ engineId: engine.engineId, task: 'engine-oil' }, { engineId: engine.engineId, task: 'oil-filter' }] }) });
        done((await reply.json()).id);
      })();`);
    await phone.signIn('Ines Okoye');
    await phone.go(`/jobs/${id}`);
    await phone.see(now);
    expect(await phone.text(now)).toContain('step 1 of');
    const next = () => phone.click(`${now}//button[starts-with(normalize-space(.), "Done")]`);
    for (let i = 0; i < 8 && (await phone.count('//p[@role="timer"]')) === 0; i++) await next();
    // The sump drains; the filter is at hand meanwhile.
    expect(await phone.text('//p[@role="timer"]')).toMatch(/^(20:00|19:\d\d) .*drain/i);
    expect(await phone.text(now)).toContain('Old filter off');
    await phone.driver.navigate().refresh();
    expect(await phone.text('//p[@role="timer"]')).toMatch(/^19:\d\d|^20:00/);
    await next();
    await next();
    await phone.see('//button[@role="checkbox"][starts-with(@aria-label, "Oil filter")][@aria-checked="true"]');
    // Nothing else can be done before the sump is empty, and it says so.
    expect(await phone.text(now)).toMatch(/Still 1\d:\d\d to wait before this\./);
    await phone.click(`${now}//button[.="Back one step"]`);
    expect(await phone.text(now)).toContain('new filter on');
    await phone.click('//button[contains(., "steps, ")]');
    expect(await phone.count('//ol[@class="step-list"]/li')).toBeGreaterThan(9);
  });
});
