import { describe, expect, test } from '@jest/globals';
import type { TaskKind } from '../../service/index.ts';
import {
  cardAtWork,
  foldCard,
  hindranceText,
  never,
  stepAtHand,
  visitSteps,
  workFacts,
  workingOrder,
  type CardAct,
  type CardEntry,
} from '../index.ts';

const facts = workFacts({ powerHp: 60, stroke: 4, cylinders: 4 });
const stepsOf = (tasks: readonly TaskKind[]) =>
  workingOrder(
    visitSteps(
      tasks.map((task) => ({ engineId: 1, task, cylinders: 4, engine: { facts, sump: null, gearCase: null } })),
    ),
    1,
  ).steps;
/** A card after these acts, in this order; every phone's clock shows the same. */
function cardAfter(tasks: readonly TaskKind[], ...acts: CardAct[]) {
  const entries = acts.map((act, i): CardEntry => ({
    id: String(i),
    seq: i + 1,
    by: 3,
    at: 1000,
    act,
    seen: 0,
    against: null,
  }));
  return cardAtWork(stepsOf(tasks), foldCard(entries));
}
const tick = (step: string): CardAct => ({ kind: 'tick', step, done: true });
const look = (kind: string, choice: string): CardAct => ({ kind: 'read', key: `1 ${kind}`, value: { choice } });
const hindered = (card: ReturnType<typeof cardAfter>, id: string) => {
  const { step } = card.byId.get(id)!;
  const found = card.engines.hindrances(step);
  return { never: never(step, found), text: found.map(hindranceText).join(' ') };
};

// Never just refill, no run with a vane in the passages or fuel under the cowl: common practice, no source.
describe('what a reading opens', () => {
  const drained = ['arrive', '1 tilt', '1 gear-lube/loosen', '1 gear-lube/drain'].map(tick);

  test('milky lube forbids the fill, whatever the reason; clear lube does not', () => {
    expect(hindered(cardAfter(['gear-lube'], ...drained, look('lube look', 'milky')), '1 gear-lube/fill')).toEqual({
      never: true,
      text: expect.stringContaining('Water has come into the gear case.'),
    });
    expect(hindered(cardAfter(['gear-lube'], ...drained, look('lube look', 'dark')), '1 gear-lube/fill').never).toBe(
      false,
    );
  });
  test('seals tested after the look close it, seals ticked before it do not', () => {
    const tasks: TaskKind[] = ['gear-lube', 'gear-seals'];
    const seals = [look('seal pressure again', 'holds'), tick('1 gear-seals/again')];
    const milky = look('lube look', 'milky');
    const water = (...acts: CardAct[]) =>
      cardAfter(tasks, ...acts).engines.found.some((f) => f.fact === 'water in case');
    expect(water(...drained, milky, ...seals)).toBe(false);
    expect(water(...drained, ...seals, milky)).toBe(true);
    // The test that found them leaking is none that closes it.
    expect(water(...drained, milky, look('seal pressure again', 'falls'), tick('1 gear-seals/again'))).toBe(true);
  });
  test('the desk that decides otherwise takes it away, the dock alone does not, and taking that back brings it again', () => {
    const decide = (take: boolean, desk = true): CardAct => ({
      desk,
      kind: 'decide',
      finding: '1 grit in lube',
      take,
      reason: 'old fuzz',
    });
    const found = (...acts: CardAct[]) => cardAfter(['gear-lube'], look('lube look', 'grit'), ...acts).engines.found;
    expect(found()).toHaveLength(1);
    expect(found(decide(true))).toHaveLength(1);
    expect(found(decide(false))).toEqual([]);
    expect(found(decide(false, false))).toHaveLength(1);
    expect(found(decide(false), { kind: 'undecide', finding: '1 grit in lube' })).toHaveLength(1);
  });
  test('no run with a piece of the impeller in the passages; searched and found, it may', () => {
    const tasks: TaskKind[] = ['impeller', 'passages'];
    const missing = look('impeller look', 'missing');
    const run = (...acts: CardAct[]) => hindered(cardAfter(tasks, missing, ...acts), '1 run').text;
    expect(run()).toContain('A piece of the old impeller is missing.');
    expect(run(look('pieces found', 'all'), tick('1 passages/count'))).not.toContain('A piece of the old impeller');
    expect(run(look('pieces found', 'some'), tick('1 passages/count'))).toContain('A piece of the old impeller');
  });
  test('fuel under the cowl of one engine keeps the other from running', () => {
    const card = cardAtWork(
      workingOrder(
        visitSteps(
          [1, 2].flatMap((engineId) =>
            (['look-over', 'thermostat'] as const).map((task) => ({
              engineId,
              task,
              cylinders: 4,
              engine: { facts, sump: null, gearCase: null },
            })),
          ),
        ),
        1,
      ).steps,
      foldCard([{ id: '1', seq: 1, by: 3, at: 1, act: look('under cowl', 'fuel'), seen: 0, against: null }]),
    );
    expect(hindered(card, '2 run').text).toContain('Fuel leaks under the cowl.');
  });
  test('what it forbids is passed over while anything else is left to do', () => {
    const tasks: TaskKind[] = ['gear-lube', 'anodes'];
    const done = stepsOf(tasks)
      .map((t) => t.step.id)
      .filter((id) => id.startsWith('1 gear-lube/') && !/fill|close|tight/.test(id));
    const card = cardAfter(tasks, ...drained, look('lube look', 'milky'), ...done.map(tick));
    const { at } = stepAtHand(card, 1e12);
    expect(at!.step.id).not.toBe('1 gear-lube/fill');
    expect(never(at!.step, card.engines.hindrances(at!.step))).toBe(false);
  });
});

describe('steps left out', () => {
  test('are passed by, but what they would have closed stays open; a task left out whole is not done', () => {
    const skip = (step: string, why: string | null = 'no time'): CardAct => ({ kind: 'skip', step, why });
    const out = cardAfter(['fuel-filter'], tick('1 fuel-filter/off-canister'), skip('1 fuel-filter/dry'));
    expect(out.passed.has('1 fuel-filter/dry')).toBe(true);
    expect(out.engines.open().map((o) => o.fact)).toContain('fuel filter');
    const all = stepsOf(['fuel-filter'])
      .filter((t) => t.step.task === 'fuel-filter')
      .map((t) => t.step.id);
    expect(cardAfter(['fuel-filter'], ...all.map((id) => skip(id))).done.size).toBe(0);
    expect(cardAfter(['fuel-filter'], ...all.slice(0, -1).map(tick), skip(all.at(-1)!)).done.size).toBe(1);
    expect(cardAfter(['fuel-filter'], skip(all[0]!), skip(all[0]!, null)).passed.size).toBe(0);
  });
});
