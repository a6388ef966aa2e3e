import { afterAll, beforeEach, describe, expect, test } from '@jest/globals';
import { transaction } from '../db/index.ts';
import { openMailYard } from '../test/mail-yard.ts';
import { openYard } from '../test/yard.ts';
import { tell, tellOutside } from './index.ts';

/** What people choose, are told and write, and what of it comes by mail. */
const book = await openMailYard();
const { yard, ilse, admin, technician, clock, came, send, choose, mails, toDesk, addContact, told } = book;
beforeEach(() => book.afresh());
afterAll(() => book.close());
const ALL = { work: 'mail', card: 'mail', desk: 'mail', hires: 'mail', door: 'book' } as const;

describe('what people choose', () => {
  test('nothing comes by mail until somebody says where; what cannot wait comes at once then', async () => {
    expect(await technician.get('/session/messages')).toMatchObject({
      mail: true,
      address: null,
      morning: true,
      morningMinute: 360,
      choices: { work: 'morning', card: 'book', door: 'mail' },
      version: null,
    });
    await choose(technician, 'ines@yard.example');
    expect(await technician.get('/session/messages')).toMatchObject({ address: 'ines@yard.example', version: 1 });
  });
  test('an address that is none is refused at its field; two of one’s own devices do not overwrite each other', async () => {
    const body = { address: 'ines at yard', choices: ALL, morning: true, version: null };
    const problem = await technician.refused('put', '/session/messages', body);
    expect(problem).toMatchObject({ status: 422, faults: [{ path: 'address' }] });
    expect(problem.detail).toContain('is no address of mail');
    await choose(technician, 'ines@yard.example');
    const stale = { ...body, address: 'other@yard.example' };
    expect((await technician.refused('put', '/session/messages', stale)).status).toBe(409);
  });
  test('a trial goes to oneself and nobody else', async () => {
    expect((await technician.refused('post', '/session/messages/try')).detail).toBe(
      'Say first where you have mail, and keep it.',
    );
    await choose(technician, 'ines@yard.example');
    await technician.post('/session/messages/try');
    await send();
    const [mail] = await came();
    expect(mail).toMatchObject({
      subject: 'A trial from the book',
      date: '2026-04-15T10:00:00.000Z',
      to: [{ address: 'ines@yard.example', name: 'technician' }],
      from: { address: 'book@yard.example', name: 'Test Boats' },
    });
  });
  test('without an address nothing goes, and what waited is stopped', async () => {
    await choose(technician, 'ines@yard.example');
    await technician.post('/session/messages/try');
    await technician.put('/session/messages', { address: null, choices: ALL, morning: true, version: 1 });
    expect(await send()).toBe('0 mails went.');
    expect(await mails()).toMatchObject([{ state: 'stopped', fault: 'Whom it was for wants no mail any more.' }]);
  });
});

describe('what is told', () => {
  test('stands in the book, and comes by mail to who chose so: what comes together in one mail', async () => {
    await choose(technician, 'ines@yard.example');
    await told('Sandpiper moved to Thu 16 Apr.');
    await told('Turnstone called off.', 'Dunlin given to you.');
    expect(await technician.get('/session/notices')).toMatchObject([
      { kind: 'work', text: 'Sandpiper moved to Thu 16 Apr.' },
      { text: 'Turnstone called off.' },
      { text: 'Dunlin given to you.' },
    ]);
    expect(await send()).toBe('1 mail went.');
    const [mail, more] = await came();
    expect(more).toBeUndefined();
    expect(mail!.subject).toBe('3 messages: Sandpiper moved to Thu 16 Apr.');
    expect(mail!.text).toContain('Hello technician,');
    for (const text of ['- Turnstone called off.', '- Dunlin given to you.']) expect(mail!.text).toContain(text);
    // What comes after it went is a mail of its own.
    await told('Whimbrel given to you.');
    await send();
    expect((await came()).map((m) => m.subject)).toEqual([mail!.subject, 'Whimbrel given to you.']);
  });
  test('who chose the book only, or the morning, gets none', async () => {
    await choose(technician, 'ines@yard.example', { work: 'book' });
    await told('Sandpiper moved.');
    expect(await mails()).toEqual([]);
  });
  test('what the desk is told reaches the desk', async () => {
    await choose(ilse, 'ilse@yard.example');
    await transaction(yard.db, (tx) =>
      tell(tx, [{ personId: yard.people.coordinator, kind: 'desk', text: 'Fulmar is held.', jobId: null }], clock.now),
    );
    await send();
    expect(await came()).toMatchObject([{ subject: 'Fulmar is held.', to: [{ address: 'ilse@yard.example' }] }]);
  });
  test('the hire desk hears of the hires of its base, by mail alone', async () => {
    await addContact('all@hire.example');
    await addContact('here@hire.example', { baseId: yard.baseId });
    await addContact('quiet@hire.example', { hears: [] });
    const other = await admin.post<{ id: number }>('/fleet/bases', {
      name: `Mole ${clock.now.getTime()}`,
      timeZone: 'America/Halifax',
      hemisphere: 'north',
      dayMinutes: 480,
      workdays: [1, 2, 3],
    });
    await addContact('there@hire.example', { baseId: other.id });
    await transaction(yard.db, (tx) => tellOutside(tx, yard.baseId, 'Dunlin goes out instead of Fulmar.', clock.now));
    await send();
    expect((await came()).map((m) => m.to![0]!.address).sort()).toEqual(['all@hire.example', 'here@hire.example']);
  });
});

describe('what somebody writes', () => {
  test('goes to each by itself, under the writer’s name; answers go to the writer', async () => {
    await choose(ilse, 'ilse@yard.example');
    const ids = [await addContact('desk@hire.example'), await addContact('owner@boats.example')];
    const text = 'Fulmar cannot go out at four.\n\nTurnstone could: “same berth”, £0. 🚤 ' + 'x'.repeat(1500);
    expect(await toDesk(ids, text)).toEqual({ sent: 2 });
    await send();
    const both = await came();
    expect(both.map((m) => m.to!.map((t) => t.address))).toEqual([['desk@hire.example'], ['owner@boats.example']]);
    for (const mail of both) {
      expect(mail).toMatchObject({ subject: 'Fulmar', replyTo: [{ address: 'ilse@yard.example' }] });
      expect(mail.text!.replaceAll('\r\n', '\n')).toBe(`Hello Hire desk,\n\n${text}\n\ncoordinator, Test Boats\n`);
    }
    const { rows } = await yard.pool.query<{ title: string }>(
      "select title from audit where subject = 'message' order by id desc limit 1",
    );
    expect(rows).toEqual([{ title: 'Fulmar' }]);
  });
  test('no line of a mail’s head is slipped in through its subject or a name', async () => {
    const id = await addContact('desk@hire.example', { name: 'Desk\r\nBcc: spy@elsewhere.example' });
    const subject = 'Fulmar\r\nBcc: spy@elsewhere.example\r\n\r\nA body of their own';
    await ilse.post('/messages', { contactIds: [id], subject, text: 'x' });
    await send();
    const [mail, more] = await came();
    expect(more).toBeUndefined();
    expect(mail!.bcc ?? []).toEqual([]);
    expect(mail!.headers.map((h) => h.key)).not.toContain('bcc');
    expect(mail!.to).toMatchObject([{ address: 'desk@hire.example' }]);
    expect(mail!.text).toContain('Hello Desk');
  });
  test('it is told to nobody who is not in the list any more', async () => {
    const id = await addContact('desk@hire.example');
    await ilse.raw('delete', `/messages/contacts/${id}?version=1`);
    expect((await ilse.refused('post', '/messages', { contactIds: [id], subject: 's', text: 't' })).detail).toContain(
      'is not told any more',
    );
  });
});

test('a book that sends no mail says so, and keeps what is chosen and listed', async () => {
  const quiet = await openYard(() => clock.now);
  const desk = await quiet.as('coordinator');
  expect(await desk.get('/session/messages')).toMatchObject({ mail: false });
  expect((await desk.refused('post', '/session/messages/try')).detail).toContain('This book sends no mail.');
  const { id } = await desk.post<{ id: number }>('/messages/contacts', {
    name: 'Desk',
    address: 'desk@hire.example',
    baseId: null,
    hears: [],
  });
  expect((await desk.refused('post', '/messages', { contactIds: [id], subject: 's', text: 't' })).status).toBe(409);
  expect(await desk.get('/messages/mail')).toMatchObject({ mail: false, rows: [], total: 0 });
  await quiet.close();
});
