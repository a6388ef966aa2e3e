import type { Part } from '@diurna/contract/stores';
import { addDays, type Day } from '@diurna/core/calendar';
import type { Visitor } from './visitor.ts';

type Change = (id: (number: string) => number) => Partial<Part> & Record<string, unknown>;

/** Invented: what fluids are sold in, and how long they keep. */
const FLUIDS: Record<string, Change> = {
  'OIL-1030': () => ({
    containers: [
      { value: 1, unit: 'US qt', kind: 'bottle' },
      { value: 4, unit: 'L', kind: 'jug' },
      { value: 20, unit: 'L', kind: 'pail' },
    ],
  }),
  'FOG-2': () => ({ containers: [{ value: 300, unit: 'mL', kind: 'bottle' }], shelfLifeMonths: 36 }),
  'STAB-30': () => ({
    containers: [
      { value: 250, unit: 'mL', kind: 'bottle' },
      { value: 1, unit: 'L', kind: 'bottle' },
    ],
    shelfLifeMonths: 24,
  }),
  'LUBE-90': () => ({
    containers: [
      { value: 1, unit: 'L', kind: 'bottle' },
      { value: 4, unit: 'L', kind: 'jug' },
    ],
    shelfLifeMonths: 48,
  }),
  'LUBE-80': () => ({
    containers: [
      { value: 10, unit: 'US fl oz', kind: 'tube' },
      { value: 1, unit: 'L', kind: 'bottle' },
    ],
    shelfLifeMonths: 48,
  }),
};

/** Invented: a filter with a newer number, a plug of another make, a kit that is short. */
const CHANGES = (today: Day): Record<string, Change> => ({
  ...FLUIDS,
  'LU-F1': (id) => ({
    links: [
      {
        otherId: id('LU-F2'),
        kind: 'superseded by',
        approved: true,
        evidence: 'Lumen parts bulletin 7, in the folder at the counter',
        saidBy: 'Tern Marine Parts',
        day: addDays(today, -120),
      },
    ],
  }),
  'PL-TL2': (id) => ({
    links: [
      {
        otherId: id('PL-X22'),
        kind: 'equivalent',
        approved: true,
        evidence: 'Same reach, seat and heat range by both tables; six ran a season',
        saidBy: 'Ilse Maren',
        day: addDays(today, -210),
      },
    ],
  }),
  'KIT-C60': (id) => ({
    // The usual ones are missing: separator, gaskets of the gear case; and its oil is three quarts.
    contents: [
      { partId: id('C60-F2'), quantity: 1 },
      { partId: id('PL-CV4'), quantity: 4 },
      { partId: id('WSH-14'), quantity: 1 },
      { partId: id('FF-C'), quantity: 1 },
      { partId: id('OIL-1030'), quantity: 2839.06 },
    ],
  }),
});

async function partFinder(visitor: Visitor) {
  const { rows } = await visitor.send<{ rows: Part[] }>('GET', '/stores/parts?size=200');
  return (number: string) => rows.find((p) => p.number === number)!;
}

/** Says what fluids are sold in, which numbers stand for others, and what is in the kit. */
export async function fillCatalogue(visitor: Visitor, today: Day): Promise<void> {
  const find = await partFinder(visitor);
  for (const [number, change] of Object.entries(CHANGES(today))) {
    const { id, onHand: _, places: __, keptBack: ___, ...part } = find(number);
    await visitor.send('PUT', `/stores/parts/${id}`, { ...part, ...change((n) => find(n).id) });
  }
}

/** A lube that lay too long, and washers on their way to another base. */
export async function shelveOdds(visitor: Visitor, bases: readonly number[], today: Day): Promise<void> {
  const find = await partFinder(visitor);
  await visitor.send('POST', '/stores/movements', {
    act: 'receive',
    partId: find('LUBE-80').id,
    baseId: bases[0],
    quantity: 1000,
    note: 'found behind the pails',
    lot: 'H-2207',
    expires: addDays(today, -25),
    costMinor: 1090,
  });
  await visitor.send('POST', '/stores/movements', {
    act: 'move',
    partId: find('WSH-14').id,
    baseId: bases[0],
    toBaseId: bases[2],
    quantity: 10,
    note: 'with the fuel boat',
    day: addDays(today, 1),
  });
}
