import { processClock } from '../server/clock.ts';
import { n2kEngineHours, signalkRunTime } from '@diurna/demo/engine-gateway';
import { seeded } from '@diurna/demo/random';
import type pg from 'pg';
import { percentile, row } from './report.ts';
import { together, type Visitor } from './visitor.ts';

const BOXES = 40;
const MESSAGES = 10_000;
const POST = 25;
/** So many posts of every box come at the asked 10,000 messages a minute, the others as fast as they are taken. */
const PACED_POSTS = 3;
const PACE_MS = (BOXES * POST * 60_000) / 10_000;

/** Ten thousand messages of forty boxes, some twice, some late, some broken, while people look at what is due. */
export async function benchGateway(
  address: string,
  admin: Visitor,
  users: Visitor[],
  client: pg.Client,
): Promise<void> {
  const random = seeded(9);
  const { rows: boats } = await client.query<{ id: number; engine: number; hours: string }>(`
    select b.id, e.id as engine, (select max(r.count) from reading r where r.engine_id = e.id) as hours
    from boat b join engine e on e.boat_id = b.id where e.position = 'single' order by b.id desc limit ${BOXES}`);
  const each = MESSAGES / BOXES;
  const now = processClock()().getTime();
  const boxes = [];
  for (const boat of boats) {
    const { key } = await admin.json<{ key: string }>('POST', '/gateways', {
      name: `Box ${boat.id}`,
      boatId: boat.id,
      active: true,
    });
    const start = Math.round(Number(boat.hours) * 3600) + 600;
    const distinct = Math.round(each * 0.8);
    const messages: { message: object; broken: boolean }[] = Array.from({ length: distinct }, (_, i) => {
      // A minute of running each minute, up to now.
      const at = new Date(now - (distinct - i) * 60_000);
      const seconds = start + i * 60;
      return {
        message:
          i % 2 === 0 ? { n2k: n2kEngineHours(at, 0, seconds) } : { signalk: signalkRunTime(at, 'single', seconds) },
        broken: false,
      };
    });
    const last = start + (distinct - 1) * 60;
    while (messages.length < each) {
      const broken = random.chance(0.3);
      const at = random.whole(0, messages.length - 1);
      messages.splice(
        Math.min(messages.length, at + random.whole(1, 20)),
        0,
        broken ? { message: { n2k: 'noise on the line' }, broken } : messages[at]!,
      );
    }
    boxes.push({ boat, key, messages, last, broken: messages.filter((m) => m.broken).length });
  }
  const shop = { open: true };
  const looks = { paced: [] as number[], flood: [] as number[] };
  let stage: keyof typeof looks = 'paced';
  const people = (async () => {
    while (shop.open)
      looks[stage].push(...(await together(users.slice(0, 5), 1, (u) => u.send('GET', '/service/due?size=50'))));
  })();
  const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
  let began = 0;
  const ready = pause(PACED_POSTS * PACE_MS).then(() => {
    stage = 'flood';
    began = performance.now();
  });
  const sent = await Promise.all(
    boxes.map(async (box, n) => {
      await pause((n / BOXES) * PACE_MS);
      const sum = { taken: 0, repeated: 0, late: 0, refused: 0 };
      for (let i = 0; i < box.messages.length; i += POST) {
        const reply = await fetch(`${address}/api/gateway/messages`, {
          method: 'POST',
          headers: { 'content-type': 'application/json', authorization: `Bearer ${box.key}` },
          body: JSON.stringify({ messages: box.messages.slice(i, i + POST).map((m) => m.message) }),
        });
        if (i / POST < PACED_POSTS - 1) await pause(PACE_MS);
        else await ready;
        if (!reply.ok) throw new Error(await reply.text());
        const outcome = (await reply.json()) as typeof sum;
        for (const k of Object.keys(sum) as (keyof typeof sum)[]) sum[k] += outcome[k];
      }
      return sum;
    }),
  );
  const seconds = (performance.now() - began) / 1000;
  shop.open = false;
  await people;
  let lost = 0;
  for (const [i, box] of boxes.entries()) {
    const heard = (
      await client.query<{ seconds: string }>('select seconds from gateway_heard where engine_id = $1', [
        box.boat.engine,
      ])
    ).rows.map((r) => Number(r.seconds));
    const s = sent[i]!;
    if (
      heard[0] !== box.last ||
      s.taken + s.repeated + s.late + s.refused !== box.messages.length ||
      s.refused !== box.broken
    )
      lost++;
  }
  const { rows: doubled } = await client.query<{ n: number }>(
    `select count(*)::int as n from (select 1 from reading where source = 'gateway' group by engine_id, count having
      count(*) > 1) d`,
  );
  const perMinute = ((MESSAGES - BOXES * POST * PACED_POSTS) / seconds) * 60;
  row(
    `messages a minute of ${BOXES} boxes, while 5 people look`,
    perMinute.toFixed(0),
    '10000',
    perMinute >= 10_000 && lost === 0 && doubled[0]!.n === 0,
    `all ${MESSAGES} accounted for and the last hour right in ${BOXES - lost} of ${BOXES} boxes, ${doubled[0]!.n} readings doubled; due list meanwhile p95 ${percentile(looks.flood, 0.95).toFixed(0)} ms`,
  );
  const paced = percentile(looks.paced, 0.95);
  row(
    'due list of 5 people while 10,000 messages a minute come in, p95',
    `${paced.toFixed(0)} ms`,
    'under 150 ms',
    paced < 150,
    `${(paced / percentile(looks.flood, 0.95)).toFixed(2)} x at the flood; ${looks.paced.length} looks`,
  );
}
