import { describe, expect, test } from '@jest/globals';
import { isKept } from './offline.ts';

describe('what is kept on the phone', () => {
  test.each([
    '/api/session',
    '/api/jobs',
    '/api/jobs/12',
    '/api/jobs/12/photos/3',
    '/api/fleet/bases',
    '/api/people',
    '/api/settings',
    '/api/day/ribbon',
  ])('%s', (path) => {
    expect(isKept(path)).toBe(true);
  });
  // Told to one person, of a whole fleet, or not read at all: never laid down on a phone that is passed on.
  test.each([
    '/api/session/notices',
    '/api/fleet/boats',
    '/api/records/audit',
    '/api/service/due',
    '/api/jobsheet',
    '/api/peoples',
    '/api/live',
    '/jobs/12',
    '/api/stores/parts',
    '/x/api/jobs',
  ])('not %s', (path) => {
    expect(isKept(path)).toBe(false);
  });
});
