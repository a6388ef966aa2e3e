import type { seasonRoutes } from '@diurna/contract/season';
import type { ReplyOf } from '@diurna/contract';
import type { SeasonVisit } from '@diurna/core/season';
import type { Clock } from '@diurna/core/calendar';
import { FLEET_CSV, openTwinYard, PARTS_CSV } from './yard.ts';

export type Season = ReplyOf<(typeof seasonRoutes)['readSeason']>;
/** The coldest night of each month: frost from November on. */
export const LOWS = [-8, -7, -3, 1, 4, 8, 11, 10, 7, 3, -1, -5];
/** A northern year with frost, as the base keeps it. */
export const NORTH = { closes: '10-31', opens: '04-01', lows: LOWS, version: 0 };

/** A third boat with two engines. */
const DUNLIN = [
  FLEET_CSV.split('\n')[0],
  ...[1, 2].map(
    (n) =>
      `North Quay,Dunlin,3,${n === 1 ? 'port' : 'starboard'},Corvane,60,60,4,4,2.7,L,0.64,L,C60-5000${n},2025-03-01,yes,computer`,
  ),
].join('\n');

/** A yard in autumn 2026: Turnstone has its last hire in October, and the first of spring on 3 April. */
export async function openSeasonYard(clock: Clock) {
  const own = await openTwinYard(clock);
  await own.ilse.post('/exchange/fleet', FLEET_CSV);
  await own.ilse.post('/exchange/parts', PARTS_CSV);
  await own.ilse.post(
    '/exchange/parts',
    'part,name,kind,unit,containers\nLUBE,Gear lube,gear lube,mL,tube 8 US fl oz; bottle 1 L\n',
  );
  for (const [out, back] of [
    ['2026-10-20', '2026-10-25'],
    ['2027-04-03', '2027-04-05'],
  ] as const)
    await own.ilse.post('/hires', {
      ...{ boatId: own.boatId, outDay: out, outTime: '09:00', backDay: back, backTime: '17:00', reference: null },
    });
  const season = () => own.ilse.get<Season>(`/season?baseId=${own.yard.baseId}`);
  const boat = async (name = 'Turnstone') => (await season()).boats.find((b) => b.boatName === name)!;
  const visitOf = async (visit: SeasonVisit, name?: string) =>
    (await boat(name)).visits.find((v) => v.visit === visit)!;
  return {
    own,
    season,
    boat,
    visitOf,
    addDunlin: () => own.ilse.post('/exchange/fleet', DUNLIN),
    /** Enters the year of the base. */
    enterYear: () => own.ilse.put<{ version: number }>(`/season/bases/${own.yard.baseId}`, NORTH),
    /** Writes the open work of a visit down as done on a day. */
    async doIt(visit: SeasonVisit, doneOn: string, name?: string) {
      const { tasks } = await visitOf(visit, name);
      for (const engineId of new Set(tasks.map((t) => t.engineId)))
        await own.ilse.post('/service/entries', {
          engineId,
          tasks: tasks.filter((t) => t.engineId === engineId && t.doneOn === null).map((t) => t.task),
          doneOn,
          hours: null,
          doneBy: 'Ines',
          remark: null,
        });
    },
  };
}
