import { dayInZone } from '@diurna/core/calendar';
import { lifeHours, questionReading, weighEngineTime, type EngineTime } from '@diurna/core/usage';
import { and, desc, eq, inArray, sql } from 'drizzle-orm';
import type { z } from 'zod';
import type { gatewayMessage } from '@diurna/contract/gateway';
import { tables, type Tx } from '../db/index.ts';
import { insertReadings, lockEngines, recentReadings, type ReadingRow } from '../usage/index.ts';
import { decodeN2k, decodeSignalK, type Decoded } from './decode.ts';

const { gateway, gatewayHeard, gatewayRefusal, engine } = tables;
type Message = z.infer<typeof gatewayMessage>;

export interface Outcome {
  taken: number;
  repeated: number;
  late: number;
  refused: number;
  other: number;
  refusals: { message: number; why: string }[];
}

/** A reading is written from a box at its first word of a day, and again after so many seconds run. */
const WRITE_EVERY_SECONDS = 1800;
/** People round what they read; the counter may lie so far below (h). */
const ROUNDING_HOURS = 0.2;
const KEPT_REFUSALS = 200;
const SHOWN_TEXT = 300;

interface Heard extends EngineTime {
  writtenSeconds: number | null;
  writtenAt: number | null;
  changed: boolean;
}

/**
 * Takes a post of a box: every message is weighed against the last one taken from its engine, and readings
 * are written where something new is known. One transaction, one post of a box at a time: what is sent
 * again after a lost answer is known again.
 */
export async function hearMessages(
  tx: Tx,
  gatewayId: number,
  messages: readonly Message[],
  now: Date,
): Promise<Outcome> {
  const [box] = await tx.select().from(gateway).where(eq(gateway.id, gatewayId)).for('update');
  const engines = await tx
    .select({ id: engine.id, position: engine.position })
    .from(engine)
    .where(and(eq(engine.boatId, box!.boatId), eq(engine.retired, false)));
  const rows =
    engines.length === 0
      ? []
      : await tx
          .select()
          .from(gatewayHeard)
          .where(
            inArray(
              gatewayHeard.engineId,
              engines.map((e) => e.id),
            ),
          );
  const heard = new Map<number, Heard>(
    rows.map((r) => [
      r.engineId,
      {
        at: r.at.getTime(),
        seconds: r.seconds,
        writtenSeconds: r.writtenSeconds,
        writtenAt: r.writtenAt?.getTime() ?? null,
        changed: false,
      },
    ]),
  );
  const outcome: Outcome = { taken: 0, repeated: 0, late: 0, refused: 0, other: 0, refusals: [] };
  let clockOff = false;
  const refuse = (message: number, why: string) => {
    outcome.refused++;
    outcome.refusals.push({ message, why });
  };
  messages.forEach((message, i) => {
    const decoded: Decoded = 'n2k' in message ? decodeN2k(message.n2k) : decodeSignalK(message.signalk);
    if ('other' in decoded) outcome.other++;
    else if ('why' in decoded) refuse(i, decoded.why);
    else
      for (const time of decoded.times) {
        const found = engines.find((e) => time.positions.includes(e.position));
        if (!found) {
          refuse(i, `${time.name} stands for no engine of this boat`);
          continue;
        }
        const last = heard.get(found.id) ?? null;
        const verdict = weighEngineTime(last, time, now.getTime());
        if (verdict.is === 'refused') refuse(i, verdict.why);
        else if (verdict.is === 'taken') {
          clockOff ||= verdict.clockOff;
          heard.set(found.id, {
            at: verdict.at,
            seconds: time.seconds,
            writtenSeconds: last?.writtenSeconds ?? null,
            writtenAt: last?.writtenAt ?? null,
            changed: true,
          });
          outcome.taken++;
        } else outcome[verdict.is]++;
      }
  });
  await writeDue(tx, heard, now, (why) => {
    refuse(-1, why);
  });
  for (const [engineId, h] of heard) {
    if (!h.changed) continue;
    const fields = {
      gatewayId,
      at: new Date(h.at),
      seconds: h.seconds,
      writtenSeconds: h.writtenSeconds,
      writtenAt: h.writtenAt === null ? null : new Date(h.writtenAt),
    };
    await tx
      .insert(gatewayHeard)
      .values({ engineId, ...fields })
      .onConflictDoUpdate({ target: gatewayHeard.engineId, set: fields });
  }
  if (outcome.refusals.length > 0) await keepRefusals(tx, gatewayId, messages, outcome.refusals, now);
  await tx
    .update(gateway)
    .set({
      heardAt: now,
      clockOff,
      taken: sql`${gateway.taken} + ${outcome.taken}`,
      repeated: sql`${gateway.repeated} + ${outcome.repeated}`,
      late: sql`${gateway.late} + ${outcome.late}`,
      refused: sql`${gateway.refused} + ${outcome.refused}`,
      other: sql`${gateway.other} + ${outcome.other}`,
    })
    .where(eq(gateway.id, gatewayId));
  return outcome;
}

/** Writes readings for engines that have something new to say, each questioned like one a person types. */
async function writeDue(tx: Tx, heard: Map<number, Heard>, now: Date, refuse: (why: string) => void): Promise<void> {
  const DAY = 86_400_000;
  const due = [...heard].filter(
    ([, h]) =>
      h.changed &&
      (h.writtenSeconds === null ||
        h.seconds - h.writtenSeconds >= WRITE_EVERY_SECONDS ||
        (h.seconds > h.writtenSeconds && Math.floor(h.at / DAY) > Math.floor((h.writtenAt ?? 0) / DAY))),
  );
  if (due.length === 0) return;
  const meters = await lockEngines(
    tx,
    due.map(([id]) => id),
  );
  const recent = await recentReadings(
    tx,
    due.map(([id]) => id),
    dayInZone(now, 'Pacific/Kiritimati'),
  );
  const rows: ReadingRow[] = [];
  for (const [engineId, h] of due) {
    const meter = meters.get(engineId);
    if (!meter || meter.meterId === null) {
      refuse(`${meter?.name ?? 'the engine'} has no meter in the book; fit its engine computer on the engine’s page`);
      continue;
    }
    const at = new Date(h.at);
    const day = dayInZone(at, meter.timeZone);
    const count = Math.round(h.seconds / 360) / 10;
    const life = lifeHours(meter.offset, count);
    const before = recent.get(engineId) ?? [];
    const last = before.at(-1);
    if (meter.fittedOn !== null && day < meter.fittedOn) continue;
    if (
      last &&
      (last.day > day ||
        Math.abs(last.hours - life) < 0.05 ||
        (life < last.hours && last.hours - life <= ROUNDING_HOURS))
    ) {
      // The book knows as much, or a person rounded up.
      h.writtenSeconds = h.seconds;
      h.writtenAt = h.at;
      continue;
    }
    const question = questionReading(before, { day, hours: life });
    if (question && question.doubt !== 'off habit') {
      refuse(`${meter.name}: ${question.text}`);
      continue;
    }
    rows.push({
      engineId,
      meterId: meter.meterId,
      day,
      at,
      count,
      source: 'gateway',
      personId: null,
      doubt: question?.doubt ?? null,
      reason: question ? 'sent by the box on the boat' : null,
    });
    h.writtenSeconds = h.seconds;
    h.writtenAt = h.at;
  }
  if (rows.length > 0) await insertReadings(tx, rows);
}

async function keepRefusals(
  tx: Tx,
  gatewayId: number,
  messages: readonly Message[],
  refusals: Outcome['refusals'],
  now: Date,
): Promise<void> {
  const textOf = (m: Message | undefined) =>
    (m === undefined
      ? 'the latest engine time'
      : 'n2k' in m
        ? m.n2k
        : ((JSON.stringify(m.signalk) as string | undefined) ?? 'nothing')
    )
      .slice(0, SHOWN_TEXT)
      .replaceAll('\u0000', '');
  await tx
    .insert(gatewayRefusal)
    .values(
      refusals
        .slice(-KEPT_REFUSALS)
        .map((r) => ({ gatewayId, at: now, text: textOf(messages[r.message]), why: r.why })),
    );
  await tx.delete(gatewayRefusal).where(
    and(
      eq(gatewayRefusal.gatewayId, gatewayId),
      sql`${gatewayRefusal.id} <= (select ${gatewayRefusal.id} from ${gatewayRefusal}
          where ${gatewayRefusal.gatewayId} = ${gatewayId} order by ${gatewayRefusal.id} desc offset ${KEPT_REFUSALS}
          limit 1)`,
    ),
  );
}

export const lastRefusals = (tx: Tx, gatewayId: number) =>
  tx
    .select()
    .from(gatewayRefusal)
    .where(eq(gatewayRefusal.gatewayId, gatewayId))
    .orderBy(desc(gatewayRefusal.id))
    .limit(KEPT_REFUSALS);
