/** How one part number stands to another. */
export const PART_LINK_KINDS = ['superseded by', 'equivalent'] as const;
export type PartLinkKind = (typeof PART_LINK_KINDS)[number];

/** That another number may be fitted instead, and who says so. */
export interface PartLink {
  partId: number;
  /** The newer number, or the equivalent. */
  otherId: number;
  kind: PartLinkKind;
  /** The yard lets it be fitted. */
  approved: boolean;
}

/**
 * The newest number of a part, by the chain of numbers that superseded it.
 *
 * @returns the part itself where nothing approved superseded it, or where the chain runs in a ring
 */
export function newestOf(partId: number, links: readonly PartLink[]): number {
  const seen = new Set([partId]);
  let now = partId;
  for (;;) {
    const next = links.find((l) => l.partId === now && l.kind === 'superseded by' && l.approved);
    if (!next) return now;
    if (seen.has(next.otherId)) return partId;
    seen.add(next.otherId);
    now = next.otherId;
  }
}

/** A part that may be fitted instead of another, with the links that lead there. */
export interface Instead {
  partId: number;
  by: PartLink[];
}

/**
 * All that may be fitted instead of a part, nearest first: its superseding numbers one after the other, then approved
 * equivalents of any of these. Links nobody approved lead nowhere.
 *
 * @param equivalents false where the maker's own part alone is taken
 */
export function mayServe(partId: number, links: readonly PartLink[], equivalents: boolean): Instead[] {
  const found = new Map<number, Instead>([[partId, { partId, by: [] }]]);
  const follow = (kind: PartLinkKind, again: boolean) => {
    const left = [...found.values()];
    for (let at = left.shift(); at; at = left.shift())
      for (const link of links) {
        if (link.partId !== at.partId || link.kind !== kind || !link.approved || found.has(link.otherId)) continue;
        const instead = { partId: link.otherId, by: [...at.by, link] };
        found.set(link.otherId, instead);
        if (again) left.push(instead);
      }
  };
  follow('superseded by', true);
  if (equivalents) follow('equivalent', false);
  found.delete(partId);
  return [...found.values()];
}

/**
 * Whether a new link would lead back to where it starts.
 *
 * @returns true when superseding would run in a ring
 */
export function runsInRing(link: Pick<PartLink, 'partId' | 'otherId'>, links: readonly PartLink[]): boolean {
  const next = new Map(links.filter((l) => l.kind === 'superseded by').map((l) => [l.partId, l.otherId]));
  next.set(link.partId, link.otherId);
  const seen = new Set<number>();
  for (let at: number | undefined = link.partId; at !== undefined; at = next.get(at)) {
    if (seen.has(at)) return true;
    seen.add(at);
  }
  return false;
}
