import type { DayReply } from '@diurna/contract/day';
import { byPlace } from '@diurna/core/stores';
import { containersOf, newContainers } from '../stores/index.ts';

type Kit = DayReply['kits'][number];

/** One part off the shelf for all visits of a base. */
export interface Pick {
  partId: number;
  number: string;
  name: string;
  unit: Kit['lines'][number]['unit'];
  place: string | null;
  /** Pieces, or mL. */
  quantity: number;
  /** How much of it the shelf has not. */
  lacks: number;
  boats: string[];
  /** The cards that want it. */
  cards: { jobId: number; boatName: string }[];
  /** What may be fitted as well, and lies there. */
  instead: Kit['lines'][number]['instead'];
  /** Of a fluid: what is poured and opened for all of them together. */
  containers: string | null;
  /** So many new containers fewer than boat by boat. */
  spared: number;
}

/** What a base's visits take together, in the order of the shelves; what has no place stands last. */
export function picksOf(kits: readonly Kit[]): Pick[] {
  const picks = new Map<number, Pick & { line: Kit['lines'][number]; single: number }>();
  for (const { jobId, boatName, lines } of kits)
    for (const l of lines) {
      const pick = picks.get(l.partId) ?? {
        partId: l.partId,
        number: l.number,
        name: l.name,
        unit: l.unit,
        place: l.place,
        quantity: 0,
        lacks: 0,
        boats: [],
        cards: [],
        instead: l.instead.filter((o) => o.onHand > 0),
        containers: null,
        spared: 0,
        line: l,
        single: 0,
      };
      pick.quantity += l.quantity;
      pick.single += newContainers(l, l.quantity);
      if (!pick.boats.includes(boatName)) pick.boats.push(boatName);
      pick.cards.push({ jobId, boatName });
      picks.set(l.partId, pick);
    }
  return [...picks.values()]
    .map(({ line, single, ...pick }) => ({
      ...pick,
      lacks: Math.max(0, pick.quantity - line.onHand),
      containers: containersOf(line, pick.quantity),
      spared: Math.max(0, single - newContainers(line, pick.quantity)),
    }))
    .sort(byPlace);
}
