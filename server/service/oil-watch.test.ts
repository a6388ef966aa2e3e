import { afterAll, describe, expect, test } from '@jest/globals';
import { look, openFindings, take } from '../test/findings.ts';
import { confirmGates, write } from '../test/yard.ts';

const { yard, ilse, ines, port, starboard, boatId, hand, finish, due, later } = await openFindings();
afterAll(() => yard.close());

const levelOf = async (engineId: number) => (await due(engineId)).find((r) => r.due.task === 'oil-level');
/** A card for the level alone, read at this mark. */
async function readLevel(engineId: number, mark: string) {
  const id = await hand([engineId, 'oil-level']);
  // Topped up where it was low, as the card asks.
  await write(ines, id, look(engineId, 'oil level found', mark), look(engineId, 'oil level', 'upper'));
  if (mark === 'below') await write(ines, id, take(`${engineId} oil used`));
  await confirmGates(ines, id);
  const reply = await finish(id);
  expect([reply.status, reply.body.detail]).toEqual([200, undefined]);
}

// Weekly, and before each hire on engines that use oil: common practice, no source.
describe('the level of an engine that was found to use oil', () => {
  test('is read every week and before the next hire, until it has held three times; its twin’s is not', async () => {
    await readLevel(port, 'below');
    const row = await levelOf(port);
    expect(row?.asked).toBe(
      'The oil stood below the lower mark. It is read every week and before each hire, until it has held 3 times.',
    );
    expect([row?.due.limitDay, row?.due.daysLeft]).toEqual(['2026-04-22', 7]);
    expect((await levelOf(starboard))?.asked ?? null).toBeNull();

    // She goes out on Friday and again on Sunday: read today, it counts for the first of them.
    for (const day of ['2026-04-17', '2026-04-19'])
      await ilse.post('/hires', {
        boatId,
        outDay: day,
        outTime: '08:00',
        backDay: day,
        backTime: '16:00',
        reference: null,
      });
    expect((await levelOf(port))?.due.limitDay).toBe('2026-04-19');

    for (let n = 1; n <= 3; n++) {
      later(60);
      await readLevel(port, 'upper');
      expect((await levelOf(port))?.asked?.includes('every week') ?? false).toBe(n < 3);
    }
  });
});
