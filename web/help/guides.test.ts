import { expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOMS } from '../app/rooms.ts';
import { findGuides, guideOf } from './guides.ts';
import { GUIDES } from './pages.ts';

/** The addresses the app has, as its routes name them. */
const PATHS = [
  ...readFileSync(join(import.meta.dirname, '../app/App.tsx'), 'utf8').matchAll(/<Route path="([a-z][^"*]*)"/g),
].map((m) => `/${m[1]!}`);

test('every page has a guide, and every guide a page', () => {
  expect(PATHS.length).toBeGreaterThan(20);
  expect(PATHS.filter((path) => guideOf(path.replace(':id', '7')) === null)).toEqual([]);
  const gone = GUIDES.filter((g) => !PATHS.some((path) => path === g.path || path.startsWith(`${g.path}:`)));
  expect(gone.map((g) => g.path)).toEqual([]);
  expect(guideOf('/jobs/12')!.title).toBe('A card');
  expect(guideOf('/jobs')!.title).toBe('Jobs');
  expect(guideOf('/fleet/boats/3')!.title).toBe('Fleet');
});

test('a page only some may open is told of to them alone', () => {
  for (const { path, roles } of ROOMS) {
    const guide = GUIDES.find((g) => g.path === path)!;
    expect([path, [...(guide.roles ?? roles)].sort()]).toEqual([path, [...roles].sort()]);
  }
  expect(findGuides('plan', 'technician').map((g) => g.path)).not.toContain('/plan');
  expect(findGuides('plan', 'coordinator')[0]!.path).toBe('/plan');
});

test('guides are found by what they say, all words of it, their titles first', () => {
  expect(findGuides('without signal', 'dock').map((g) => g.path)).toEqual([
    ...['/day/back', '/jobs/', '/season/batteries'],
  ]);
  expect(findGuides('HOURS', 'dock')[0]!.path).toBe('/day/hours');
  expect(findGuides('signal nonsense', 'dock')).toEqual([]);
  expect(findGuides('  ', 'dock')).toEqual([]);
});
