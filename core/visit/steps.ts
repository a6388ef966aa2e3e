import { ACCESS_MINUTES, handsOnMinutes, TASKS, type AccessKind, type TaskKind } from '../service/index.ts';
import { VISIT_SETUP_MINUTES, type VisitTask } from './minutes.ts';

/** How an engine has to stand for a step; changing it is a step of its own. */
export type Stance = 'any' | 'down' | 'tilted';

/** One thing a technician does, in the words of the yard. */
export interface Step {
  id: string;
  /** Null = of the whole visit. */
  engineId: number | null;
  task: TaskKind | null;
  text: string;
  /** Minutes of hands. */
  minutes: number;
  /** Minutes that then pass by themselves: draining, settling. */
  wait: number;
  /** Steps that have to be over before, their waiting too. */
  after: string[];
  /** Takes a second pair of hands. */
  twoPeople: boolean;
  /** Confirmed by a person, one by one, before the boat goes back on hire. */
  gate: boolean;
  /** Shown at the step, where the work can hurt someone or the engine. */
  caution: string | null;
}

/** A step of a task before it stands on a card. `share` = of the task's hands-on minutes; `after` within the task and by name in others. */
interface Line {
  key: string;
  text: string;
  share: number;
  wait?: number | 'drain';
  after?: string[];
  stance?: 'down' | 'tilted';
  twoPeople?: boolean;
  gate?: boolean;
  caution?: string;
}

/**
 * The steps of each task in working order of their own; names of other tasks' steps as `task/step`, kept only
 * where that task is on the card. Common practice, no source.
 */
const LINES: Record<TaskKind, Line[]> = {
  'engine-oil': [
    { key: 'vent', text: 'Open the fill cap and lift the dipstick, so that the sump can breathe', share: 2, after: ['cowl off'], stance: 'down' },
    { key: 'drain', text: 'Open the drain into the pan', share: 4, wait: 'drain', after: ['vent'], stance: 'tilted', caution: 'Hot oil: gloves. Keep the pan under until the last drop.' },
    { key: 'plug', text: 'Drain screw back by hand with a new washer, then to its torque', share: 3, after: ['drain'], caution: 'Start the thread by hand; do not over-tighten into aluminium.' },
    { key: 'fill', text: 'Fill most of the volume', share: 6, after: ['plug', 'oil-filter/on'], stance: 'down' },
    { key: 'read', text: 'Read the level and top up in small steps', share: 2, after: ['fill'], stance: 'down' },
    { key: 'run', text: 'Run on cooling water for five minutes; look at filter and drain screw', share: 5, wait: 0.5, after: ['read', 'spark-plugs/in', 'gear-lube/close', 'lower unit on'], stance: 'down', caution: 'Never without cooling water, outdoors only, nobody near the propeller.' },
    { key: 'level', text: 'Read the level again: the new filter takes oil', share: 3, after: ['run'], stance: 'down', gate: true },
  ],
  'oil-filter': [
    { key: 'off', text: 'Old filter off, seat wiped, old gasket off with it', share: 4, after: ['cowl off', 'engine-oil/drain started'] },
    { key: 'on', text: 'Gasket oiled, new filter on by hand, then as the model says; date on it', share: 6, after: ['off'], caution: 'Start the thread by hand.' },
  ],
  'gear-lube': [
    // Off the boat it drains on its stand, while the pump is worked on.
    { key: 'drain', text: 'Loosen both screws, bottom out, then the vent', share: 5, wait: 'drain', stance: 'down', after: ['lower unit off'], caution: 'Lanyard off and battery isolated before hands go near the propeller.' },
    { key: 'look', text: 'Look at the lube and the magnet; count the old gaskets out', share: 2, after: ['drain'] },
    { key: 'fill', text: 'Pump from the bottom until lube shows at the vent', share: 7, wait: 1.5, after: ['look'], stance: 'down' },
    { key: 'close', text: 'Pump again, vent screw first, then the bottom, new gaskets', share: 5, after: ['fill'], caution: 'Air left at the top bearing burns it.' },
    { key: 'wipe', text: 'Wipe the leg', share: 1, after: ['close'] },
  ],
  'spark-plugs': [
    { key: 'out', text: 'Plugs out, one by one, and look at each', share: 3, after: ['cowl off'], caution: 'Lanyard off: no spark while plugs are out.' },
    { key: 'in', text: 'Gap checked, new plugs in by hand, then to their torque; leads on', share: 2, after: ['out'], caution: 'Start threads by hand; do not over-tighten into aluminium.' },
  ],
  impeller: [
    { key: 'housing off', text: 'Pump housing off; look at liner and plate for grooves', share: 12, after: ['lower unit off'] },
    { key: 'vanes', text: 'Old impeller out; look for missing rubber', share: 6, after: ['housing off'] },
    { key: 'bed', text: 'Bottom gasket, plate, top gasket, key', share: 10, after: ['vanes'] },
    { key: 'wheel', text: 'Impeller on the shaft, housing turned down over it clockwise', share: 14, after: ['bed'] },
    { key: 'bolts', text: 'Bolts crosswise', share: 8, after: ['wheel'] },
  ],
};

/** What opens and what closes an access, with their shares of its minutes. */
const OPENING: Record<AccessKind, { open: string; close: string; share: number }> = {
  cowl: { open: 'cowl off', close: 'cowl on', share: 0.5 },
  tilt: { open: 'tilt', close: 'trim down', share: 0.5 },
  'lower unit': { open: 'lower unit off', close: 'lower unit on', share: 0.45 },
};

/**
 * The steps of a visit: access opened and closed once for each engine, the steps of its tasks, the run and the
 * gates, and arriving and leaving. Minutes of hands add up to those of the plan's formula.
 */
export function visitSteps(tasks: readonly VisitTask[]): Step[] {
  if (tasks.length === 0) return [];
  const steps: Step[] = [];
  const add = (step: Partial<Step> & Pick<Step, 'id' | 'text' | 'minutes'>) => {
    steps.push({ engineId: null, task: null, wait: 0, after: [], twoPeople: false, gate: false, caution: null, ...step });
  };
  add({ id: 'arrive', text: 'Tools and pans laid out; lanyard off, battery isolated', minutes: VISIT_SETUP_MINUTES * 0.5, caution: 'Lanyard off and battery isolated before hands go near propeller or plugs.' });
  const engines = [...new Set(tasks.map((t) => t.engineId))];
  const lastOfAll: string[] = [];
  for (const engineId of engines) {
    const own = tasks.filter((t) => t.engineId === engineId);
    const has = new Set(own.map((t) => t.task));
    const access = new Set(own.flatMap((t) => [...TASKS[t.task].access]));
    const name = (key: string) => `${engineId} ${key}`;
    const drained = name('engine-oil/drain');
    const resolve = (task: TaskKind, key: string): string[] => {
      if (key === 'engine-oil/drain started') return has.has('engine-oil') ? [`${drained} started`] : [];
      if (key === 'cowl off' || key === 'lower unit off' || key === 'lower unit on') return access.has(key === 'cowl off' ? 'cowl' : 'lower unit') ? [name(key)] : [];
      if (key.includes('/')) return has.has(key.split('/')[0] as TaskKind) ? [name(key)] : [];
      return [name(`${task}/${key}`)];
    };
    if (access.has('cowl')) add({ id: name('cowl off'), engineId, text: 'Cowl off', minutes: ACCESS_MINUTES.cowl * OPENING.cowl.share, after: ['arrive'] });
    if (access.has('tilt')) add({ id: name('tilt'), engineId, text: 'Set the leg where drain and fill can be reached', minutes: ACCESS_MINUTES.tilt * OPENING.tilt.share, after: ['arrive'] });
    if (access.has('lower unit')) {
      add({
        id: name('lower unit off'), engineId, text: 'Lower unit off: mark the trim tab, part the speed tube at its joint, one bolt stays in until it is held', minutes: ACCESS_MINUTES['lower unit'] * OPENING['lower unit'].share,
        after: [access.has('tilt') ? name('tilt') : 'arrive'], twoPeople: true, caution: 'A two-person lift. One bolt stays in until it is held; support it before working under it.',
      });
    }
    const last: string[] = [];
    for (const { task, cylinders } of own) {
      const hands = handsOnMinutes(task, cylinders);
      const shares = LINES[task].reduce((sum, l) => sum + l.share, 0);
      for (const l of LINES[task]) {
        const named = (l.after ?? []).flatMap((key) => resolve(task, key));
        add({
          id: name(`${task}/${l.key}`), engineId, task, text: l.text, minutes: (hands * l.share) / shares, wait: l.wait === 'drain' ? TASKS[task].wait : l.wait ?? 0,
          after: named.length > 0 ? named : [TASKS[task].access.includes('tilt') ? name('tilt') : 'arrive'],
          twoPeople: l.twoPeople ?? false, gate: l.gate ?? false, caution: l.caution ?? null,
        });
        last.push(name(`${task}/${l.key}`));
      }
    }
    if (access.has('lower unit')) {
      const inside = [...last.filter((id) => id.includes('impeller/')), ...(has.has('gear-lube') ? [name('gear-lube/drain')] : [])];
      add({
        id: name('lower unit on'), engineId, text: 'Lower unit on: shift shaft, speed tube, water tube and splines meet; shift test: neutral spins, forward, reverse; cooling stream', minutes: ACCESS_MINUTES['lower unit'] * (1 - OPENING['lower unit'].share),
        after: inside.length > 0 ? inside : [name('lower unit off')], twoPeople: true, gate: true, caution: 'A two-person lift. Nobody near the propeller when gears are tried.',
      });
      last.push(name('lower unit on'));
      // Filled when it hangs again, so that the level is right.
      const fill = steps.find((s) => s.id === name('gear-lube/fill'));
      fill?.after.push(name('lower unit on'));
    }
    if (access.has('tilt')) {
      add({ id: name('trim down'), engineId, text: 'Leg back where it was', minutes: ACCESS_MINUTES.tilt * (1 - OPENING.tilt.share), after: last.filter((id) => id.includes('gear-lube/') || id.includes('impeller/') || id.endsWith('lower unit on')) });
      last.push(name('trim down'));
    }
    if (access.has('cowl')) {
      add({ id: name('cowl on'), engineId, text: 'No leaks: look once more, then the cowl on', minutes: ACCESS_MINUTES.cowl * (1 - OPENING.cowl.share), after: [...last], gate: true });
      last.push(name('cowl on'));
    }
    lastOfAll.push(...last);
  }
  add({ id: 'leave', text: 'Rags and pans out, waste to its streams, the card finished', minutes: VISIT_SETUP_MINUTES * 0.5, after: lastOfAll, gate: true, caution: 'Oil, fuel, filters and rags each to their own waste.' });
  return steps;
}
