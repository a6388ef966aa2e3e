import type { TaskKind } from '../service/index.ts';
import type { Step } from './step.ts';

/** Work that opens what can leak. */
export const CAN_LEAK = new Set<TaskKind>([
  'engine-oil',
  'oil-filter',
  'fuel-filter',
  'separator',
  'gear-lube',
  'impeller',
  'thermostat',
  'gear-seals',
  'gear-inspection',
  'fuel-repair',
  'passages',
  'bowls',
]);
/** The step a name in `after` stands for, whether its waiting is over or not. */
export const plain = (id: string): string => id.replace(/ started$/, '');

const CLOSES: [open: string, close: string][] = [
  ['lower unit off', 'lower unit on'],
  ['propeller off', 'propeller on'],
  ['tilt', 'leg back'],
  ['side cover off', 'side cover on'],
  ['cowl off', 'cowl on'],
];
/** Whether a step closes what was opened, or looks at it once it is. */
export const isClosing = (id: string, name: (key: string) => string): boolean =>
  CLOSES.some(([, close]) => id === name(close)) || id === name('leaks');

/** What was opened is closed after everything that needed it open; what closes last comes last. */
export function closeAfterAll(steps: Step[], name: (key: string) => string, leaks: boolean): void {
  const byId = new Map(steps.map((s) => [s.id, s]));
  const descendants = (from: string): Set<string> => {
    const found = new Set<string>([from]);
    for (let grown = true; grown;) {
      grown = false;
      for (const s of steps) {
        if (found.has(s.id) || !s.after.some((a) => found.has(plain(a)))) continue;
        found.add(s.id);
        grown = true;
      }
    }
    return found;
  };
  const look = byId.get(name('leaks'));
  if (look?.after.length === 0)
    look.after = steps.filter((s) => s.task !== null && CAN_LEAK.has(s.task)).map((s) => s.id);
  for (const [open, close] of CLOSES) {
    const closing = byId.get(name(close));
    if (!closing) continue;
    const after = descendants(name(close));
    const own = [...descendants(name(open))].filter((id) => !after.has(id));
    // The leg is closed up before the run, so the run does not wait for it the other way round.
    closing.after = [
      ...new Set([
        ...closing.after,
        ...own,
        ...(leaks && (close === 'cowl on' || close === 'side cover on') ? [name('leaks')] : []),
      ]),
    ].filter((id) => id !== closing.id);
    // The cover of the side goes on before the cowl.
    if (close === 'cowl on' && byId.has(name('side cover on'))) closing.after.push(name('side cover on'));
  }
}
