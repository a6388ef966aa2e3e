import { engine, engineModel, boat, base } from '../db/schema/index.ts';
import { eq } from 'drizzle-orm';
import type { Db, Tx } from '../db/index.ts';
import type { Line } from './csv.ts';

export interface KnownEngine {
  id: number;
  serial: string;
  model: string;
  stroke: 2 | 4;
  timeZone: string;
  retired: boolean;
}

/** Finds engines by serial, and by model where two makers gave the same serial. */
export async function engineFinder(tx: Tx | Db): Promise<(line: Line) => KnownEngine | null> {
  const rows = await tx
    .select({
      id: engine.id,
      serial: engine.serial,
      maker: engineModel.maker,
      model: engineModel.name,
      stroke: engineModel.stroke,
      timeZone: base.timeZone,
      retired: engine.retired,
    })
    .from(engine)
    .innerJoin(engineModel, eq(engineModel.id, engine.modelId))
    .leftJoin(boat, eq(boat.id, engine.boatId))
    .leftJoin(base, eq(base.id, boat.baseId));
  const bySerial = new Map<string, KnownEngine[]>();
  for (const r of rows) {
    const key = r.serial.toLowerCase();
    const list = bySerial.get(key) ?? [];
    list.push({
      id: r.id,
      serial: r.serial,
      model: `${r.maker} ${r.model}`,
      stroke: r.stroke,
      timeZone: r.timeZone ?? 'UTC',
      retired: r.retired,
    });
    bySerial.set(key, list);
  }
  return (line) => {
    const serial = line.required('serial');
    if (serial === '') return null;
    const found = bySerial.get(serial.toLowerCase()) ?? [];
    const model = line.text('model')?.toLowerCase();
    const fitting =
      model === undefined
        ? found
        : found.filter((e) => e.model.toLowerCase() === model || e.model.toLowerCase().endsWith(` ${model}`));
    if (fitting.length === 1) return fitting[0]!;
    if (fitting.length > 1) line.fault('serial', `"${serial}" is on engines of two makers; fill the column model too`);
    else if (found.length > 0) line.fault('model', `the engine with this serial is a ${found[0]!.model}`);
    else line.fault('serial', `no engine "${serial}" in the book; read the fleet file in first`);
    return null;
  };
}
