import { afterAll, beforeAll, describe, expect, test } from '@jest/globals';
import type { SentEntry } from '@diurna/contract/visit';
import { foldCard, type CardAct, type CardEntry } from '@diurna/core/visit';
import fc from 'fast-check';
import { openCardYard, type Cards } from '../test/cards.ts';
import { entryOf, write, type Client, type Yard } from '../test/yard.ts';

/**
 * Two people work on one card, each without signal now and then; what they send is sent again when the answer is lost.
 */
let yard: Yard;
let ilse: Client;
let ines: Client;
let cards: Cards;
let port = 0;
beforeAll(async () => {
  ({ yard, ilse, ines, cards, port } = await openCardYard(() => new Date('2026-04-15T10:00:00Z')));
});
afterAll(async () => {
  await yard.close();
});

const hand = () => cards.hand([[port, 'gear-lube']]);

/** What a phone does: something on the card, or sending what it has; an answer may get lost on the way. */
type Move =
  | { who: 0 | 1; what: 'tick' | 'untick' | 'dark' | 'milky' | 'remark'; step: number }
  | { who: 0 | 1; what: 'send'; lost: boolean; atOnce: number };
const who = fc.constantFrom<0 | 1>(0, 1);
const move: fc.Arbitrary<Move> = fc.oneof(
  {
    weight: 4,
    arbitrary: fc.record({
      who,
      what: fc.constantFrom('tick' as const, 'untick' as const, 'dark' as const, 'milky' as const, 'remark' as const),
      step: fc.nat(2),
    }),
  },
  {
    weight: 2,
    arbitrary: fc.record({
      who,
      what: fc.constant('send' as const),
      lost: fc.boolean(),
      atOnce: fc.integer({ min: 1, max: 4 }),
    }),
  },
);

/**
 * The rule in its own words, apart from the core's: the last word of somebody who knew all that was said counts; who
 * did not know and says otherwise stands against it.
 */
function bySlot(record: readonly CardEntry[], slot: (act: CardAct) => string | null, value: (act: CardAct) => unknown) {
  const stands = new Map<string, CardEntry>();
  const against: string[] = [];
  for (const e of record) {
    const key = slot(e.act);
    if (key === null) continue;
    const last = stands.get(key);
    const unknown = last !== undefined && last.by !== e.by && last.seq! > e.seen;
    if (unknown && JSON.stringify(value(last.act)) !== JSON.stringify(value(e.act))) against.push(e.id);
    else stands.set(key, e);
  }
  return { stands, against };
}
const slot = (act: CardAct) =>
  act.kind === 'tick' ? `tick ${act.step}` : act.kind === 'read' ? act.key : act.kind === 'remark' ? 'remark' : null;
const value = (act: CardAct) =>
  act.kind === 'tick' ? act.done : act.kind === 'read' ? act.value : act.kind === 'remark' ? act.text : null;

describe('two phones on one card', () => {
  test('whatever they do, in whichever order: nothing lost, nothing doubled, nobody overruled in silence', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(move, { minLength: 4, maxLength: 22 }), async (moves) => {
        const id = await hand();
        const steps = (await cards.read(id)).steps.slice(0, 3).map((t) => t.step.id);
        const phones = [
          { client: ines, queue: [] as SentEntry[], sent: [] as string[], seen: 0 },
          { client: ilse, queue: [] as SentEntry[], sent: [] as string[], seen: 0 },
        ];
        const send = async (phone: (typeof phones)[number], atOnce: number, lost: boolean) => {
          const part = phone.queue.slice(0, atOnce);
          if (part.length === 0) return;
          const reply = await write(phone.client, id, ...part);
          expect(reply.refused).toEqual([]);
          expect(reply.kept.map((k) => k.id)).toEqual(part.map((p) => p.id));
          if (lost) return;
          phone.queue.splice(0, part.length);
          phone.seen = reply.lastSeq;
        };
        let n = 0;
        for (const m of moves) {
          const phone = phones[m.who]!;
          if (m.what === 'send') {
            await send(phone, m.atOnce, m.lost);
            continue;
          }
          const act: CardAct =
            m.what === 'tick' || m.what === 'untick'
              ? { kind: 'tick', step: steps[m.step]!, done: m.what === 'tick' }
              : m.what === 'remark'
                ? { kind: 'remark', text: `word ${m.step}` }
                : { kind: 'read', key: `${port} lube look`, value: { choice: m.what } };
          const entry = entryOf(act, { seen: phone.seen, at: Date.parse('2026-04-15T09:00:00Z') + n++ * 1000 });
          phone.queue.push(entry);
          phone.sent.push(entry.id);
        }
        for (const phone of phones) while (phone.queue.length > 0) await send(phone, 3, false);

        const { entries } = await cards.read(id);
        expect(entries.map((e) => e.id).sort()).toEqual(phones.flatMap((p) => p.sent).sort());
        phones.forEach((p) => {
          expect(entries.filter((e) => p.sent.includes(e.id)).map((e) => e.id)).toEqual(p.sent);
        });
        const { stands, against } = bySlot(entries, slot, value);
        expect(entries.filter((e) => e.against !== null).map((e) => e.id)).toEqual(against);
        const state = foldCard(entries);
        expect(state.open.map((e) => e.id)).toEqual(against);
        for (const [key, e] of stands) {
          if (e.act.kind === 'tick') expect([key, state.ticks.has(e.act.step)]).toEqual([key, e.act.done]);
          if (e.act.kind === 'read') expect(state.readings.get(e.act.key)?.value).toEqual(e.act.value);
          if (e.act.kind === 'remark') expect(state.remark).toBe(e.act.text);
        }
        // Each is settled by a person, and then none waits.
        for (const entry of against) await write(ilse, id, { kind: 'settle', entry, take: true });
        expect(foldCard((await cards.read(id)).entries).open).toEqual([]);
        await cards.callOff(id);
      }),
      { numRuns: 25, seed: 20_260_415 },
    );
  });
});
