import { engineName, type Position } from '@diurna/core/fleet';
import type { SearchHit } from '@diurna/contract/fleet';
import { sql } from 'drizzle-orm';
import type { Handlers } from '../http/api.ts';

const LIMIT = 12;

interface Hit extends Record<string, unknown> { kind: SearchHit['kind']; id: number; title: string; detail: string; position: Position | null }

/** Text as a LIKE pattern that stands for itself. */
const literal = (text: string) => text.replaceAll(/[\\%_]/g, (c) => `\\${c}`);

export const searchHandlers: Handlers<'search'> = {
  async search({ db, query }) {
    const anywhere = `%${literal(query.q)}%`;
    const starts = `${literal(query.q)}%`;
    const found = await db.execute<Hit>(sql`
      select * from (
        (select 'boat' as kind, b.id, b.name as title, s.name || coalesce(', berth ' || b.berth, '') as detail, null as position,
                b.name ilike ${starts} as first
         from boat b join base s on s.id = b.base_id where not b.retired and b.name ilike ${anywhere} order by first desc, b.name limit ${LIMIT})
        union all
        (select 'engine', e.id, coalesce(b.name, e.serial), m.maker || ' ' || m.name || ', serial ' || e.serial, e.position::text,
                e.serial ilike ${starts} as first
         from engine e join engine_model m on m.id = e.model_id left join boat b on b.id = e.boat_id
         where not e.retired and (e.serial ilike ${anywhere} or b.name ilike ${starts}) order by first desc, b.name, e.id limit ${LIMIT})
        union all
        (select 'part', p.id, p.number, p.name, null, p.number ilike ${starts} as first
         from part p where p.number ilike ${anywhere} or p.name ilike ${anywhere} order by first desc, p.number limit ${LIMIT})
        union all
        (select 'model', m.id, m.maker || ' ' || m.name, m.power_hp::float8 || ' hp', null, m.name ilike ${starts} as first
         from engine_model m where m.maker || ' ' || m.name ilike ${anywhere} order by first desc, m.name limit ${LIMIT})
        union all
        (select 'person', p.id, p.name, p.role::text, null, p.name ilike ${starts} as first
         from person p where p.active and p.name ilike ${anywhere} order by first desc, p.name limit ${LIMIT})
      ) hits order by first desc, array_position(array['boat','engine','part','person','model'], kind), title limit ${LIMIT * 2}`);
    return found.rows.map((h) => ({
      kind: h.kind, id: h.id, detail: h.detail,
      title: h.kind === 'engine' && h.position !== null ? engineName(h.title, h.position) : h.title,
    }));
  },
};
