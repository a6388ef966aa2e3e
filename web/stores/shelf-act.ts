import type { Body } from '../app/api.ts';

/** What is done with a part at its shelves by hand. */
export const ACTS = {
  receive: 'Receive',
  count: 'Count',
  'hand out': 'Hand to a person',
  'bring back': 'Brought back',
  move: 'Send to another base',
  'write off': 'Write off',
} as const;
/** Those that name somebody. */
export const WITH_PERSON: readonly Act[] = ['hand out', 'bring back'];
export type Act = keyof typeof ACTS;

/** What is typed in the form of an act, besides how much. */
export interface Filled {
  baseId: number | '';
  toBaseId: number | '';
  personId: number | '';
  note: string;
  lot: string;
  expires: string;
  cost: string;
  /** What was found in each open container, mL. */
  inOpen: Record<number, string>;
  /** Cards that want what is sent away go short. */
  although: boolean;
  /** A figure far from what is usual was looked at again. */
  sure: boolean;
}

export const NOTHING: Filled = {
  ...{ baseId: '', toBaseId: '', personId: '', note: '', lot: '', expires: '', cost: '' },
  ...{ inOpen: {}, although: false, sure: false },
};

/** The body of an act that is ready to be sent. */
export function bodyOf(
  act: Act,
  {
    partId,
    quantity,
    costMinor,
    open,
    ...of
  }: Filled & {
    partId: number;
    quantity: number;
    costMinor: number | null;
    open: readonly { id: number; leftMl: number | null }[];
  },
): Body<'moveStock'> {
  const line = { partId, baseId: Number(of.baseId), note: of.note.trim() || null };
  const personId = Number(of.personId);
  switch (act) {
    case 'count':
      return { act, ...line, counted: quantity, open: open.map((o) => ({ id: o.id, leftMl: o.leftMl! })) };
    case 'move':
      return { act, ...line, quantity, toBaseId: Number(of.toBaseId), although: of.although };
    case 'hand out':
      return { act, ...line, quantity, personId, although: of.although };
    case 'bring back':
      return { act, ...line, quantity, personId };
    case 'write off':
      return { act, ...line, quantity, note: of.note.trim() };
    case 'receive':
      return { act, ...line, quantity, lot: of.lot.trim() || null, expires: of.expires || null, costMinor };
  }
}
