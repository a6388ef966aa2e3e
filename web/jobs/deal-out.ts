/** A boat with work that somebody is to get. */
interface BoatToDeal {
  boatId: number;
  baseId: number;
  tasks: readonly unknown[];
}

/** Boats dealt to the technicians of their base in turn, as long as nobody chose: to whoever has the fewest so far. */
export function dealOut(
  boats: readonly BoatToDeal[],
  hands: readonly { id: number; baseId: number | null }[],
  chosen: ReadonlyMap<string, number>,
  ticked: ReadonlySet<string>,
): Map<string, number> {
  const dealt = new Map<string, number>();
  const has = new Map<number, number>();
  const inTurn = [...boats].sort((a, b) => Number(ticked.has(String(b.boatId))) - Number(ticked.has(String(a.boatId))));
  for (const b of inTurn) {
    const key = String(b.boatId);
    const own = hands.filter((h) => h.baseId === b.baseId);
    const [first] = [...(own.length > 0 ? own : hands)].sort((x, y) => (has.get(x.id) ?? 0) - (has.get(y.id) ?? 0));
    const id = chosen.get(key) ?? first?.id;
    if (id === undefined) continue;
    dealt.set(key, id);
    has.set(id, (has.get(id) ?? 0) + b.tasks.length);
  }
  return dealt;
}
