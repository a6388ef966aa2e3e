import { describe, expect, test } from '@jest/globals';
import { changeKept, isCard, isKept, withKept, withTaken } from './offline.ts';

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

describe('a card kept on the phone', () => {
  const card = (...seqs: (number | null)[]) => ({
    status: 'open',
    entries: seqs.map((seq) => ({ id: `e${seq}`, seq })),
  });

  test('takes the answer as it is, with the entries known already that it has not seen', () => {
    expect(withKept(card(1, 2), card(1, 2, 3))).toEqual(card(1, 2, 3));
    expect(withKept(card(1, 2, 3), { ...card(1), status: 'done' })).toEqual({ ...card(1, 2, 3), status: 'done' });
    // Taken by the book in between is not the same as known here.
    expect(withKept(card(2), card(1, 2, 3))).toEqual(card(1, 2, 3));
    expect(withKept(card(), card())).toEqual(card());
    const answer = card(1);
    expect(withKept(card(1), answer)).toBe(answer);
  });

  test('has what the book has taken once, before it is read anew', async () => {
    expect(withTaken(card(1), card(1, 2).entries)).toEqual(card(1, 2));
    const kept = new Map([['/api/jobs/12', new Response(JSON.stringify(card(1)), { headers: { etag: 'old' } })]]);
    Object.assign(globalThis, {
      caches: {
        open: () =>
          Promise.resolve({
            match: (path: string) => Promise.resolve(kept.get(path)?.clone()),
            put: (path: string, answer: Response) => Promise.resolve(kept.set(path, answer)),
          }),
      },
    });
    try {
      await changeKept<ReturnType<typeof card>>('/api/jobs/12', (c) => withTaken(c, card(2).entries));
      expect(await kept.get('/api/jobs/12')!.clone().json()).toEqual(card(1, 2));
      expect(kept.get('/api/jobs/12')!.headers.get('etag')).toBeNull();
      // What is not kept is not laid down.
      await changeKept('/api/jobs/13', () => card(9));
      expect([...kept.keys()]).toEqual(['/api/jobs/12']);
    } finally {
      Reflect.deleteProperty(globalThis, 'caches');
    }
  });

  test.each([
    ['/api/jobs/12', true],
    ['/api/jobs', false],
    ['/api/jobs/12/photos/3', false],
  ])('%s is a card: %s', (path, is) => {
    expect(isCard(path)).toBe(is);
  });
});
