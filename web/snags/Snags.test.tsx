import { afterEach, expect, test } from '@jest/globals';
import type { Snag } from '@diurna/contract/snags';
import { cleanup, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, page, readyButton, refusal, signedIn } from '../test/page.tsx';
import { Snags } from './Snags.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const snag: Snag = {
  id: 5,
  version: 2,
  boatId: 1,
  boatName: 'Plover',
  baseId: 1,
  engineId: 11,
  position: 'port',
  day: '2026-04-15',
  text: 'Weak stream',
  symptom: 'weak-stream',
  hasPhoto: true,
  by: 'Tove Lind',
  at: '2026-04-15T08:40:00Z',
  closed: null,
};
const closed = { ...snag, id: 6, text: 'Loose cleat', symptom: null, engineId: null, position: null };
const open = async (role: Parameters<typeof signedIn>[0], more: Parameters<typeof answer>[0] = {}, boatId?: number) => {
  const asked = answer({
    ...signedIn(role),
    listSnags: [snag, { ...closed, closed: { by: 'Ines Okoye', at: '2026-04-15T09:00:00Z', remark: 'Tightened' } }],
    listPeople: [
      { id: 4, version: 1, name: 'Sven Achterberg', username: 'sven', role: 'technician', baseId: 1, active: true },
    ],
    ...more,
  });
  await page(<Snags {...(boatId !== undefined && { boatId })} />);
  await screen.findByText(/Weak stream/);
  return asked;
};

test('who reported what, with its picture; what was closed says by whom and how', async () => {
  await open('dock');
  const [first, second] = screen.getAllByRole('listitem').map((li) => li.textContent);
  expect(first).toMatch(/^Plover port Weak stream/);
  expect(second).toMatch(/Loose cleat.*Closed by Ines Okoye: Tightened/);
  expect(screen.getAllByRole<HTMLAnchorElement>('link', { name: 'picture' })[0]!.pathname).toBe('/api/snags/5/photo');
  expect(screen.queryByRole('button', { name: /^close it/ })).toBeNull();
});

test('closing says what was done; a refusal keeps what was typed', async () => {
  let refuse = true;
  const asked = await open('technician', {
    closeSnag: () => (refuse ? refusal(409, 'Ines closed it a minute ago.') : { id: 5, version: 3 }),
  });
  await user.click(screen.getByRole('button', { name: 'close it: the snag of Plover, Weak stream' }));
  const ask = within(await screen.findByRole('dialog'));
  await user.type(ask.getByLabelText(/^What was done/), 'Tell-tale cleared');
  await user.click(ask.getByRole('button', { name: 'Close it' }));
  expect(await ask.findByText('Ines closed it a minute ago.')).toBeTruthy();
  expect(ask.getByLabelText<HTMLTextAreaElement>(/^What was done/).value).toBe('Tell-tale cleared');
  refuse = false;
  await user.click(ask.getByRole('button', { name: 'Close it' }));
  await waitFor(() => {
    expect(screen.queryByRole('dialog')).toBeNull();
  });
  expect(asked.filter((a) => a.name === 'closeSnag').at(-1)!.body).toEqual({ version: 2, remark: 'Tell-tale cleared' });
});

test('likely causes with this engine’s record, and the card that would settle it', async () => {
  const asked = await open('coordinator', {
    snagCauses: [
      {
        engineId: 11,
        position: 'port',
        causes: [
          { key: 'tell-tale', text: 'The tell-tale is blocked', weight: 0.55, evidence: [] },
          { key: 'impeller', text: 'The impeller is worn', weight: 0.3, evidence: ['212 h since it was new'] },
        ],
        visit: ['impeller'],
      },
    ] as never,
    previewJob: { minutes: 80, savedMinutes: 0, parts: [], partsUnknown: [], against: [] },
    addJob: { id: 31, version: 1, changeId: 4 },
  });
  await user.click(screen.getByRole('button', { name: /^likely causes/ }));
  const causes = within(await screen.findByRole('region', { name: 'Likely causes, port' }));
  expect(causes.getAllByRole('listitem').map((li) => li.textContent)).toEqual([
    '55 %The tell-tale is blocked',
    '30 %The impeller is worn: 212 h since it was new',
  ]);
  expect(await causes.findByText(/about 1 h 20/)).toBeTruthy();
  expect(screen.getByText(/keeps the engine in\. Follow the engine maker’s manual/)).toBeTruthy();
  await causes.findByRole('option', { name: 'Sven Achterberg' });
  await user.selectOptions(causes.getByLabelText('Hand it to'), 'Sven Achterberg');
  await user.click(await readyButton('Make the card for today'));
  await screen.findByText('another page');
  expect(asked.find((a) => a.name === 'addJob')!.body).toEqual({
    boatId: 1,
    technicianId: 4,
    day: '2026-04-15',
    tasks: [{ engineId: 11, task: 'impeller' }],
  });
});

test('a boat without trouble says so on its own page, and nothing anywhere else', async () => {
  answer({ ...signedIn('dock'), listSnags: [] });
  await page(<Snags boatId={1} />);
  expect(await screen.findByText('None reported.')).toBeTruthy();
  cleanup();
  const asked = answer({ ...signedIn('dock'), listSnags: [] });
  await page(<Snags baseId={1} />);
  await waitFor(() => {
    expect(asked.some((a) => a.name === 'listSnags')).toBe(true);
  });
  expect(screen.queryByRole('heading', { name: 'Snags' })).toBeNull();
});
