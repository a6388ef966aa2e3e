import type { ReadingKind } from '../findings/index.ts';
import { traitsOf, type BuiltEngine, type ModelTraits, type Torque } from '../fleet/index.ts';
import {
  answerTo,
  pumpTurn,
  sealsAgain,
  SCHOOL_KEYS,
  TASK_KINDS,
  TASKS,
  type SchoolChoices,
  type TaskKind,
  type TimesDone,
} from '../service/index.ts';
import type { Fact, Need, Turns } from './state/facts.ts';
import { SWITCHES, type Condition, type Switches } from './switches.ts';
import type { ToolSize } from './tools.ts';

/** How an engine has to stand for a step; changing it is a move of its own. */
export const STANCES = ['level', 'tilted'] as const;
export type Stance = (typeof STANCES)[number];

/** What a person confirms, one by one, before a boat goes back on hire. */
export const GATES = [
  'no leaks',
  'cooling stream',
  'level after the run',
  'shift test',
  'rags and trays out',
  'waste booked',
  'cowl on',
] as const;
export type Gate = (typeof GATES)[number];

/**
 * One step of a task's template. Data, not code: the coordinator edits it, and a card keeps the version it was
 * issued with.
 */
export interface TemplateLine {
  /** Its name within the template; stays when the words change. */
  key: string;
  /**
   * What to do. `{sump}`, `{first}`, `{rest}`, `{case}`, `{gap}`, `{screws}`, `{fitted}`, `{meet}`, `{oil}`, `{lube}`, `{fillAt}`,
   * `{drainAt}`, `{cooling}` and the torques are filled in from the model.
   */
  text: string;
  /** Tools and hints, smaller. */
  detail?: string;
  /** Its share of the task's hands-on minutes, among the lines in force. */
  share: number;
  /** Minutes that pass by themselves afterwards; `task` = the task's own, as the plan counts it. */
  wait?: number | 'task';
  /**
   * Steps that have to be over before, their waiting too: `key` of this template, `task/key` of another, or a step of
   * access or of the engine. Kept only where that step is on the card. `... started` = its hands are done, its waiting
   * need not be.
   */
  after?: string[];
  stance?: Stance;
  /** Done soon after the warm run, before the engine cools. */
  warm?: boolean;
  /** In force only where all of this holds. */
  when?: Condition;
  /** Not in force where one of these tasks stands on the card for the same engine. */
  unless?: TaskKind[];
  /** Done once for the engine however many tasks ask for it, under this name. */
  once?: string;
  /** Takes a second pair of hands: always, or where the lower unit is heavy. */
  twoPeople?: 'always' | 'heavy unit';
  gate?: Gate;
  caution?: string;
  torque?: Torque;
  /** What to take in hand, besides what comes in the model's size. */
  tools?: string[];
  /** The tool whose size is the model's own. */
  size?: ToolSize;
  /** What is seen or measured here. */
  readings?: ReadingKind[];
  /** The parts of the task are shown here. */
  parts?: boolean;
  /** Closes up what was opened; only in the templates of access. */
  closing?: boolean;
  /** What it opens on the engine, and what it closes: open until some step closes it. */
  opens?: Fact[];
  closes?: Fact[];
  /** What has to be whole, or open, while it is done. */
  needs?: Need[];
  /** It runs the engine, or cranks it. */
  turns?: Turns;
}

export type Template = readonly TemplateLine[];

/** Templates besides those of tasks: what opens and closes each access, and what every visit begins and ends with. */
export const ACCESS_TEMPLATES = ['cowl', 'side cover', 'tilt', 'propeller', 'lower unit', 'visit'] as const;
export type AccessTemplate = (typeof ACCESS_TEMPLATES)[number];
export type TemplateKey = TaskKind | AccessTemplate;
export const TEMPLATE_KEYS: readonly TemplateKey[] = [...TASK_KINDS, ...ACCESS_TEMPLATES];
/** Whether a template is of an access, not of a task. */
export const isAccessTemplate = (key: TemplateKey): key is AccessTemplate =>
  (ACCESS_TEMPLATES as readonly string[]).includes(key);

const ACCESS_WORDS: Record<AccessTemplate, string> = {
  cowl: 'Cowl',
  'side cover': 'Side cover',
  tilt: 'Tilt',
  propeller: 'Propeller',
  'lower unit': 'Lower unit',
  visit: 'Every visit',
};
/** What a template is called. */
export const templateWord = (key: TemplateKey): string => (isAccessTemplate(key) ? ACCESS_WORDS[key] : TASKS[key].word);

/** The steps in force; a missing one is taken as shipped. */
export type Templates = Partial<Record<TemplateKey, Template>>;

/** What is known of one engine when its steps are written down. */
export interface WorkFacts {
  traits: ModelTraits;
  /** Everything a condition can ask for, by name. */
  switches: Switches;
}

/**
 * What the steps of an engine hang on: how its model is built, how the yard answers its questions, and whether
 * anything is known of its past.
 *
 * @param unknownHistory nothing was ever written down and it was not bought new: there may be no oil in it
 * @param times how often its work was done, for what is renewed every other time; null = unknown
 */
export function workFacts(
  model: BuiltEngine,
  choices: SchoolChoices = {},
  unknownHistory = false,
  times: TimesDone = null,
): WorkFacts {
  const traits = traitsOf(model);
  const out = answerTo('oil out', choices).key;
  const oilBy = out === 'by model' ? traits.oilBy : (out as ModelTraits['oilBy']);
  const switches: WorkFacts['switches'] = {};
  for (const key of SCHOOL_KEYS) switches[key] = answerTo(key, choices).key;
  // The model's own figure outranks the yard's answer.
  if (traits.filterNm !== null) switches['filter turn'] = 'model';
  switches.pumpTurn = pumpTurn(choices, times);
  switches.washerAgain = sealsAgain('engine-oil', choices, times);
  switches.gasketsAgain = sealsAgain('gear-lube', choices, times);
  // Where nobody counted the screws, the words for two fit: one is the vent.
  switches.gearScrews = 2;
  for (const [key, value] of Object.entries(traits))
    if (value !== null) switches[key] = value as string | number | boolean;
  return {
    traits: { ...traits, oilBy },
    switches: { ...switches, oilBy, stroke: model.stroke, cylinders: model.cylinders, unknownHistory },
  };
}

export interface TemplateFault {
  line: number;
  text: string;
}

const KEY = /^[a-z0-9][a-z0-9 -]{0,39}$/;

/**
 * What is wrong with a template somebody wrote; empty = it can be used.
 *
 * @param shipped the task's template as it comes with the book: its gates and its readings that can hold an engine must
 * stay
 */
export function templateFaults(
  lines: Template,
  shipped: Template,
  known: ReadonlySet<string>,
  of?: TemplateKey,
): TemplateFault[] {
  const faults: TemplateFault[] = of !== undefined && isAccessTemplate(of) ? accessFaults(lines, shipped, of) : [];
  const keys = new Set<string>();
  lines.forEach((l, line) => {
    if (!KEY.test(l.key)) faults.push({ line, text: 'The short name takes small letters, digits, blanks and dashes.' });
    if (keys.has(l.key)) faults.push({ line, text: `Two steps are called "${l.key}". Give one another short name.` });
    keys.add(l.key);
    if (l.text.trim().length < 3) faults.push({ line, text: 'Say what is to be done, in a few words.' });
    if (!(l.share > 0 && l.share <= 480))
      faults.push({ line, text: 'Its minutes have to lie above 0 and not above 480.' });
    for (const [key, wanted] of Object.entries(l.when ?? {})) {
      const on = SWITCHES.find((x) => x.key === key);
      const values = Array.isArray(wanted) ? wanted : [wanted];
      if (!on) faults.push({ line, text: `Nothing is called "${key}" that a step could hang on.` });
      else if (values.length === 0 || values.some((v) => !on.values.some((x) => x.value === v)))
        faults.push({
          line,
          text: `"${on.word}" is never ${values.join(' or ') || 'nothing'}. Choose one of: ${on.values.map((x) => x.word).join(', ')}.`,
        });
    }
    if (typeof l.wait === 'number' && !(l.wait >= 0 && l.wait <= 720))
      faults.push({ line, text: 'What passes by itself has to lie between 0 and 720 minutes.' });
  });
  lines.forEach((l, line) => {
    for (const id of l.after ?? []) {
      const name = id.replace(/ started$/, '');
      if (!keys.has(name) && !known.has(name))
        faults.push({ line, text: `It comes after "${id}", which there is not.` });
      if (name === l.key) faults.push({ line, text: 'It cannot come after itself.' });
    }
  });
  const circle = circleIn(lines);
  if (circle !== null)
    faults.push({
      line: lines.findIndex((l) => l.key === circle),
      text: 'These steps wait for each other in a circle. Take one "comes after" away.',
    });
  for (const s of shipped) {
    if (s.gate && !lines.some((l) => l.gate === s.gate))
      faults.push({
        line: lines.length - 1,
        text: `The gate "${s.gate}" has to stay: a person confirms it before the boat goes back on hire.`,
      });
    for (const reading of s.readings ?? [])
      if (!lines.some((l) => l.readings?.includes(reading)))
        faults.push({ line: lines.length - 1, text: `What is seen at "${s.text}" has to be asked somewhere.` });
  }
  return faults;
}

/**
 * Other steps hang on those that open and close: their words and minutes are the yard's, the steps stay, and further
 * ones hang on them.
 */
function accessFaults(lines: Template, shipped: Template, of: AccessTemplate): TemplateFault[] {
  const faults: TemplateFault[] = [];
  const fixed = ({ key, once, when, after, closing, gate, readings, stance }: TemplateLine) =>
    JSON.stringify([
      key,
      once,
      Object.entries(when ?? {}).sort(([a], [b]) => (a < b ? -1 : 1)),
      [...(after ?? [])].sort(),
      closing ?? false,
      gate,
      [...(readings ?? [])].sort(),
      stance,
    ]);
  for (const s of shipped) {
    const own = lines.findIndex((l) => l.key === s.key);
    if (own < 0)
      faults.push({
        line: lines.length - 1,
        text: `"${s.text}" has to stay: other steps hang on it. Change its words instead.`,
      });
    else if (fixed(lines[own]!) !== fixed(s))
      faults.push({
        line: own,
        text: 'Of this step only the words, the minutes, the caution, the torque and the second person can be changed: other steps hang on it.',
      });
  }
  const names = new Set(shipped.flatMap((s) => [s.key, s.once ?? s.key]));
  lines.forEach((l, line) => {
    if (names.has(l.key)) return;
    if (of === 'visit')
      faults.push({ line, text: 'Every visit has these steps and no others. Put it into a task or an access.' });
    else if (
      !(l.after ?? []).some((a) =>
        lines.some((x) => (x.key === a || x.once === a) && (x.closing ?? false) === (l.closing ?? false)),
      )
    )
      faults.push({ line, text: `Say which step of ${l.closing ? 'closing' : 'opening'} it comes after.` });
  });
  return faults;
}

function circleIn(lines: Template): string | null {
  const after = new Map(lines.map((l) => [l.key, (l.after ?? []).map((id) => id.replace(/ started$/, ''))]));
  const state = new Map<string, 'open' | 'done'>();
  const walk = (key: string): string | null => {
    if (state.get(key) === 'done') return null;
    if (state.get(key) === 'open') return key;
    state.set(key, 'open');
    for (const next of after.get(key) ?? []) {
      const found = after.has(next) ? walk(next) : null;
      if (found !== null) return found;
    }
    state.set(key, 'done');
    return null;
  };
  for (const { key } of lines) {
    const found = walk(key);
    if (found !== null) return found;
  }
  return null;
}
