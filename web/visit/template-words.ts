import { READINGS } from '@diurna/core/findings';
import { ACCESS_MINUTES, TASKS, type TaskKind } from '@diurna/core/service';
import type { Torque } from '@diurna/core/fleet';
import { conditionWords, isAccessTemplate, type TemplateKey, type TemplateLine } from '@diurna/core/visit';

/** What the minutes of a template are. */
export function aboutMinutes(key: TemplateKey): string {
  if (key === 'visit')
    return 'Every visit begins and ends with these. Their minutes are fixed, and no step can be added or taken out: words, cautions and the second person are the yard’s.';
  if (isAccessTemplate(key))
    return `About ${ACCESS_MINUTES[key]} min to open and close, shared out over the steps in force; done once for an engine, however many tasks need it. Other steps hang on these: change their words, or add steps.`;
  const { handsOn, perCylinder, wait } = TASKS[key];
  return `About ${handsOn} min${perCylinder ? ' a cylinder' : ''} of hands, shared out over the steps in force${wait > 0 ? `; then ${wait} min by itself` : ''}.`;
}

/** Minutes of hands a template stands for; null where its steps have minutes of their own. */
export const handsOf = (key: TemplateKey): number | null =>
  key === 'visit' ? null : isAccessTemplate(key) ? ACCESS_MINUTES[key] : TASKS[key].handsOn;

/** The step another comes after, as a person knows it: its number here, or its task. */
export function afterWord(id: string, lines: readonly TemplateLine[]): string {
  const started = id.endsWith(' started') ? ' has begun' : '';
  const name = id.replace(/ started$/, '');
  const own = lines.findIndex((l) => l.key === name || l.once === name);
  if (own >= 0) return `step ${own + 1}${started}`;
  const [task, key] = name.split('/');
  return key === undefined ? `“${name}”${started}` : `${TASKS[task as TaskKind].word.toLowerCase()} “${key}”${started}`;
}

/** What is said of a step in small: its minutes, how the engine stands, what it asks, where it is done. */
export function notesOf(
  l: TemplateLine,
  lines: readonly TemplateLine[],
  shares: number,
  hands: number | null,
): string[] {
  const wait = l.wait === 'task' ? 'then by itself, as the task' : l.wait ? `then ${l.wait} min by itself` : null;
  const when = conditionWords(l.when);
  return [
    hands === null ? null : `${Math.round((10 * hands * l.share) / shares) / 10} min`,
    l.closing && 'closing up',
    wait,
    l.stance && (l.stance === 'level' ? 'engine level' : 'engine tilted'),
    l.warm && 'while warm',
    l.twoPeople && (l.twoPeople === 'always' ? 'two people' : 'two people on a heavy unit'),
    l.gate && `gate: ${l.gate}`,
    l.readings && l.readings.length > 0
      ? `asks: ${l.readings.map((r) => READINGS[r].word.toLowerCase()).join(', ')}`
      : null,
    ...(l.opens ?? []).map((f) => `opens ${f}`),
    ...(l.closes ?? []).map((f) => `closes ${f}`),
    l.turns && (l.turns === 'crank' ? 'cranks the engine' : 'runs the engine'),
    l.parts && 'shows the parts',
    when.length > 0 ? `only where: ${when.join(', ')}` : null,
    l.unless && l.unless.length > 0
      ? `not beside ${l.unless.map((u) => TASKS[u].word.toLowerCase()).join(', ')}`
      : null,
    l.once ? `once for the engine, as “${l.once}”` : null,
    l.after && l.after.length > 0 ? `after ${l.after.map((a) => afterWord(a, lines)).join(', ')}` : null,
  ].filter((x): x is string => typeof x === 'string' && x !== '');
}

export const TORQUE_WORD: Record<Torque, string> = {
  drainScrewNm: 'drain screw',
  filterNm: 'oil filter',
  plugNm: 'plugs',
  gearScrewNm: 'gear-case screws',
  propNutNm: 'propeller nut',
};
