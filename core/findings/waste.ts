import type { TaskKind } from '../service/index.ts';
import { toMillilitres, type PrintedVolume } from '../units/index.ts';
import { millilitresOf } from './measures.ts';
import { readingKey, WASTE_STREAMS, wasteCounted, type ReadingValue, type WasteStream } from './readings.ts';

export interface WasteLine {
  stream: WasteStream;
  /** mL, or pieces of what is counted. */
  quantity: number;
  /** False: nobody measured it, the label says so. */
  measured: boolean;
}

/** The name of what is typed for a stream on a card. */
export const wasteKey = (stream: WasteStream): string => readingKey(0, 'waste', stream);

/**
 * Waste by stream: the figure typed for the stream; else old oil as it was measured coming out, or the label's
 * volume; gear lube by the label; filters by the piece.
 *
 * @param labelOf what the engine's label says it holds
 */
export function wasteOf(
  done: readonly { engineId: number; task: TaskKind }[],
  labelOf: (engineId: number) => { sump: PrintedVolume | null; gearCase: PrintedVolume | null } | undefined,
  readings: Readonly<Record<string, ReadingValue>>,
): WasteLine[] {
  const sums = new Map<WasteStream, { quantity: number; measured: boolean }>();
  const add = (stream: WasteStream, quantity: number, measured: boolean) => {
    const known = sums.get(stream);
    sums.set(stream, { quantity: (known?.quantity ?? 0) + quantity, measured: (known?.measured ?? true) && measured });
  };
  for (const { engineId, task } of done) {
    const label = labelOf(engineId);
    if (task === 'engine-oil') {
      const out = readings[readingKey(engineId, 'oil out')];
      const ml = out && 'value' in out ? millilitresOf(out) : null;
      if (ml !== null) add('used oil', ml, true);
      else if (label?.sump) add('used oil', toMillilitres(label.sump.value, label.sump.unit), false);
    }
    if (task === 'gear-lube' && label?.gearCase)
      add('gear lube', toMillilitres(label.gearCase.value, label.gearCase.unit), false);
    if (task === 'oil-filter' || task === 'fuel-filter' || task === 'separator') add('filters', 1, true);
  }
  return WASTE_STREAMS.flatMap((stream): WasteLine[] => {
    const typed = readings[wasteKey(stream)];
    if (typed && 'value' in typed) {
      const quantity = wasteCounted(stream) ? typed.value : millilitresOf(typed);
      return quantity === null ? [] : [{ stream, quantity: Math.round(quantity), measured: true }];
    }
    const known = sums.get(stream);
    return known ? [{ stream, quantity: Math.round(known.quantity), measured: known.measured }] : [];
  });
}
