import { afterAll, describe, expect, test } from '@jest/globals';
import type { HoldRow } from '@diurna/contract/findings';
import type { CardAct } from '@diurna/core/visit';
import { openFindings } from '../test/findings.ts';
import { confirmGates, entryOf, rawProblem, write } from '../test/yard.ts';

const { yard, ilse, ines, bram, boatId, port, starboard, cards, hand, finish, condition } = await openFindings();
afterAll(() => yard.close());

describe('the engine’s condition', () => {
  test('readings over time, by cylinder, with the twin’s beside; only of finished cards', async () => {
    for (const [engineId, highest] of [
      [port, 130],
      [starboard, 128],
      [port, 126],
    ] as const) {
      const id = await hand([engineId, 'compression']);
      await write(
        ines,
        id,
        ...[1, 2, 3, 4].map((c): CardAct => ({
          kind: 'read',
          key: `${engineId} compression#${c}`,
          value: { value: highest - c, unit: 'psi' },
        })),
      );
      expect(
        (await condition(engineId)).trends
          .filter((t) => t.kind === 'compression')
          .flatMap((t) => t.points)
          .some((p) => p.jobId === id),
      ).toBe(false);
      await confirmGates(ines, id);
      expect((await finish(id)).status).toBe(200);
    }
    const c = await condition(port);
    const own = c.trends.filter((t) => t.kind === 'compression');
    expect(own.map((t) => t.part)).toEqual(['1', '2', '3', '4']);
    expect(own[0]!.points.map((p) => p.value)).toEqual([
      { value: 129, unit: 'psi' },
      { value: 125, unit: 'psi' },
    ]);
    expect(c.twins).toMatchObject([{ position: 'starboard' }]);
    expect(
      c.twins[0]!.trends.find((t) => t.kind === 'compression' && t.part === '4')!.points.map((p) => p.value),
    ).toEqual([{ value: 124, unit: 'psi' }]);
  });
  test('held from the card, late or not: it stands once, coordinators are told, and the boat stays', async () => {
    const id = await hand([starboard, 'grease']);
    const act: CardAct = { kind: 'hold', engineId: starboard, why: 'The bracket is cracked.' };
    expect(
      (await write(ines, id, { ...act, why: 'Of a boat not on this card.', engineId: 999_999 })).refused[0]!.because,
    ).toBe('This engine is not on the card.');
    expect((await rawProblem(ines, `/jobs/${id}/entries`, { entries: [entryOf({ ...act, why: 'x' })] })).status).toBe(
      422,
    );
    await cards.callOff(id);
    // Made without signal, it comes when the card is called off; other entries are refused then.
    const late = entryOf(act);
    expect((await write(ines, id, { kind: 'remark', text: 'too late' })).refused[0]!.because).toContain(
      'called off before this came',
    );
    expect((await write(ines, id, late)).refused).toEqual([]);
    expect((await write(ines, id, late)).kept).toHaveLength(1);
    const open = await ilse.get<HoldRow[]>('/findings/holds');
    expect(open).toMatchObject([
      { engineId: starboard, why: 'The bracket is cracked.', by: 'technician', missing: [] },
    ]);
    expect(
      (await ilse.get<{ text: string }[]>('/session/notices')).some(
        (n) => n.text === 'Turnstone starboard is held. The bracket is cracked.',
      ),
    ).toBe(true);
    await ilse.post(`/findings/holds/${open[0]!.id}/release`, {
      version: open[0]!.version,
      because: 'bracket replaced',
    });
  });
  test('a hold by hand wants a reason and holds without checks', async () => {
    expect((await ines.refused('post', '/findings/holds', { engineId: port, why: '', checks: [] })).status).toBe(422);
    await ines.post('/findings/holds', { engineId: port, why: 'cracked bracket', checks: [] });
    const [held] = await ilse.get<HoldRow[]>('/findings/holds');
    expect(held).toMatchObject({ why: 'cracked bracket', missing: [] });
    await ilse.post(`/findings/holds/${held!.id}/release`, { version: held!.version, because: 'welded' });
    expect(await ilse.get('/findings/holds')).toEqual([]);
    expect(
      (
        await ilse.refused('post', `/findings/holds/${held!.id}/release`, {
          version: held!.version + 1,
          because: 'twice',
        })
      ).detail,
    ).toContain('released already');
  });
});

describe('snags', () => {
  interface Causes {
    position: string;
    causes: { key: string; weight: number; evidence: string[] }[];
    visit: string[];
  }
  test('a trouble named at the dock gives its likely causes with the engine’s own record', async () => {
    const id = (
      await bram.post<{ id: number }>('/snags', {
        boatId,
        engineId: port,
        text: '',
        symptom: 'rough idle',
        photo: null,
      })
    ).id;
    const snags = await ilse.get<{ id: number; text: string; symptom: string }[]>('/snags');
    expect(snags.find((s) => s.id === id)).toMatchObject({ text: 'Rough idle, misfires', symptom: 'rough idle' });
    const [found] = await ilse.get<Causes[]>(`/snags/${id}/causes`);
    expect(found!.position).toBe('port');
    expect(found!.causes.find((c) => c.key === 'compression')!.evidence).toEqual(['compression 2.4 % apart']);
    expect(found!.visit.length).toBeGreaterThan(0);
    expect(
      (
        await ilse.post<{ minutes: number }>('/jobs/preview', {
          boatId,
          tasks: found!.visit.map((task) => ({ engineId: port, task })),
        })
      ).minutes,
    ).toBeGreaterThan(10);
  });
  test('in words alone there is nothing to work out; neither word nor trouble is refused', async () => {
    const id = (await bram.post<{ id: number }>('/snags', { boatId, engineId: null, text: 'smells odd', photo: null }))
      .id;
    expect(await ilse.get(`/snags/${id}/causes`)).toEqual([]);
    expect((await bram.refused('post', '/snags', { boatId, engineId: null, text: '', photo: null })).detail).toContain(
      'wants a few words',
    );
  });
  test('of a boat as a whole, every engine is looked at', async () => {
    const id = (
      await bram.post<{ id: number }>('/snags', { boatId, engineId: null, text: '', symptom: 'sheen', photo: null })
    ).id;
    expect((await ilse.get<Causes[]>(`/snags/${id}/causes`)).map((c) => c.position)).toEqual(['port', 'starboard']);
  });
});
