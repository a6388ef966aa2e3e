import { afterAll, beforeAll, expect, test } from '@jest/globals';
import type { JobCard } from '@diurna/contract/jobs';
import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { attackChaos } from '../bench/attack/chaos.ts';
import { Target } from '../bench/attack/target.ts';
import { Browser, DESK, PHONE } from './browser.ts';

/**
 * Two phones on the dock, each with its card: what is written and taken without signal arrives through cuts of the line
 * and while app and database are killed under it.
 */
const NAMES = ['Ines Okoye', 'Tomasz Wil'];
/** The short run of `npm run attack -- chaos`, always the same one. */
const ROUNDS = 5;
const SEED = 4;
const PICTURES = 3;
let target: Target;
let desk: Browser;
const phones: Browser[] = [];
const cards: number[] = [];
beforeAll(async () => {
  target = await Target.open(['--processes', '2', '--workers', '1'], { env: { DIURNA_NOW: '2026-04-15T10:00:00Z' } });
  desk = await Browser.open(target.address, DESK);
  await desk.signIn('Ilse Maren');
  for (const name of NAMES) {
    const phone = await Browser.open(target.address, PHONE, { wired: true });
    phones.push(phone);
    await phone.signIn(name);
    await phone.driver.executeAsyncScript(
      'const done = arguments[0]; navigator.serviceWorker.ready.then(() => done())',
    );
  }
});
afterAll(async () => {
  for (const browser of [...phones, desk]) await browser.close();
  await target.close();
});

const kill = (id: number | undefined) => {
  if (id !== undefined) process.kill(id, 'SIGKILL');
};

test('mail that cannot go is seen with why, and goes once the address is mended', async () => {
  const box = join(target.folder, 'mailbox');
  await desk.go('/yard');
  await desk.button('Add somebody');
  await desk.fill('Name', 'Oyster Workshop');
  await desk.fill('Address of mail', 'nobody@oyster-works.example');
  await desk.button('Add them');
  await desk.seeText('nobody@oyster-works.example');
  await desk.button('Write to them');
  // Who hears of hires is ticked to begin with.
  await desk.click('//*[@role="dialog"]//label[contains(., "Hire desk")]');
  await desk.fill('Subject', 'A lower unit for you');
  await desk.fill('Words', 'Can you take it on Friday?');
  await desk.button('Send it');
  await desk.seeText('1 mail on the way');
  await desk.go('/records/mail');
  await desk.seeText('The mail server does not take it: 550');
  await desk.seeText('A mail to Oyster Workshop did not go: "A lower unit for you".');
  await desk.go('/yard');
  await desk.click('//button[@aria-label="Edit Oyster Workshop"]');
  await desk.fill('Address of mail', 'bench@oyster-works.example');
  await desk.button('Keep the changes');
  await desk.seeText('bench@oyster-works.example');
  await desk.go('/records/mail');
  await desk.click('//button[starts-with(@aria-label, "Send again: “A lower unit for you”")]');
  await desk.see('//tr[contains(., "bench@oyster-works.example")]');
  const sent = readdirSync(box).map((file) => readFileSync(join(box, file), 'utf8'));
  expect(sent.filter((mail) => mail.includes('To: Oyster Workshop <bench@oyster-works.example>'))).toHaveLength(1);
});

test('each writes and takes pictures without signal; killed servers lose none of it and do none of it twice', async () => {
  const people = await desk.call<{ id: number; name: string }[]>('GET', '/people');
  const { rows } = await desk.call<{ rows: { id: number; technicianId: number }[] }>(
    'GET',
    '/jobs?status=open&size=200',
  );
  const idOf = (i: number) => people.find((p) => p.name === NAMES[i])!.id;
  for (const [i, phone] of phones.entries()) {
    cards.push(rows.find((j) => j.technicianId === idOf(i))!.id);
    await phone.go(`/jobs/${cards[i]}`);
    await phone.see('//*[@role="group"][@aria-label="The step at hand"]');
    await phone.signal(false);
    const folder = mkdtempSync(join(tmpdir(), 'diurna-phones-'));
    await phone.button('Something wrong');
    // The same file each time: chosen again it is a further picture.
    const picture = join(folder, 'seen.png');
    writeFileSync(picture, Buffer.from(await phone.driver.takeScreenshot(), 'base64'));
    for (let n = 1; n <= PICTURES; n++) {
      await phone.attach(picture, '//label[contains(., "Take a picture")]/input');
      await phone.seeText(`and ${n} picture${n === 1 ? '' : 's'} kept on this phone`);
    }
  }
  // Three cuts of each line, and a kill at each.
  for (const victim of [() => target.appIds()[0], () => target.databaseId(), () => target.appIds()[1]]) {
    for (const phone of phones) await phone.signal(true);
    await new Promise((r) => setTimeout(r, 400));
    kill(victim());
    for (const phone of phones) await phone.signal(false);
    await target.ready();
  }
  for (const phone of phones) await phone.signal(true);
  for (const [i, phone] of phones.entries()) {
    await phone.until(
      async () => (await phone.count('//*[@role="status"][@aria-label="Signal"]')) === 0,
      `${NAMES[i]}’s phone still keeps something`,
    );
    const card = await desk.call<JobCard>('GET', `/jobs/${cards[i]}`);
    const pictures = card.entries.filter((e) => e.act.kind === 'photo' && e.by === idOf(i));
    expect(pictures).toHaveLength(PICTURES);
    const kept = pictures.map((e) => (e.act as { photoId: number | null }).photoId);
    expect(new Set(kept).size).toBe(PICTURES);
    expect(kept).not.toContain(null);
  }
});

test('under twenty writers, killed without warning, it loses nothing that was acknowledged, and does nothing twice', async () => {
  expect(await attackChaos(target, ROUNDS, SEED)).toBe(true);
});
