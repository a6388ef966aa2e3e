import { afterEach, expect, test } from '@jest/globals';
import type { MailRow } from '@diurna/contract/messages';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, DONE, page, refusal, signedIn, type Asked } from '../test/page.tsx';
import { Mail } from '../records/Mail.tsx';
import { MyMessages, Outside } from './index.ts';

afterEach(cleanup);
const user = userEvent.setup();
const CHOICES = { work: 'morning', card: 'book', desk: 'morning', hires: 'mail', door: 'mail' } as const;
const mine = (more: object = {}) => ({
  mail: true,
  address: null,
  choices: CHOICES,
  morning: true,
  morningMinute: 360,
  version: null,
  ...more,
});
const bodyOf = (asked: Asked[], name: Asked['name']) => asked.find((a) => a.name === name)?.body;

test('with an address one chooses what comes there; a slip is said at once and nothing is sent', async () => {
  const asked = answer({ ...signedIn('technician'), readMyMessages: mine(), setMyMessages: DONE });
  await page(<MyMessages />);
  const address = await screen.findByLabelText('Your address of mail');
  // Nothing to choose before there is where it could go.
  expect(screen.queryByRole('combobox')).toBeNull();
  await user.type(address, 'ines at yard');
  expect(screen.getByText(/This is no address of mail/)).toBeTruthy();
  expect(screen.getByRole<HTMLButtonElement>('button', { name: 'Keep this' }).disabled).toBe(true);
  await user.clear(address);
  await user.type(address, 'ines@yard.example');
  // What is never told to a technician is not asked.
  expect(screen.getAllByRole('combobox')).toHaveLength(3);
  await user.selectOptions(screen.getByRole('combobox', { name: /^Cards given to you/ }), 'by mail, at once');
  await user.click(screen.getByRole('checkbox', { name: /One mail each working morning at 6:00/ }));
  await user.click(screen.getByRole('button', { name: 'Keep this' }));
  await waitFor(() => {
    expect(bodyOf(asked, 'setMyMessages')).toEqual({
      address: 'ines@yard.example',
      choices: { ...CHOICES, work: 'mail' },
      morning: false,
      version: null,
    });
  });
});

test('a trial goes to the address that is kept; without one it is not offered', async () => {
  const asked = answer({
    ...signedIn('technician'),
    readMyMessages: mine({ address: 'ines@yard.example', version: 2 }),
    tryMyMail: DONE,
  });
  await page(<MyMessages />);
  await user.click(await screen.findByRole('button', { name: 'Send a trial mail' }));
  expect(await screen.findByText('On its way to ines@yard.example: it goes at once.')).toBeTruthy();
  expect(asked.filter((a) => a.name === 'tryMyMail')).toHaveLength(1);
  await user.type(screen.getByLabelText('Your address of mail'), '.other');
  expect(screen.queryByRole('button', { name: 'Send a trial mail' })).toBeNull();
});

test('a book that sends no mail says so instead of asking for an address', async () => {
  answer({ ...signedIn('technician'), readMyMessages: mine({ mail: false }) });
  await page(<MyMessages />);
  expect(await screen.findByText(/This book sends no mail/)).toBeTruthy();
  expect(screen.queryByLabelText('Your address of mail')).toBeNull();
});

const desk = {
  id: 4,
  name: 'Hire desk',
  address: 'desk@hire.example',
  baseId: null,
  hears: ['hires' as const],
  version: 1,
};

test('somebody outside is added with what they hear; a mail goes to who is ticked', async () => {
  const asked = answer({
    ...signedIn('coordinator'),
    listContacts: {
      mail: true,
      contacts: [desk, { ...desk, id: 5, name: 'Owner', address: 'o@boats.example', hears: [] }],
    },
    addContact: { id: 6, version: 1 },
    writeMessage: { sent: 2 },
  });
  await page(<Outside />);
  expect(await screen.findByText('when a hire changes boats')).toBeTruthy();
  expect(screen.getByText('what is written by hand')).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Add somebody' }));
  let sheet = within(screen.getByRole('dialog'));
  await user.type(sheet.getByLabelText('Name'), 'Workshop');
  await user.type(sheet.getByLabelText('Address of mail'), 'not one');
  await user.click(sheet.getByRole('button', { name: 'Add them' }));
  expect(await sheet.findByText(/is no address of mail/)).toBeTruthy();
  await user.clear(sheet.getByLabelText('Address of mail'));
  await user.type(sheet.getByLabelText('Address of mail'), 'shop@works.example');
  await user.click(sheet.getByRole('checkbox', { name: /^each morning/ }));
  await user.click(sheet.getByRole('button', { name: 'Add them' }));
  await waitFor(() => {
    expect(bodyOf(asked, 'addContact')).toEqual({
      name: 'Workshop',
      address: 'shop@works.example',
      baseId: null,
      hears: ['hires', 'morning'],
    });
  });
  await user.click(await screen.findByRole('button', { name: 'Write to them' }));
  sheet = within(await screen.findByRole('dialog'));
  expect(sheet.getByRole<HTMLInputElement>('checkbox', { name: /Hire desk/ }).checked).toBe(true);
  await user.click(sheet.getByRole('checkbox', { name: /Owner/ }));
  await user.type(sheet.getByLabelText('Subject'), 'Fulmar');
  await user.type(sheet.getByLabelText('Words'), 'It stays here.');
  await user.click(sheet.getByRole('button', { name: 'Send it' }));
  await waitFor(() => {
    expect(bodyOf(asked, 'writeMessage')).toEqual({ contactIds: [4, 5], subject: 'Fulmar', text: 'It stays here.' });
  });
  expect(await screen.findByText(/2 mails on the way/)).toBeTruthy();
});

const row = (id: number, more: Partial<MailRow>): MailRow => ({
  id,
  at: '2026-04-15T09:00:00Z',
  kind: 'told',
  to: 'Ines Okoye',
  subject: `Mail ${id}`,
  text: 'Hello Ines,\n\n- Sandpiper moved.\n',
  state: 'sent',
  tries: 1,
  next: null,
  fault: null,
  sentAt: '2026-04-15T09:01:00Z',
  sentTo: 'ines@yard.example',
  writtenBy: null,
  ...more,
});

test('mail that did not go stands with why, and goes again; what went can be read', async () => {
  const failed = {
    state: 'failed' as const,
    sentAt: null,
    sentTo: null,
    fault: 'The mail server does not take it: 550.',
  };
  const asked = answer({
    ...signedIn('coordinator'),
    listMail: {
      rows: [
        row(3, failed),
        row(2, { state: 'waiting', sentAt: null, sentTo: null, tries: 2, next: '2026-04-15T10:30:00Z', fault: 'away' }),
        row(1, {}),
      ],
      total: 3,
      page: 1,
      size: 50,
      mail: true,
      counts: { waiting: 1, sent: 1, failed: 1, stopped: 0 },
    },
    sendMailAgain: DONE,
    stopMail: () => refusal(409, 'This mail waits no more. Load the list again.'),
  });
  await page(<Mail />);
  expect(await screen.findByText(/1 on the way; 1 went, 1 given up/)).toBeTruthy();
  expect(screen.getByText('The mail server does not take it: 550.')).toBeTruthy();
  expect(screen.getByText(/2 tries/)).toBeTruthy();
  await user.click(screen.getByRole('button', { name: 'Mail 1' }));
  expect(screen.getByText(/- Sandpiper moved\./)).toBeTruthy();
  expect(screen.queryByRole('button', { name: /“Mail 1”/ })).toBeNull();
  await user.click(screen.getByRole('button', { name: 'Send again: “Mail 3” to Ines Okoye' }));
  await waitFor(() => {
    expect(asked.find((a) => a.name === 'sendMailAgain')!.url.pathname).toBe('/api/messages/mail/3/again');
  });
  await user.click(screen.getByRole('button', { name: 'Stop: “Mail 2” to Ines Okoye' }));
  expect(await screen.findByText('This mail waits no more. Load the list again.')).toBeTruthy();
});
