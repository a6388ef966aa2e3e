import type { SupplierEdit } from '@diurna/contract/ordering';
import { addDays, weekday, type Day } from '@diurna/core/calendar';
import { PARTS } from './parts.ts';
import type { Visitor } from './visitor.ts';

interface DemoSupplier extends Omit<SupplierEdit, 'contactId' | 'offers' | 'serviceUrl'> {
  mail: string;
  /** Packs, price against the shelf's (1 = the same), and from how many packs which share of it. */
  sells: { of: (number: string) => boolean; packs: number[]; dear: number; breaks: [packs: number, share: number][] }[];
}

const starts =
  (...heads: string[]) =>
  (number: string) =>
    heads.some((h) => number.startsWith(h));

/** Invented: a distributor of makers' parts, an oil merchant with round days, and the shop in the harbour. */
const SUPPLIERS: DemoSupplier[] = [
  {
    name: 'Tern Marine Parts',
    mail: 'orders@tern-parts.example',
    leadDays: 4,
    weekdays: [1, 2, 3, 4, 5],
    carriageMinor: 1400,
    freeFromMinor: 22_000,
    leastMinor: 0,
    sells: [
      { of: starts('PK-', 'TH-', 'SEP-'), packs: [1], dear: 1, breaks: [[1, 1]] },
      {
        of: starts('C60-', 'CX-', 'SK-', 'LU-', 'FF-'),
        packs: [1],
        dear: 0.96,
        breaks: [
          [1, 1],
          [6, 0.93],
          [12, 0.88],
        ],
      },
      {
        of: starts('PL-'),
        packs: [4],
        dear: 0.95,
        breaks: [
          [1, 1],
          [5, 0.92],
        ],
      },
    ],
  },
  {
    name: 'Hollin Oils',
    mail: 'desk@hollin-oils.example',
    leadDays: 2,
    weekdays: [2, 4],
    carriageMinor: 2200,
    freeFromMinor: 35_000,
    leastMinor: 4000,
    sells: [
      {
        of: starts('OIL-'),
        packs: [4000, 20_000],
        dear: 0.92,
        breaks: [
          [1, 1],
          [6, 0.94],
        ],
      },
      {
        of: starts('LUBE-'),
        packs: [1000, 4000],
        dear: 0.93,
        breaks: [
          [1, 1],
          [4, 0.95],
        ],
      },
    ],
  },
  {
    name: 'Saltmarsh Chandlery',
    mail: 'counter@saltmarsh.example',
    leadDays: 1,
    weekdays: [1, 2, 3, 4, 5, 6],
    carriageMinor: 600,
    freeFromMinor: 12_000,
    leastMinor: 0,
    sells: [
      { of: starts('OIL-', 'LUBE-'), packs: [946], dear: 1.08, breaks: [[1, 1]] },
      { of: starts('C60-F2', 'SK-F1', 'LU-F1', 'FF-L', 'PL-'), packs: [1], dear: 1.1, breaks: [[1, 1]] },
      {
        of: starts('WSH-', 'GSK-'),
        packs: [10],
        dear: 1,
        breaks: [
          [1, 1],
          [5, 0.85],
        ],
      },
    ],
  },
];

/** Suppliers with what they sell, and an order on its way since three days ago. */
export async function buyParts(
  visitor: Visitor,
  baseId: number,
  today: Day,
  setDay: (daysAgo: number) => void,
  serviceUrl: string | null,
): Promise<void> {
  const { rows: parts } = await visitor.send<{ rows: { id: number; number: string; unit: string }[] }>(
    'GET',
    '/stores/parts?size=200',
  );
  const priceOf = new Map(PARTS.map((p) => [p.number, Number(p.price)]));
  for (const { mail, sells, ...supplier } of SUPPLIERS) {
    const contact = await visitor.send<{ id: number }>('POST', '/messages/contacts', {
      name: supplier.name,
      address: mail,
      baseId: null,
      hears: [],
    });
    const offers = sells.flatMap(({ of, packs, dear, breaks }) =>
      parts
        .filter((p) => of(p.number))
        .flatMap((p) =>
          packs.map((packQuantity) => {
            const units = p.unit === 'mL' ? packQuantity / 1000 : packQuantity;
            const each = priceOf.get(p.number)! * units * dear * 100;
            return {
              partId: p.id,
              number: null,
              packQuantity,
              breaks: breaks.map(([from, share]) => ({ packs: from, priceMinor: Math.round(each * share) })),
            };
          }),
        ),
    );
    await visitor.send('POST', '/ordering/suppliers', {
      ...supplier,
      contactId: contact.id,
      offers,
      // The distributor has a service, the others a telephone.
      serviceUrl: supplier.name.startsWith('Tern') ? serviceUrl : null,
    });
  }
  await orderOfLate(visitor, baseId, today, setDay);
}

/** Filters and plugs, ordered on the last working day but two. */
async function orderOfLate(
  visitor: Visitor,
  baseId: number,
  today: Day,
  setDay: (daysAgo: number) => void,
): Promise<void> {
  const [tern] = (
    await visitor.send<{ id: number; name: string; weekdays: number[]; offers: { id: number; part: string }[] }[]>(
      'GET',
      '/ordering/suppliers',
    )
  ).filter((s) => s.name.startsWith('Tern'));
  const lines = tern!.offers
    .filter((o) => ['CX-F4', 'PL-CV6'].includes(o.part))
    .map((o) => ({ offerId: o.id, packs: 2 }));
  const daysAgo = [3, 4, 5].find((n) => tern!.weekdays.includes(weekday(addDays(today, -n))))!;
  setDay(daysAgo);
  await visitor.send('POST', '/ordering/purchases', { baseId, supplierId: tern!.id, lines, mail: false });
  setDay(0);
}
