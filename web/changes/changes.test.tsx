import { afterEach, expect, test } from '@jest/globals';
import type { ChangeReply } from '@diurna/contract/changes';
import { cleanup, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { answer, page, refusal, signedIn } from '../test/page.tsx';
import { Lately } from './Lately.tsx';

afterEach(cleanup);
const user = userEvent.setup();
const stand = (more: object = {}) => ({
  technicianId: 3,
  day: '2026-04-15',
  startMinute: 480,
  pinned: false,
  open: true,
  remark: null,
  insisted: null,
  tasks: [{ engineId: 11, task: 'engine-oil' as const, state: 'open' as const, templateVersion: 1 }],
  ...more,
});
const head = {
  id: 6,
  kind: 'plan' as const,
  text: 'the plan of 28 days from Wed 15 Apr',
  at: '2026-04-15T09:00:00Z',
  by: 'Ilse Maren',
  takenBack: false,
};
const decision: ChangeReply = {
  ...head,
  cards: [
    {
      jobId: 71,
      boatId: 1,
      boatName: 'Razorbill',
      kind: 'moved',
      before: stand(),
      after: stand({ day: '2026-04-17' }),
      who: { before: 'Ines Okoye', after: 'Ines Okoye' },
      against: null,
    },
    {
      jobId: 72,
      boatId: 2,
      boatName: 'Plover',
      kind: 'called off',
      before: stand(),
      after: stand({ open: false }),
      who: { before: 'Ines Okoye', after: 'Ines Okoye' },
      against: 'worked on',
    },
  ],
};
const open = async (more: Parameters<typeof answer>[0] = {}) => {
  const asked = answer({
    ...signedIn('coordinator'),
    listChanges: [{ ...head, cards: 2 }],
    readChange: decision,
    ...more,
  });
  await page(<Lately />);
  await user.click(await screen.findByRole('button', { name: 'The plan of 28 days from Wed 15 Apr' }));
  await screen.findByRole('button', { name: 'Take it back' });
  return asked;
};

test('a decision opens to its cards, kind by kind, with what stands against taking each back', async () => {
  await open();
  const moved = within(screen.getByRole('region', { name: 'Moved to another day' }));
  expect(moved.getByRole('listitem').textContent).toBe('Razorbill from Wed 15 Apr to Fri 17 Apr 8:00 with Ines Okoye');
  const off = within(screen.getByRole('region', { name: 'Called off' }));
  expect(off.getByRole('listitem').textContent).toBe(
    'Plover was Wed 15 Apr 8:00 with Ines Okoye: engine oil, worked on',
  );
});

test('taken back with one press; that can be taken back in its turn', async () => {
  const asked = await open({ undoChange: { id: 7, cards: 2 } });
  await user.click(screen.getByRole('button', { name: 'Take it back' }));
  expect(await screen.findByText('Taken back: 2 cards stand as before. Everybody it touches is told.')).toBeTruthy();
  expect(asked.some((a) => a.name === 'undoChange' && a.url.pathname === '/api/changes/6/undo')).toBe(true);
});

test('worked on meanwhile, it says so and leads to the plan for the rest', async () => {
  await open({ undoChange: () => refusal(409, 'Plover was worked on. Nothing was taken back.', { type: 'worked' }) });
  await user.click(screen.getByRole('button', { name: 'Take it back' }));
  expect(await screen.findByText('Plover was worked on. Nothing was taken back.')).toBeTruthy();
  expect(screen.getByRole('link', { name: 'Put the rest back in Plan' }).getAttribute('href')).toBe('/plan?back=6');
});
