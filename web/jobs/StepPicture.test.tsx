import { afterEach, beforeEach, expect, test } from '@jest/globals';
import type { StepPicture as Picture } from '@diurna/contract/step-pictures';
import { stepPlace } from '@diurna/core/visit';
import { cleanup, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import 'fake-indexeddb/auto';
import { cardOf } from '../test/card.ts';
import { answer, page, signedIn } from '../test/page.tsx';
import { pictureAt } from '../visit/index.ts';
import { JobCard } from './JobCard.tsx';

beforeEach(() => {
  localStorage.clear();
});
afterEach(cleanup);
const user = userEvent.setup();
const picture = (more: Partial<Picture>): Picture => ({
  id: 1,
  place: 'impeller/housing',
  modelId: null,
  modelName: null,
  caption: '',
  by: 'Ines Okoye',
  at: '2026-04-01T08:00:00Z',
  ...more,
});

test('a model’s own picture goes before the one for all models', () => {
  const all = picture({});
  const own = picture({ id: 2, modelId: 7, modelName: 'Corvane 60' });
  expect(pictureAt([all, own], 'impeller/housing', 'Corvane 60')).toBe(own);
  expect(pictureAt([all, own], 'impeller/housing', 'Skarn 90')).toBe(all);
  expect(pictureAt([own], 'impeller/housing', null)).toBeNull();
  expect(pictureAt([all], 'impeller/cup', 'Skarn 90')).toBeNull();
});

test('at the step at hand it is a tap away, and kept on the phone before that', async () => {
  const card = cardOf(['grease']);
  const first = card.steps[0]!.step;
  const asked = answer({
    ...signedIn('technician'),
    readJob: card,
    listStepPictures: [picture({ id: 9, place: stepPlace(first.id), caption: 'Where the tray stands' })],
  });
  await page(<JobCard />, { path: '/jobs/:id', at: '/jobs/12' });
  await user.click(await screen.findByRole('button', { name: 'Picture' }));
  const shown = within(await screen.findByRole('dialog'));
  expect(shown.getByRole('img', { name: 'Where the tray stands' }).getAttribute('src')).toBe(
    '/api/visit/step-pictures/9/file',
  );
  expect(shown.getByText(/manual comes first/)).toBeTruthy();
  expect(asked.some((a) => a.name === 'listStepPictures')).toBe(true);
});
