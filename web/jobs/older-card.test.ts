import { expect, test } from '@jest/globals';
import type { JobSummary } from '@diurna/contract/jobs';
import { withShelf, withWorks } from './older-card.ts';

const tasks: JobSummary['tasks'] = [
  { engineId: 1, task: 'gear-lube', position: 'port', state: 'open' },
  { engineId: 1, task: 'anodes', position: 'port', state: 'open' },
];

test('a card an older page kept is shown by its tasks; one that says its work stays as it is', () => {
  const older = { tasks } as unknown as Pick<JobSummary, 'tasks' | 'works'>;
  expect(withWorks(older).works).toEqual([{ engineId: 1, position: 'port', word: 'Gear lube, anodes' }]);
  const card = { tasks, works: [{ engineId: 1, position: 'port' as const, word: '100 h service' }] };
  expect(withWorks(card)).toBe(card);
});

test('parts a card kept before they knew containers and other numbers have none', () => {
  const older = { parts: [{ partId: 1, name: 'Oil' }] } as unknown as Parameters<typeof withShelf>[0];
  expect(withShelf(older).parts).toEqual([{ partId: 1, name: 'Oil', open: [], sizes: [], instead: [] }]);
});
