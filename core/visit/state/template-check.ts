import { TASK_KINDS, taskApplies, type TaskKind } from '../../service/index.ts';
import type { Step } from '../step.ts';
import { visitSteps } from '../steps.ts';
import {
  isAccessTemplate,
  workFacts,
  type Template,
  type TemplateFault,
  type TemplateKey,
  type TemplateLine,
  type Templates,
} from '../template.ts';
import { SWITCHES, type Condition } from '../switches.ts';
import type { VisitTask } from '../minutes.ts';
import { shippedOf } from '../shipped/index.ts';
import { FACTS, type Fact } from './facts.ts';
import { clashText, gapsIn, type Clash } from './safe-order.ts';

/** Builds and answers are gone through one by one up to so many; beyond, each with the rest as usual. */
const MOST_VARIANTS = 48;

/**
 * What a template somebody wrote would do to an engine: something opened that is never closed, or a step that meets the
 * engine as it must not, alone, together with the tasks it names, or with everything there is. Empty = safe.
 *
 * @param templates the others, as they are in force
 */
export function stateFaults(of: TemplateKey, lines: Template, templates: Templates = {}): TemplateFault[] {
  const faults = new Map<string, TemplateFault>();
  const all = { ...templates, [of]: lines };
  const tell = (line: number, text: string) => {
    faults.set(text, { line: Math.max(0, line), text });
  };
  for (const switches of variants([...lines, ...shippedOf(of)])) {
    for (const kinds of sets(of, lines)) {
      const stroke = switches.stroke === 2 ? 2 : 4;
      const tasks = visit(
        kinds.filter((k) => taskApplies(k, stroke)),
        switches,
      );
      if (tasks.length === 0) continue;
      const clashes: Clash[] = [];
      const steps = visitSteps(tasks, all, (c) => clashes.push(c));
      const circle = inCircle(steps);
      if (circle) {
        tell(
          lines.findIndex((l) => idOf(of, l) === circle.id),
          `"${circle.text}" waits for steps that wait for it. Take one of what it comes after away.`,
        );
        continue;
      }
      for (const c of clashes)
        tell(
          lines.findIndex((l) => [c.step.id, c.by?.id].includes(idOf(of, l))),
          clashText(c),
        );
      // As they are written: that the closing comes after the opening is not left to chance.
      const written = visitSteps(tasks, all, undefined, asWritten);
      const before = visitSteps(tasks, { ...templates, [of]: shippedOf(of) }, undefined, asWritten);
      for (const fact of Object.keys(FACTS) as Fact[]) {
        const was = opened(before, fact);
        const is = opened(steps, fact);
        if (was && !is)
          tell(
            lines.length - 1,
            `Some step has to say that it opens this: ${FACTS[fact].open}. As it stands, none does.`,
          );
        if (stays(written, fact) && !stays(before, fact))
          tell(
            lines.findIndex((l) => l.opens?.includes(fact)),
            `It leaves the engine so that ${FACTS[fact].open}. Say which step closes it again, and that it comes after.`,
          );
      }
    }
  }
  return [...faults.values()];
}

const asWritten = (steps: readonly Step[]): Step[] => [...steps];

/** A step that waits for itself by way of others; null = there is none. */
function inCircle(steps: readonly Step[]): Step | null {
  const left = new Map(steps.map((s) => [s.id, s]));
  for (let shrunk = true; shrunk;) {
    shrunk = false;
    for (const s of left.values()) {
      if (s.after.some((id) => left.has(id.replace(/ started$/, '')))) continue;
      left.delete(s.id);
      shrunk = true;
    }
  }
  return [...left.values()][0] ?? null;
}

const opened = (steps: readonly Step[], fact: Fact) => steps.some((s) => s.opens.includes(fact));
/** Whether something is opened that no later step closes. */
const stays = (steps: readonly Step[], fact: Fact) => gapsIn(steps).some((g) => g.fact === fact && g.closer === null);
const idOf = (of: TemplateKey, l: TemplateLine) => `1 ${l.once ?? (isAccessTemplate(of) ? l.key : `${of}/${l.key}`)}`;

/** The tasks a template is tried with: alone, with each it names or that names it, and with everything. */
function sets(of: TemplateKey, lines: Template): TaskKind[][] {
  const all = [...TASK_KINDS];
  if (isAccessTemplate(of)) return [all, ...all.map((t) => [t])];
  const named = new Set<TaskKind>();
  for (const id of lines.flatMap((l) => l.after ?? [])) {
    const task = all.find((t) => id.startsWith(`${t}/`));
    if (task) named.add(task);
  }
  for (const t of all) if (shippedOf(t).some((l) => l.after?.some((id) => id.startsWith(`${of}/`)))) named.add(t);
  for (const l of lines) for (const t of l.unless ?? []) named.add(t);
  named.delete(of);
  // Each is tried with what runs and what cranks, too.
  for (const t of TURNING) if (t !== of) named.add(t);
  return [[of], ...[...named].map((t) => [of, t]), [of, ...named], all];
}

/** Tasks that bring a run of each kind. */
const TURNING: readonly TaskKind[] = ['thermostat', 'engine-oil', 'compression', 'flush'];

type Switches = Record<string, string | number | boolean>;

/** Builds and answers on which a line hangs: every combination, or each value with the rest as usual. */
function variants(lines: readonly TemplateLine[]): Switches[] {
  const keys = [...new Set(['stroke', ...lines.flatMap((l) => Object.keys((l.when ?? {}) satisfies Condition))])];
  const on = keys.flatMap((key) => {
    const found = SWITCHES.find((s) => s.key === key);
    return found && key !== 'unitOff' ? [{ key, values: found.values.map((v) => v.value) }] : [];
  });
  const combinations = on.reduce((n, { values }) => n * values.length, 1);
  if (combinations <= MOST_VARIANTS)
    return on.reduce<Switches[]>(
      (found, { key, values }) => found.flatMap((s) => values.map((v) => ({ ...s, [key]: v }))),
      [{}],
    );
  return on.flatMap(({ key, values }) => values.map((v) => ({ [key]: v })));
}

function visit(kinds: readonly TaskKind[], switches: Switches): VisitTask[] {
  const stroke = switches.stroke === 2 ? 2 : 4;
  const facts = workFacts({ powerHp: 115, stroke, cylinders: 4 });
  const engine = {
    facts: {
      traits: { ...facts.traits, ...pick(switches, Object.keys(facts.traits)) },
      switches: { ...facts.switches, ...switches },
    },
    sump: null,
    gearCase: null,
  };
  return kinds.map((task) => ({ engineId: 1, task, cylinders: 4, engine }));
}

const pick = (of: Switches, keys: readonly string[]): Switches =>
  Object.fromEntries(Object.entries(of).filter(([key]) => keys.includes(key)));
