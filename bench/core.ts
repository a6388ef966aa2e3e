import { differenceInCalendarDays, addMonths, parseISO } from 'date-fns';
import { dayNumber } from '@diurna/core/calendar';
import { dueOn, TASK_KINDS, type ServiceRule } from '@diurna/core/service';
import { seeded } from '@diurna/demo/random';
import { median, row } from './report.ts';

/** All due states of 2,000 engines x 10 tasks, against the same limits worked out with a general date library. */
export function benchCore(): void {
  const random = seeded(7);
  const today = '2026-06-15';
  const todayNo = dayNumber(today);
  const rules: ServiceRule[] = Array.from({ length: 10 }, (_, i) => ({
    task: TASK_KINDS[i % TASK_KINDS.length]!,
    everyHours: 50 + 25 * i,
    everyMonths: 6 + 3 * i,
  }));
  const engines = Array.from({ length: 2000 }, () => ({
    use: { lifeHours: random.whole(0, 2000), lastReadDay: today, ahead: null },
    last: rules.map(() => ({
      day: `202${random.whole(4, 5)}-${String(random.whole(1, 12)).padStart(2, '0')}-${String(random.whole(1, 28)).padStart(2, '0')}`,
      hours: random.whole(0, 2000),
      from: 'service' as const,
    })),
  }));
  const ours = () => {
    let over = 0;
    for (const e of engines)
      rules.forEach((rule, i) => {
        if (dueOn(rule, e.last[i]!, e.use, todayNo).state === 'over') over++;
      });
    return over;
  };
  const reference = () => {
    let over = 0;
    const now = parseISO(today);
    for (const e of engines) {
      rules.forEach((rule, i) => {
        const last = e.last[i]!;
        if (
          last.hours + rule.everyHours! - e.use.lifeHours < 0 ||
          differenceInCalendarDays(addMonths(parseISO(last.day), rule.everyMonths!), now) < 0
        )
          over++;
      });
    }
    return over;
  };
  if (ours() !== reference()) throw new Error('the core and date-fns do not agree on what is over');
  const time = (work: () => unknown) =>
    median(
      Array.from({ length: 15 }, () => {
        const t = performance.now();
        work();
        return performance.now() - t;
      }),
    );
  const mine = time(ours);
  const theirs = time(reference);
  row(
    'due states of 2,000 engines x 10 tasks',
    `${mine.toFixed(1)} ms`,
    'under 50 ms',
    mine < 50,
    `${(mine / theirs).toFixed(2)} x the two limits alone by date-fns (${theirs.toFixed(1)} ms)`,
  );
}
