import { type EngineFacts, names } from '@diurna/core/ahead';
import { engineName } from '@diurna/core/fleet';
import { searchHit, type SearchHit } from '@diurna/contract/fleet';
import { z } from 'zod';
import { prepared } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { type FleetCache } from '../service/index.ts';

/**
 * $1 = anywhere in the name, $2 = at its start; twelve of a kind, those that start with the words first.
 * Engines on boats come from the cache of the fleet, which has them at hand.
 */
const HITS = `
      select * from (
        (select 'boat' as kind, b.id, b.name as title, s.name || coalesce(', berth ' || b.berth, '') as detail,
                b.name ilike $2 as first
         from boat b join base s on s.id = b.base_id
         where not b.retired and b.name ilike $1 order by first desc, b.name limit 12)
        union all
        (select 'engine', e.id, e.serial, m.maker || ' ' || m.name || ', on the shelf', e.serial ilike $2 as first
         from engine e join engine_model m on m.id = e.model_id
         where not e.retired and e.boat_id is null and e.serial ilike $1 order by first desc, e.serial limit 12)
        union all
        (select 'part', p.id, p.number, p.name, p.number ilike $2 as first
         from part p where p.number ilike $1 or p.name ilike $1 order by first desc, p.number limit 12)
        union all
        (select 'model', m.id, m.maker || ' ' || m.name, m.power_hp::float8 || ' hp', m.name ilike $2 as first
         from engine_model m where m.maker || ' ' || m.name ilike $1 order by first desc, m.name limit 12)
        union all
        (select 'person', p.id, p.name, p.role::text, p.name ilike $2 as first
         from person p where p.active and p.name ilike $1 order by first desc, p.name limit 12)
      ) hits`;

const hit = searchHit.extend({ first: z.boolean() });
type Hit = z.infer<typeof hit>;

const MOST = 24;
const MOST_OF_A_KIND = 12;
const ORDER: SearchHit['kind'][] = ['boat', 'engine', 'part', 'person', 'model'];

interface Words {
  facts: EngineFacts;
  name: string;
  serial: string;
}

/** A cache by the list it was made from: gone with it when the fleet changes. */
const wordsOf = new WeakMap<readonly EngineFacts[], Words[]>();

function fleetWords(fleet: FleetCache): Words[] {
  const engines = fleet.inOrder();
  const known = wordsOf.get(engines);
  if (known) return known;
  const words = engines.map((facts) => ({
    facts,
    name: facts.boatName.toLowerCase(),
    serial: facts.serial.toLowerCase(),
  }));
  wordsOf.set(engines, words);
  return words;
}

/** In the order of boats; it stops looking when there is enough. */
function enginesOnBoats(fleet: FleetCache, wanted: string): Hit[] {
  const bySerial: EngineFacts[] = [];
  const others: EngineFacts[] = [];
  for (const { facts, name, serial } of fleetWords(fleet)) {
    if (serial.startsWith(wanted)) bySerial.push(facts);
    else if (others.length < MOST_OF_A_KIND && (name.startsWith(wanted) || serial.includes(wanted))) others.push(facts);
    if (bySerial.length === MOST_OF_A_KIND) break;
  }
  const hit =
    (first: boolean) =>
    (f: EngineFacts): Hit => ({
      kind: 'engine',
      id: f.id,
      title: engineName(f.boatName, f.position),
      detail: `${f.modelName}, serial ${f.serial}`,
      first,
    });
  return [...bySerial.map(hit(true)), ...others.map(hit(false))].slice(0, MOST_OF_A_KIND);
}

/** Text as a LIKE pattern that stands for itself. */
const literal = (text: string) => text.replaceAll(/[\\%_]/g, (c) => `\\${c}`);

export const searchHandlers = (fleet: FleetCache): Handlers<'search'> => ({
  async search({ db, query, now }) {
    const words = literal(query.q);
    const [others] = await Promise.all([
      prepared(db, hit, 'search', HITS, [`%${words}%`, `${words}%`]),
      fleet.refresh(now),
    ]);
    return [...others, ...enginesOnBoats(fleet, query.q.toLowerCase())]
      .sort(
        (a, b) =>
          Number(b.first) - Number(a.first) ||
          ORDER.indexOf(a.kind) - ORDER.indexOf(b.kind) ||
          names.compare(a.title, b.title),
      )
      .slice(0, MOST)
      .map(({ kind, id, title, detail }) => ({ kind, id, title, detail }));
  },
});
