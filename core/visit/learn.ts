import type { TaskKind } from '../service/index.ts';

/** Times one person did one task on one model, taken together. */
export interface TimesTaken {
  task: TaskKind;
  modelId: number;
  personId: number;
  /** It was the person's first time of that task on that model. */
  first: boolean;
  n: number;
  /** Sum of ln(minutes / estimate) over them. */
  sumLog: number;
}

/** How far one time strays from the next of the same person, task and model, in ln. Common practice, no source. */
export const SIGMA = 0.35;
/** How far tasks on models stray from their estimate, and people from each other, in ln. Common practice, no source. */
export const TAU_WORK = 0.35;
export const TAU_PERSON = 0.25;
/**
 * The first time takes three times as long, give or take; "a day against two hours" lies within. Common practice, no
 * source.
 */
export const FIRST_LOG = Math.log(3);
export const TAU_FIRST = 0.4;

/** How often a screw of this task was found seized on this model, of all cards with it. */
export interface SeizedTimes {
  task: TaskKind;
  modelId: number;
  cards: number;
  seized: number;
}

/** What a seized screw takes: heat, penetrating oil, a knock, a new screw. Common practice, no source. */
export const SEIZED_MINUTES = 30;
/** A model is taken for clean until its cards say otherwise: so many sound ones are taken to have been before. */
const SOUND_BEFORE = 5;

/** Minutes allowed for a screw that may be seized: what one takes, as often as it happens on this model. */
export const seizedAllowance = ({ cards, seized }: Pick<SeizedTimes, 'cards' | 'seized'>): number =>
  seized === 0 ? 0 : Math.round((SEIZED_MINUTES * seized * 10) / (cards + SOUND_BEFORE)) / 10;

/** Drains one task took on one model, taken together. */
export interface DrainsTaken {
  task: TaskKind;
  modelId: number;
  n: number;
  /** Sum of ln(minutes / estimate) over them. */
  sumLog: number;
}

/** What a drain takes on a model, and from how many it is known. */
export interface LearnedDrain {
  minutes: number;
  times: number;
}

export interface LearnedMinutes {
  minutes: number;
  estimate: number;
  /** What it rests on: how many times of this task on this model, and of this person, were measured. */
  timesOfWork: number;
  timesOfPerson: number;
  /** Times the estimate: of the work, of the person, of a first time (1 = not a first time). */
  work: number;
  person: number;
  first: number;
  /** Of the minutes, allowed for a seized screw, and on how many cards of how many one was. */
  seized: { minutes: number; times: number; cards: number };
}

export interface Learned {
  /**
   * @param first it is the person's first time of this task on this model
   * @param personId null = anybody
   */
  minutesFor(
    task: TaskKind,
    modelId: number,
    personId: number | null,
    estimate: number,
    first?: boolean,
  ): LearnedMinutes;
  /** Unattended minutes of a task on a model, beside its estimate. */
  drainFor(task: TaskKind, modelId: number, estimate: number): LearnedDrain;
  /** Times the estimate this person takes, and from how many times; 1 and 0 where nothing is known. */
  paceOf(personId: number): { pace: number; times: number };
}

const workKey = (task: TaskKind, modelId: number) => `${task} ${modelId}`;

/**
 * Learns minutes from times measured: ln(minutes / estimate) = work + person + (first time) + chance, each with a
 * normal spread of its own around the estimate, so that a few times move little and many move much. Best linear
 * unbiased prediction of random effects (Henderson's mixed model equations, 1950, from memory), solved by
 * going round until nothing moves. Times with a seized screw are not among them: what those cost on average is allowed
 * for apart, by model. Drains hang on the model alone.
 */
export function learnMinutes(
  times: readonly TimesTaken[],
  screws: readonly SeizedTimes[] = [],
  drains: readonly DrainsTaken[] = [],
): Learned {
  const drainsOf = new Map(drains.map((d) => [workKey(d.task, d.modelId), d]));
  const screwsOf = new Map(screws.map((s) => [workKey(s.task, s.modelId), s]));
  const work = new Map<string, number>();
  const person = new Map<number, number>();
  const n = { work: new Map<string, number>(), person: new Map<number, number>() };
  const byWork = new Map<string, TimesTaken[]>();
  const byPerson = new Map<number, TimesTaken[]>();
  const push = <K>(map: Map<K, TimesTaken[]>, key: K, t: TimesTaken) => {
    const list = map.get(key);
    if (list) list.push(t);
    else map.set(key, [t]);
  };
  let firstTimes = 0;
  for (const t of times) {
    const key = workKey(t.task, t.modelId);
    push(byWork, key, t);
    push(byPerson, t.personId, t);
    n.work.set(key, (n.work.get(key) ?? 0) + t.n);
    n.person.set(t.personId, (n.person.get(t.personId) ?? 0) + t.n);
    if (t.first) firstTimes += t.n;
  }
  let first = FIRST_LOG;
  const effect = (t: TimesTaken, without: 'work' | 'person' | 'first') =>
    (without === 'work' ? 0 : (work.get(workKey(t.task, t.modelId)) ?? 0)) +
    (without === 'person' ? 0 : (person.get(t.personId) ?? 0)) +
    (without === 'first' || !t.first ? 0 : first);
  const rest = (list: readonly TimesTaken[], without: 'work' | 'person' | 'first') =>
    list.reduce((sum, t) => sum + t.sumLog - t.n * effect(t, without), 0);
  const firsts = times.filter((t) => t.first);
  for (let round = 0; round < 500; round++) {
    let moved = 0;
    const set = (old: number, fresh: number) => {
      moved = Math.max(moved, Math.abs(old - fresh));
      return fresh;
    };
    for (const [key, list] of byWork)
      work.set(key, set(work.get(key) ?? 0, rest(list, 'work') / (n.work.get(key)! + SIGMA ** 2 / TAU_WORK ** 2)));
    for (const [key, list] of byPerson)
      person.set(
        key,
        set(person.get(key) ?? 0, rest(list, 'person') / (n.person.get(key)! + SIGMA ** 2 / TAU_PERSON ** 2)),
      );
    const pull = SIGMA ** 2 / TAU_FIRST ** 2;
    first = set(first, (rest(firsts, 'first') + pull * FIRST_LOG) / (firstTimes + pull));
    if (moved < 1e-10) break;
  }
  return {
    minutesFor(task, modelId, personId, estimate, isFirst = false) {
      const factors = {
        work: Math.exp(work.get(workKey(task, modelId)) ?? 0),
        person: personId === null ? 1 : Math.exp(person.get(personId) ?? 0),
        first: isFirst ? Math.exp(first) : 1,
      };
      const { cards, seized } = screwsOf.get(workKey(task, modelId)) ?? { cards: 0, seized: 0 };
      const allowed = seizedAllowance({ cards, seized });
      return {
        ...factors,
        estimate,
        seized: { minutes: allowed, times: seized, cards },
        minutes: Math.round((estimate * factors.work * factors.person * factors.first + allowed) * 10) / 10,
        timesOfWork: n.work.get(workKey(task, modelId)) ?? 0,
        timesOfPerson: personId === null ? 0 : (n.person.get(personId) ?? 0),
      };
    },
    drainFor(task, modelId, estimate) {
      const { n: known, sumLog } = drainsOf.get(workKey(task, modelId)) ?? { n: 0, sumLog: 0 };
      const moved = sumLog / (known + SIGMA ** 2 / TAU_WORK ** 2);
      return { minutes: Math.round(estimate * Math.exp(moved) * 10) / 10, times: known };
    },
    paceOf: (personId) => ({ pace: Math.exp(person.get(personId) ?? 0), times: n.person.get(personId) ?? 0 }),
  };
}

/** What the minutes rest on, in words. */
export function minutesBasis({
  estimate,
  timesOfWork,
  timesOfPerson,
  work,
  person,
  first,
  seized,
}: LearnedMinutes): string {
  const parts = [`estimate ${Math.round(estimate)} min`];
  if (timesOfWork > 0)
    parts.push(`measured ${timesOfWork} ${timesOfWork === 1 ? 'time' : 'times'} on this model: ${timesText(work)}`);
  if (timesOfPerson > 0) parts.push(`${timesOfPerson} of this technician: ${timesText(person)}`);
  if (first > 1) parts.push(`first time on this model: ${Math.round(first * 10) / 10} times as long`);
  if (seized.minutes > 0)
    parts.push(
      `a screw was seized on ${seized.times} of ${seized.cards} cards of this model: ${Math.round(seized.minutes)} min allowed`,
    );
  return parts.join('; ');
}

function timesText(factor: number): string {
  const change = Math.round((factor - 1) * 100);
  return change === 0 ? 'as estimated' : `${Math.abs(change)} % ${change > 0 ? 'longer' : 'shorter'}`;
}
