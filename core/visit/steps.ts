import { READINGS } from '../findings/index.ts';
import {
  ACCESS_MINUTES,
  accessOf,
  handsOnMinutes,
  RUN_MINUTES,
  TASKS,
  type AccessKind,
  type TaskKind,
} from '../service/index.ts';
import type { ModelTraits } from '../fleet/index.ts';
import { fillIn, type StepFigures } from './figures.ts';
import { VISIT_SETUP_MINUTES, type VisitTask } from './minutes.ts';
import { OIL_LOOK, SHIPPED, SHIPPED_ACCESS, shippedOf } from './shipped/index.ts';
import type { Fact, StateOfStep } from './state/facts.ts';
import { safeOrder, type Clash } from './state/safe-order.ts';
import { CAN_LEAK, closeAfterAll, isClosing, plain } from './closing.ts';
import type { Step } from './step.ts';
import { holds } from './switches.ts';
import { sizedTool } from './tools.ts';
import {
  ACCESS_TEMPLATES,
  isAccessTemplate,
  workFacts,
  type TemplateKey,
  type TemplateLine,
  type Templates,
  type WorkFacts,
} from './template.ts';

/** Of the set-up, what goes before the work; the rest tidies up after it. */
const ARRIVING = 6;
const RAGS = 3;
const WASTE = 3;
const LEAVING = VISIT_SETUP_MINUTES - ARRIVING - RAGS - WASTE;
/** Of the run's minutes, the look for leaks afterwards. */
const LEAK_LOOK = 1.5;

/** Treated fuel is carried through by the run; old fuel is out, drips and shift are looked at before there is one. */
const BEFORE_RUN = [
  'stabiliser/first',
  'second-dose/fill',
  'tank-check/clean',
  'spring-run/level',
  'spring-run/fuel',
  'spring-run/shift',
];

/** The cover goes on when hands have nothing more to do under it, at any engine. */
function coverLast(own: readonly Step[]): void {
  const others = own.filter((s) => s.task !== 'hull');
  const followed = new Set(others.flatMap((s) => s.after.map(plain)));
  for (const s of own)
    if (s.id.endsWith(' hull/cover'))
      s.after = [...s.after, ...others.filter((o) => !followed.has(o.id)).map((o) => o.id)];
}

/** Work that leaves something for the waste. */
const LEAVES_WASTE = new Set<TaskKind>([
  'engine-oil',
  'oil-filter',
  'fuel-filter',
  'separator',
  'gear-lube',
  'fuel-repair',
  'tank-check',
  'bowls',
  'gear-inspection',
]);

const PLAIN: WorkFacts = workFacts({ powerHp: 60, stroke: 4, cylinders: 4, traits: { sideCover: false } });
const named = (lines: readonly TemplateLine[]) =>
  lines.flatMap((l) => [l.key, ...(l.once === undefined ? [] : [l.once])]);

/** Names a template's step may come after, besides its own: steps of access, and of other tasks as they are now. */
export function knownSteps(templates: Templates = {}): Set<string> {
  const known = new Set<string>();
  for (const key of ACCESS_TEMPLATES) for (const name of named(templates[key] ?? SHIPPED_ACCESS[key])) known.add(name);
  for (const task of Object.keys(SHIPPED) as TaskKind[])
    for (const l of templates[task] ?? SHIPPED[task]) known.add(`${task}/${l.key}`).add(l.once ?? 'run');
  return known;
}

/**
 * The steps of a visit: access opened and closed once for each engine, the steps of its tasks as its model is
 * built, one run, and the gates. Minutes of hands add up to those of the plan's formula.
 *
 * @param templates the versions the card was issued with; a task left out is as shipped
 * @param clashes hears of what cannot be done in any safe order; the step then keeps the place its template gives it
 * @param order adds what has to come before what, for the engine's sake
 */
export function visitSteps(
  tasks: readonly VisitTask[],
  templates: Templates = {},
  clashes?: (clash: Clash) => void,
  order: typeof safeOrder = safeOrder,
): Step[] {
  if (tasks.length === 0) return [];
  const visit = (key: string, minutes: number, after: string[] = []) => {
    const { text, detail, caution, gate, readings, twoPeople } = visitLine(key, templates);
    return blank({
      id: key,
      text,
      detail: detail ?? null,
      caution: caution ?? null,
      gate: gate ?? null,
      readings: readings ?? [],
      twoPeople: twoPeople === 'always',
      minutes,
      after,
    });
  };
  const engines = [...new Set(tasks.map((t) => t.engineId))];
  const own = order(
    engines.flatMap((engineId) =>
      engineSteps(
        engineId,
        tasks.filter((t) => t.engineId === engineId),
        templates,
      ),
    ),
    openOnArrival(tasks),
    clashes,
  );
  coverLast(own);
  const looks = own.filter((s) => s.id.endsWith(` ${OIL_LOOK.key}`)).reduce((sum, s) => sum + s.minutes, 0);
  const steps: Step[] = [visit('arrive', ARRIVING - looks), ...own];
  const followed = new Set(own.flatMap((s) => s.after.map(plain)));
  const last = own.filter((s) => !followed.has(s.id)).map((s) => s.id);
  steps.push(visit('rags', RAGS, last));
  const waste = tasks.some((t) => LEAVES_WASTE.has(t.task));
  if (waste) steps.push(visit('waste', WASTE, ['rags']));
  steps.push(visit('leave', waste ? LEAVING : LEAVING + WASTE, [waste ? 'waste' : 'rags']));
  return steps;
}

/**
 * What is open when the technician comes: where nothing is known of a four-stroke, nobody knows that there is oil in
 * it.
 */
export function openOnArrival(tasks: readonly VisitTask[]): Map<number, Fact[]> {
  return new Map(tasks.flatMap((t) => (oilUnknown(t.engine?.facts) ? [[t.engineId, ['sump oil' as const]]] : [])));
}

const oilUnknown = (facts: WorkFacts = PLAIN) => facts.switches.unknownHistory === true && facts.switches.stroke === 4;

/** What a line does to its engine: as it comes with the book where it came with it, whatever its words are now. */
function stateOfLine(line: TemplateLine, of: TemplateKey): StateOfStep {
  const { opens, closes, needs, turns } =
    of === 'visit' && line.key === OIL_LOOK.key ? OIL_LOOK : (shippedOf(of).find((l) => l.key === line.key) ?? line);
  return { opens: opens ?? [], closes: closes ?? [], needs: needs ?? [], turns: turns ?? null };
}

/** Of a step's minutes, those the engine runs: its run after the work, and the warm-up. */
const runningOf = (key: string, { turns }: StateOfStep, task: TaskKind | null, minutes: number): number =>
  Math.min(minutes, task === null ? (key === 'run' ? RUN_MINUTES : 0) : turns === 'early' ? TASKS[task].running : 0);

/** A step every visit has, in the yard's words. */
const visitLine = (key: string, templates: Templates): TemplateLine =>
  (templates.visit ?? SHIPPED_ACCESS.visit).find((l) => l.key === key) ??
  SHIPPED_ACCESS.visit.find((l) => l.key === key)!;

/** What a step is done with; a torque wants its wrench. */
function toolsOfLine(l: TemplateLine, traits: ModelTraits): Pick<Step, 'tools' | 'toolMm'> {
  return {
    tools: [
      ...(l.size === undefined ? [] : [sizedTool(l.size, traits)]),
      ...(l.torque === undefined || traits[l.torque] === null ? [] : ['torque wrench']),
      // A comma too many in the editor is no tool.
      ...(l.tools ?? []).filter((t) => t.trim() !== ''),
    ],
    toolMm: l.size === undefined ? null : traits[l.size],
  };
}

function blank(step: Partial<Step> & Pick<Step, 'id' | 'text' | 'minutes'>): Step {
  return {
    engineId: null,
    task: null,
    detail: null,
    running: 0,
    wait: 0,
    after: [],
    stance: null,
    warm: false,
    twoPeople: false,
    gate: null,
    caution: null,
    torque: null,
    tools: [],
    toolMm: null,
    readings: [],
    parts: false,
    opens: [],
    closes: [],
    needs: [],
    turns: null,
    ...step,
  };
}

function engineSteps(engineId: number, tasks: readonly VisitTask[], templates: Templates): Step[] {
  const facts = tasks[0]!.engine?.facts ?? PLAIN;
  const figures: StepFigures = {
    traits: facts.traits,
    sump: tasks[0]!.engine?.sump ?? null,
    gearCase: tasks[0]!.engine?.gearCase ?? null,
  };
  const kinds = new Set(tasks.map((t) => t.task));
  const access = new Set(tasks.flatMap((t) => [...accessOf(t.task, facts.traits)]));
  const switches = { ...facts.switches, unitOff: access.has('lower unit') };
  const inForce = (lines: readonly TemplateLine[]) =>
    lines.filter((l) => holds(l.when, switches) && !l.unless?.some((t) => kinds.has(t)));
  const name = (key: string) => `${engineId} ${key}`;
  /** Steps by the names others know them by, and which step stands for each. */
  const standsFor = new Map<string, string>();
  const raw: {
    line: TemplateLine;
    id: string;
    task: TaskKind | null;
    state: StateOfStep;
    minutes: number;
    wait: number;
    after: string[];
  }[] = [];

  const add = (line: TemplateLine, of: TemplateKey, minutes: number, wait: number) => {
    const task = isAccessTemplate(of) ? null : of;
    const key = task === null ? line.key : `${task}/${line.key}`;
    const known = line.once === undefined ? undefined : raw.find((r) => r.line.once === line.once);
    if (known) {
      standsFor.set(key, known.id);
      known.after.push(...(line.after ?? []).map((a) => qualified(a, task)));
      return;
    }
    const id = name(line.once ?? key);
    standsFor.set(key, id);
    if (line.once !== undefined) standsFor.set(line.once, id);
    const after = (line.after ?? []).map((a) => qualified(a, task));
    raw.push({ line, id, task, state: stateOfLine(line, of), minutes, wait, after });
  };
  const ownKeys = (task: TaskKind | null) =>
    task === null ? [] : (templates[task] ?? SHIPPED[task]).map((l) => l.key);
  const qualified = (id: string, task: TaskKind | null) =>
    task !== null && ownKeys(task).includes(plain(id)) ? `${task}/${id}` : id;

  const opening = (kind: Exclude<AccessKind, 'run'>) => {
    const lines = inForce(templates[kind] ?? SHIPPED_ACCESS[kind]);
    return { open: lines.filter((l) => !l.closing), close: lines.filter((l) => l.closing) };
  };
  for (const kind of access) {
    if (kind === 'run') continue;
    const { open, close } = opening(kind);
    const shares = [...open, ...close].reduce((sum, l) => sum + l.share, 0);
    for (const l of [...open, ...close]) add(l, kind, (ACCESS_MINUTES[kind] * l.share) / shares, 0);
  }
  const leaks = tasks.some((t) => CAN_LEAK.has(t.task));
  for (const { task, cylinders, hands, wait } of tasks) {
    const lines = inForce(templates[task] ?? SHIPPED[task]);
    // What another task does for it anyway takes no minutes of its own: the task's minutes are spread over the rest.
    const fresh = lines.filter((l) => l.once === undefined || !raw.some((r) => r.line.once === l.once));
    const shares = fresh.reduce((sum, l) => sum + l.share, 0);
    for (const l of lines)
      add(
        l,
        task,
        ((hands ?? handsOnMinutes(task, cylinders)) * l.share) / shares,
        l.wait === 'task' ? (wait ?? TASKS[task].wait) : (l.wait ?? 0),
      );
  }
  if (access.has('run')) {
    const line = visitLine('run', templates);
    // What the yard added to closing the lower unit is over before it runs, as its own steps are.
    const closing = access.has('lower unit') ? opening('lower unit').close.map((l) => l.key) : [];
    add(
      { ...line, stance: 'level', after: [...(line.after ?? []), ...BEFORE_RUN, ...closing] },
      'visit',
      ACCESS_MINUTES.run - (leaks ? LEAK_LOOK : 0),
      0.5,
    );
  }
  if (leaks) {
    // Without a run the look is part of closing up.
    const closing = access.has('run')
      ? null
      : (raw.find((r) => r.id === name('cowl on')) ?? raw.find((r) => r.id === name('leg back')) ?? null);
    if (closing) closing.minutes -= LEAK_LOOK;
    add(
      { ...visitLine('leaks', templates), after: access.has('run') ? ['run'] : [] },
      'visit',
      access.has('run') || closing ? LEAK_LOOK : 0,
      0,
    );
  }

  const read = kinds.has('engine-oil') || kinds.has('spring-run');
  if (oilUnknown(facts) && !read && raw.some((r) => r.state.turns !== null))
    add({ ...OIL_LOOK, after: [access.has('cowl') ? 'cowl off' : 'arrive'] }, 'visit', OIL_LOOK.share, 0);

  const steps = raw.map(({ line: l, id, task, state, minutes, wait, after }): Step => {
    const resolved = [
      ...new Set(
        after.flatMap((a) => {
          if (plain(a) === 'arrive') return ['arrive'];
          const found = standsFor.get(plain(a));
          return found === undefined || found === id ? [] : [a.endsWith(' started') ? `${found} started` : found];
        }),
      ),
    ];
    const opened =
      task === null
        ? []
        : accessOf(task, facts.traits).flatMap((k) =>
            k === 'run'
              ? []
              : opening(k)
                  .open.map((o) => name(o.once ?? o.key))
                  .slice(-1),
          );
    return blank({
      id,
      engineId,
      task,
      text: fillIn(l.text, figures),
      detail: l.detail === undefined ? null : fillIn(l.detail, figures),
      minutes,
      running: runningOf(l.key, state, task, minutes),
      wait,
      after: resolved.length > 0 ? resolved : opened.length > 0 ? opened : isClosing(id, name) ? [] : ['arrive'],
      stance: l.stance ?? null,
      warm: l.warm ?? false,
      twoPeople: l.twoPeople === 'always' || (l.twoPeople === 'heavy unit' && facts.traits.twoPersonUnit),
      gate: l.gate ?? null,
      caution: l.caution ?? null,
      torque: l.torque ?? null,
      ...toolsOfLine(l, facts.traits),
      readings: (l.readings ?? []).filter(
        (r) =>
          (r !== 'torque' || l.torque !== undefined) &&
          (READINGS[r].stroke ?? facts.switches.stroke) === facts.switches.stroke,
      ),
      parts: l.parts ?? false,
      ...state,
    });
  });
  closeAfterAll(steps, name, leaks);
  return steps;
}
