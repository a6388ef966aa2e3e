import { torqueOff, torqueText, type Torque } from '../../fleet/index.ts';
import { type TaskKind } from '../../service/index.ts';
import { round } from '../../units/index.ts';
import { newtonMetresOf } from '../measures.ts';
import { readingOf } from '../readings.ts';
import { type Look } from './look.ts';

/** Which torque of the model a step's reading is held against. */
const TORQUE_OF: Record<string, Torque> = {
  'engine-oil': 'drainScrewNm',
  'oil-filter': 'filterNm',
  'spark-plugs': 'plugNm',
  'gear-lube': 'gearScrewNm',
  propeller: 'propNutNm',
};

/** Screws as they came out and as they were tightened. */
export function screwsAndTorques({ engine, all, add }: Look): void {
  for (const { key: k, part, value } of all('screw')) {
    const is = 'choice' in value ? value.choice : null;
    if (is !== 'tight' && is !== 'seized') continue;
    const task: TaskKind = part === 'gear-lube' ? 'gear-lube' : 'engine-oil';
    add(
      `screw ${task}`,
      [k],
      'watch',
      is === 'seized' ? 'A screw was seized.' : 'A screw was far tighter than it should be.',
      'Corrosion, or somebody over-tightened it.',
      'Allow time, and put a new screw in.',
      [{ kind: 'order', task, what: task === 'gear-lube' ? 'gear-case screw' : 'drain screw' }],
    );
  }
  for (const { key: k, value } of all('torque')) {
    const nm = 'value' in value ? newtonMetresOf(value) : null;
    const wanted = engine.traits[TORQUE_OF[readingOf(k)!.part ?? 'propeller'] ?? 'drainScrewNm'];
    const off = nm === null || wanted === null ? null : torqueOff(nm, wanted);
    if (nm !== null && wanted !== null && off !== null)
      add(
        `torque ${readingOf(k)!.part ?? ''}`.trim(),
        [k],
        'watch',
        `Tightened to ${round(nm, 1)} N·m; the model says ${torqueText(wanted)}.`,
        off === 'over' ? 'Aluminium threads strip.' : 'It may work loose.',
        'Set it to the model’s figure.',
      );
  }
}
