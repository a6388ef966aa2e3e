import { afterAll, beforeAll, expect, test } from '@jest/globals';
import { routes, type Route } from '@diurna/contract';
import { openCardYard } from '../test/cards.ts';
import { FLEET_CSV, PARTS_CSV, workThrough, type Client, type Yard } from '../test/yard.ts';

/** What a list says there is, is what it shows: every list that comes in pages, turned page by page. */
let yard: Yard;
let ilse: Client;
let admin: Client;
let boatId = 0;
let port = 0;
let starboard = 0;
beforeAll(async () => {
  let ines: Client;
  let cards: Awaited<ReturnType<typeof openCardYard>>['cards'];
  ({ yard, ilse, ines, cards, boatId, port, starboard } = await openCardYard(() => new Date('2026-04-15T10:00:00Z')));
  admin = await yard.as('administrator');
  await ilse.post('/exchange/fleet', FLEET_CSV);
  await ilse.post('/exchange/parts', PARTS_CSV);
  for (const day of ['2026-04-20', '2026-04-22', '2026-04-24', '2026-04-27'])
    await ilse.post('/hires', {
      boatId,
      outDay: day,
      outTime: '09:00',
      backDay: day,
      backTime: '17:00',
      reference: null,
    });
  for (const task of ['anodes', 'grease']) {
    const id = await cards.hand([[port, task]]);
    await workThrough(ines, id);
    if ((await cards.finish(ines, id)).status !== 200) throw new Error(`${task} was not finished`);
  }
  await cards.callOff(await cards.hand([[port, 'look-over']]));
  await cards.hand([[starboard, 'anodes']]);
  await cards.hand([[port, 'engine-oil']]);
  await ilse.post('/snags', { boatId, engineId: null, text: 'It pulls to one side.', symptom: null, photo: null });
});
afterAll(() => yard.close());

interface Page {
  rows: object[];
  total: number;
  page: number;
  size: number;
}
const SIZE = 3;

/** Every row of a list, page by page. */
async function turned(path: string): Promise<{ rows: string[]; total: number }> {
  const [bare, query = ''] = path.split('?');
  const rows: string[] = [];
  for (let page = 1; ; page++) {
    const got = await admin.get<Page>(`${bare!.replace('/api', '')}?${query}&page=${page}&size=${SIZE}`);
    rows.push(...got.rows.map((r) => JSON.stringify(r)));
    if (got.rows.length < SIZE || page > 100) return { rows, total: got.total };
  }
}
const LISTS = (Object.entries(routes) as [string, Route][]).filter(([, r]) => {
  const shape = (r.reply as { shape?: Record<string, unknown> }).shape ?? {};
  return r.method === 'get' && !r.path.includes(':') && ['rows', 'total', 'page', 'size'].every((k) => k in shape);
});

/** What a list has to be asked with. */
const WITH: Record<string, string> = { listHires: '?from=2026-04-01&days=42' };

test.each(LISTS)('%s: as many rows as it says, none twice', async (name, route) => {
  const { rows, total } = await turned(`${route.path}${WITH[name] ?? ''}`);
  expect(rows).toHaveLength(total);
  expect(new Set(rows).size).toBe(total);
});

test('there are such lists, and the yard of this test fills most of them', async () => {
  expect(LISTS.length).toBeGreaterThan(8);
  const totals = await Promise.all(
    LISTS.map(async ([name, r]) => (await turned(`${r.path}${WITH[name] ?? ''}`)).total),
  );
  expect(totals.filter((n) => n > 0).length).toBeGreaterThanOrEqual(8);
});

test('what falls due: the figure beside each state is the length of its list, as chart and list and whatever is chosen', async () => {
  const models = await ilse.get<{ id: number }[]>('/fleet/models');
  for (const more of ['', `&boatId=${boatId}`, '&task=anodes', `&modelId=${models[0]!.id}`, '&q=knot', '&q=nothing']) {
    const { counts, engines } = await ilse.get<{ counts: Record<string, number>; engines: number }>(
      `/service/due?size=1${more}`,
    );
    const chart = await ilse.get<{ counts: Record<string, number>; rows: object[] }>(
      `/service/outlook?from=2026-04-13&days=42${more}`,
    );
    expect({ more, counts: chart.counts }).toEqual({ more, counts });
    expect({ more, engines: chart.rows.length }).toEqual({ more, engines });
    const all = await turned(`/service/due?x=1${more}`);
    for (const [state, n] of Object.entries(counts)) {
      const list = await turned(`/service/due?state=${state}${more}`);
      expect({ more, state, n: list.rows.length, total: list.total }).toEqual({ more, state, n, total: n });
      // Choosing a state does not change what stands beside the others.
      const { counts: chosen } = await ilse.get<{ counts: object }>(`/service/due?size=1&state=${state}${more}`);
      expect(chosen).toEqual(counts);
    }
    expect(all.total).toBe(Object.values(counts).reduce((a, b) => a + b, 0));
    const seen = new Set(all.rows.map((r) => (JSON.parse(r) as { engineId: number }).engineId));
    expect({ more, engines: seen.size }).toEqual({ more, engines });
  }
});

test('cards: the open, the finished and those called off are all of them', async () => {
  const of = async (query: string) => (await turned(`/jobs?${query}`)).total;
  const all = await of('x=1');
  expect(all).toBeGreaterThan(3);
  expect((await of('status=open')) + (await of('status=done')) + (await of('status=cancelled'))).toBe(all);
});
