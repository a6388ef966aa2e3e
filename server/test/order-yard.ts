import type { Supplier, SupplierEdit } from '@diurna/contract/ordering';
import { openMailYard } from './mail-yard.ts';
import { FLEET_CSV, PARTS_CSV } from './yard.ts';

/** A yard that buys, on Wednesday 15 April 2026, seven in the morning at the base: its parts by number, a supplier to add. */
export async function openOrderYard() {
  const mail = await openMailYard();
  await mail.ilse.post('/exchange/fleet', FLEET_CSV);
  await mail.ilse.post('/exchange/parts', PARTS_CSV);
  const stores = await mail.yard.as('stores');
  const ids = new Map<string, number>();
  for (const p of (await stores.get<{ rows: { id: number; number: string }[] }>('/stores/parts')).rows)
    ids.set(p.number, p.id);
  const supplierOf = (more: Partial<SupplierEdit> = {}): SupplierEdit => ({
    name: 'Tern Parts',
    contactId: null,
    leadDays: 3,
    weekdays: [1, 3, 5],
    carriageMinor: 900,
    freeFromMinor: 6000,
    leastMinor: 1000,
    offers: [
      {
        partId: ids.get('F1')!,
        number: 'T-77',
        packQuantity: 1,
        breaks: [
          { packs: 1, priceMinor: 980 },
          { packs: 5, priceMinor: 900 },
        ],
      },
      { partId: ids.get('OIL')!, number: null, packQuantity: 4000, breaks: [{ packs: 1, priceMinor: 3100 }] },
    ],
    ...more,
  });
  const add = async (more: Partial<SupplierEdit> = {}) => {
    const { id } = await stores.post<{ id: number }>('/ordering/suppliers', supplierOf(more));
    return (await stores.get<Supplier[]>('/ordering/suppliers')).find((s) => s.id === id)!;
  };
  return {
    mail,
    stores,
    ids,
    supplierOf,
    add,
    /** No supplier, no offer, nothing on its way. */
    clear: () =>
      mail.yard.pool.query('delete from part_arrival; delete from purchase; delete from offer; delete from supplier'),
  };
}
