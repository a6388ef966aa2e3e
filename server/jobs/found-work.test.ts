import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { FollowUpRow, HoldRow } from '@diurna/contract/findings';
import type { CardAct } from '@diurna/core/visit';
import { look, openCardYard, tick, type Cards } from '../test/cards.ts';
import { confirmGates, workThrough, write, type Client, type Yard } from '../test/yard.ts';

/** What is found on a card changes the card: work that joins it, holds that only later work clears, words and hands. */
let yard: Yard;
let ilse: Client;
let ines: Client;
let mika: Client;
let mikaId = 0;
let cards: Cards;
let boatId = 0;
let port = 0;
let starboard = 0;
beforeAll(async () => {
  ({ yard, ilse, ines, cards, port, starboard, boatId } = await openCardYard());
  const admin = await yard.as('administrator');
  mikaId = (
    await admin.post<{ id: number }>('/people', {
      name: 'Mika Strand',
      username: 'mika',
      role: 'technician',
      baseId: yard.baseId,
      active: true,
      password: 'a-long-password',
    })
  ).id;
  mika = yard.visitor();
  await mika.signIn('mika');
});
afterAll(async () => {
  await yard.close();
});

const decide = (finding: string, take: boolean, reason: string | null = null): CardAct => ({
  kind: 'decide',
  finding,
  take,
  reason,
});
const because = async (client: Client, id: number, act: CardAct) =>
  (await write(client, id, act)).refused[0]?.because ?? null;
const heldOf = async (engineId: number) =>
  (await ilse.get<HoldRow[]>('/findings/holds?state=open')).filter((h) => h.engineId === engineId);
const asked = async (engineId: number) =>
  (await ilse.get<{ followUps: FollowUpRow[] }>(`/findings/engines/${engineId}`)).followUps.map((f) => f.task);
const notices = async (client: Client) => (await client.get<{ text: string }[]>('/session/notices')).map((n) => n.text);
const addWork = async (client: Client, id: number, tasks: [number, string][], why = 'it turned up') =>
  client.post(`/jobs/${id}/tasks`, {
    version: (await cards.read(id)).version,
    tasks: tasks.map(([engineId, task]) => ({ engineId, task })),
    why,
  });

describe('milky lube', () => {
  let id = 0;
  test('the case is not filled again: the tick is refused, and no reason lets it through', async () => {
    id = await cards.hand([[port, 'gear-lube']]);
    await write(
      ines,
      id,
      ...['arrive', `${port} tilt`, `${port} gear-lube/loosen`, `${port} gear-lube/drain`].map((s) => tick(s)),
    );
    await write(ines, id, look(`${port} lube look`, 'milky'), tick(`${port} gear-lube/look`));
    const fill = `${port} gear-lube/fill`;
    expect(await because(ines, id, tick(fill))).toMatch(/cannot be ticked\. .*Water has come into the gear case\./);
    expect(await because(ines, id, { kind: 'tick', step: fill, done: true, why: 'only for the night' })).toContain(
      'cannot be ticked',
    );
    await write(ines, id, decide(`${port} water in lube`, true));
    expect((await heldOf(port))[0]).toMatchObject({ missing: ['gear-seals', 'gear-lube'] });
  });
  test('the seals join the card at their place; the desk is told', async () => {
    await addWork(ines, id, [
      [port, 'gear-seals'],
      [port, 'prop-shaft'],
    ]);
    const order = await cards.stepIds(id);
    expect(order.indexOf(`${port} gear-seals/again`)).toBeLessThan(order.indexOf(`${port} gear-lube/fill`));
    // The case is empty already: it is not emptied twice.
    expect(order).not.toContain(`${port} gear-seals/empty`);
    expect(await notices(ilse)).toContainEqual(
      expect.stringMatching(/does more on Turnstone: gear-case seals, propeller shaft\. it turned up/),
    );
  });
  test('what is against it is told before, kept with the reason, and told to the desk: she has not the skill', async () => {
    const preview = await ines.post<{ against: { bar: string }[] }>('/jobs/preview', {
      boatId: (await cards.read(id)).boatId,
      tasks: [{ engineId: port, task: 'gear-seals' }],
      meant: { technicianId: yard.people.technician, day: (await cards.read(id)).day, jobId: id },
    });
    expect(preview.against.map((r) => r.bar)).toContain('no skill');
    expect((await cards.read(id)).insisted).toMatchObject({
      why: expect.stringContaining('it turned up'),
      against: expect.arrayContaining([expect.stringMatching(/technician .*lower units/i)]),
    });
    expect(await notices(ilse)).toContainEqual(expect.stringMatching(/it turned up .*lower units/i));
  });
  test('worked through, it is what clears the hold: the seals after the look, the lube after the seals', async () => {
    await workThrough(ines, id);
    expect((await cards.finish(ines, id)).status).toBe(200);
    expect((await heldOf(port))[0]).toMatchObject({ missing: [] });
    expect(await asked(port)).toEqual(['first-outing']);
    const { rows } = await yard.pool.query<{ task: string; began: Date; ended: Date; entered: Date }>(
      `select task, began_at as began, ended_at as ended, entered_at as entered from service_entry where job_id = $1`,
      [id],
    );
    for (const r of rows) {
      expect(r.began.getTime()).toBeLessThanOrEqual(r.ended.getTime());
      expect(r.ended.getTime()).toBeLessThanOrEqual(r.entered.getTime());
    }
    expect(rows).toHaveLength(3);
  });
});

describe('only work done after a reading clears what it found', () => {
  test('a test that is to be repeated is not done by the test that asked for it', async () => {
    const id = await cards.hand([[starboard, 'compression']]);
    const card = await cards.read(id);
    const cylinders = card.engines.find((e) => e.id === starboard)!.cylinders;
    await write(
      ines,
      id,
      tick(`${starboard} plugs out`),
      ...Array.from({ length: cylinders }, (_, i): CardAct => ({
        kind: 'read',
        key: `${starboard} compression#${i + 1}`,
        value: { value: i === 0 ? 100 : 130, unit: 'psi' },
      })),
      decide(`${starboard} compression`, true),
    );
    await workThrough(ines, id);
    expect((await cards.finish(ines, id)).status).toBe(200);
    expect(await asked(starboard)).toEqual(expect.arrayContaining(['compression', 'leak-down']));
  });
  test('the next card has it beside the field: the last test, and the twin', async () => {
    const id = await cards.hand([[port, 'compression']]);
    const [engine] = (await cards.read(id)).engines;
    expect(engine!.twin).toMatchObject({ engineId: starboard, position: 'starboard' });
    expect(engine!.twin!.past).toContainEqual(
      expect.objectContaining({ key: `${starboard} compression#1`, value: { value: 100, unit: 'psi' } }),
    );
    expect(engine!.past.map((p) => p.key)).toContain(`${port} lube look`);
    await cards.callOff(id);
  });
});

describe('decisions', () => {
  test('a technician who would let a held engine go has it held until the desk agrees', async () => {
    const id = await cards.hand([[starboard, 'gear-lube']]);
    await write(
      ines,
      id,
      look(`${starboard} lube look`, 'grit'),
      decide(`${starboard} grit in lube`, false, 'it is old fuzz'),
    );
    const [held] = await heldOf(starboard);
    expect(held).toMatchObject({ checks: [] });
    expect(held!.why).toContain('would let it go: it is old fuzz A coordinator confirms that.');
    // The dock alone does not free the case for its lube.
    const fill = async () => (await because(ines, id, tick(`${starboard} gear-lube/fill`))) ?? '';
    expect(await fill()).toContain('cannot be ticked');
    await write(ines, id, { kind: 'undecide', finding: `${starboard} grit in lube` });
    expect(await heldOf(starboard)).toEqual([]);
    // The desk decides otherwise by itself.
    await write(ilse, id, decide(`${starboard} grit in lube`, false, 'looked at by two'));
    expect(await heldOf(starboard)).toEqual([]);
    expect(await fill()).not.toContain('cannot be ticked');
    await write(ines, id, tick(`${starboard} gear-lube/fill`, false));
    // And nobody says on the dock that it was the desk.
    await write(ines, id, { kind: 'undecide', finding: `${starboard} grit in lube` });
    await write(ines, id, {
      kind: 'decide',
      finding: `${starboard} grit in lube`,
      take: false,
      reason: 'old',
      desk: true,
    });
    expect(await fill()).toContain('cannot be ticked');
    await write(ilse, id, { kind: 'undecide', finding: `${starboard} grit in lube` });
    await cards.callOff(id);
  });
  test('taken back, all that followed is called off, and it can be decided anew', async () => {
    const id = await cards.hand([[starboard, 'impeller']]);
    await write(ines, id, look(`${starboard} pump metal`, 'groove'));
    const finding = `${starboard} sand in pump`;
    const rules = async () =>
      (
        await yard.pool.query<{ n: number }>(
          'select count(*)::int as n from rule_override where boat_id = $1 and ended_at is null',
          [boatId],
        )
      ).rows[0]!.n;
    const wanted = async () =>
      (await ilse.get<{ engineId: number }[]>('/stores/wanted')).filter((w) => w.engineId === starboard).length;
    await write(ines, id, decide(finding, true));
    expect([await rules(), await wanted()]).toEqual([1, 1]);
    await write(ines, id, { kind: 'undecide', finding });
    expect([await rules(), await wanted()]).toEqual([0, 0]);
    expect((await cards.read(id)).findings.find((f) => f.key === finding)).toMatchObject({ state: 'open' });
    expect(await because(ines, id, { kind: 'undecide', finding })).toBe('There is nothing to take back here.');
    await write(ines, id, decide(finding, true));
    expect([await rules(), await wanted()]).toEqual([1, 1]);
    await cards.callOff(id);
  });
  test('decided, taken back and decided again without signal, all come at once', async () => {
    const id = await cards.hand([[starboard, 'gear-lube']]);
    const finding = `${starboard} water in lube`;
    const reply = await write(
      ines,
      id,
      look(`${starboard} lube look`, 'milky'),
      decide(finding, true),
      { kind: 'undecide', finding },
      decide(finding, true),
      { kind: 'undecide', finding },
    );
    expect(reply.refused).toEqual([]);
    expect(await heldOf(starboard)).toEqual([]);
    expect((await cards.read(id)).findings.find((f) => f.key === finding)).toMatchObject({ state: 'open' });
    await cards.callOff(id);
  });
  test('once the desk has let the engine go the dock does not take its hold back', async () => {
    const id = await cards.hand([[starboard, 'first-outing']]);
    await write(ines, id, look(`${starboard} leak`, 'leaks'));
    const finding = `${starboard} leak`;
    await write(ines, id, decide(finding, false, 'wiped, I would go'));
    const [held] = await heldOf(starboard);
    await ilse.post(`/findings/holds/${held!.id}/release`, { version: held!.version, because: 'seen dry' });
    expect(await because(ines, id, { kind: 'undecide', finding })).toContain('Ask the coordinator.');
    await cards.callOff(id);
  });
});

describe('more work on a card', () => {
  test('is refused to others, twice, on another card, and on what a two-stroke has not', async () => {
    const id = await cards.hand([[port, 'anodes']]);
    const other = await cards.hand([[starboard, 'anodes']]);
    const version = (await cards.read(id)).version;
    const body = (engineId: number, task: string) => ({ version, tasks: [{ engineId, task }], why: 'it turned up' });
    expect((await mika.refused('post', `/jobs/${id}/tasks`, body(port, 'grease'))).status).toBe(403);
    expect((await ines.refused('post', `/jobs/${id}/tasks`, body(port, 'anodes'))).detail).toContain('stands twice');
    expect((await ines.refused('post', `/jobs/${id}/tasks`, body(starboard, 'anodes'))).detail).toMatch(
      /^Anodes stands on another card already/,
    );
    expect(
      (await ines.refused('post', `/jobs/${id}/tasks`, { ...body(port, 'grease'), version: version + 1 })).status,
    ).toBe(409);
    await addWork(ines, id, [[port, 'grease']]);
    expect((await cards.read(id)).tasks.map((t) => t.task).sort()).toEqual(['anodes', 'grease']);
    await cards.callOff(id);
    await cards.callOff(other);
  });
});

describe('words, hands and steps left out', () => {
  let id = 0;
  beforeAll(async () => {
    id = await cards.hand([[port, 'prop-shaft']]);
  });
  test('a question goes to the desk, its answer to the dock', async () => {
    await write(ines, id, { kind: 'say', text: 'Is the old propeller still wanted?' });
    expect(await notices(ilse)).toContainEqual(expect.stringContaining('Is the old propeller still wanted?'));
    await write(ilse, id, { kind: 'say', text: 'Yes, keep it.' });
    expect(await notices(ines)).toContainEqual(expect.stringContaining('Yes, keep it.'));
  });
  test('a second person writes once asked, and leaves the finish to whose card it is', async () => {
    const grease = tick(`${port} prop-shaft/grease`);
    expect((await mika.refused('post', `/jobs/${id}/entries`, { entries: [] })).status).toBeGreaterThanOrEqual(400);
    await expect(write(mika, id, grease)).rejects.toThrow('403');
    await write(ines, id, { kind: 'join', personId: mikaId, on: true });
    expect(await notices(mika)).toContainEqual(expect.stringContaining('you write on it too'));
    expect((await write(mika, id, grease)).refused).toEqual([]);
    expect(await because(mika, id, { kind: 'join', personId: yard.people.technician, on: true })).toContain(
      'Whose card',
    );
    expect((await cards.finish(mika, id)).status).toBe(403);
  });
  test('a step is left out with a reason, and the desk is told; a gate is not', async () => {
    expect(await because(ines, id, { kind: 'skip', step: 'rags', why: 'no time left' })).toContain('is not left out');
    await write(ines, id, look(`${port} shaft line`, 'none'), tick(`${port} prop-shaft/line`));
    await write(ines, id, { kind: 'skip', step: `${port} prop-shaft/hub`, why: 'the hub is new' });
    expect(await notices(ilse)).toContainEqual(expect.stringMatching(/leaves out "Hub and blades.*the hub is new/));
    expect((await cards.read(id)).tasks).toMatchObject([{ state: 'done' }]);
    await confirmGates(ines, id);
    await workThrough(ines, id);
    expect((await cards.finish(ines, id)).status).toBe(200);
  });
});
