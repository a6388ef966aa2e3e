import type { OutlookRow } from '@diurna/contract/service';

export type Mark = OutlookRow['tasks'][number];

/** Tasks that fall due so close together that they are drawn, and likely done, as one. */
export interface Bunch {
  /** Middle, and the ends of the spread, in days from the first shown. */
  x: number;
  from: number;
  to: number;
  /** The spread goes on past the last day shown. */
  open: boolean;
  marks: Mark[];
}

interface Scale {
  days: number;
  pixelsPerDay: number;
  /** Where what is over is drawn. */
  today: number;
  /** Width of one glyph. */
  glyph: number;
}

/**
 * Puts the marks of one engine in order and joins those that would cover each other, from left to right.
 * Marks whose likely day lies past the last day shown are left to `tails`.
 *
 * @param handed days on which work is handed out; a bunch that would cover one moves to its right, unless some of it is
 *   over: that stands at today whatever is handed out
 */
export function bunches(marks: readonly Mark[], scale: Scale, handed: readonly number[] = []): Bunch[] {
  const placed = marks
    .filter((m) => m.state === 'over' || (m.likely !== null && m.likely < scale.days))
    .map((m): Bunch => {
      if (m.state === 'over') return { x: scale.today, from: scale.today, to: scale.today, open: false, marks: [m] };
      // Hours may be unread: a day that is past is drawn where we stand. Limits are reached in the course of a day.
      const on = (day: number) => Math.max(scale.today, day + 0.5);
      const late = m.late ?? Infinity;
      return {
        x: on(m.likely!),
        from: on(m.early!),
        to: Math.min(scale.days, on(late)),
        open: late >= scale.days,
        marks: [m],
      };
    })
    .sort((a, b) => a.x - b.x);
  // Moving aside can bring bunches together, and joining can make them wider: a few rounds settle it.
  let found = placed;
  for (let round = 0; round < 4; round++)
    found = joined(
      found.map((bunch) => aside(bunch, scale, handed)),
      scale,
    );
  return found;
}

/** Where it covers neither work handed out nor the edge. */
function aside(bunch: Bunch, scale: Scale, handed: readonly number[]): Bunch {
  const wide = half(bunch, scale);
  let x = Math.max(wide, bunch.x);
  if (isOver(bunch)) return { ...bunch, x };
  for (const day of [...handed].sort((a, b) => a - b)) {
    const apart = wide + HANDED / 2 / scale.pixelsPerDay;
    if (Math.abs(x - day) < apart) x = day + apart;
  }
  return { ...bunch, x: Math.min(x, scale.days - wide) };
}

function joined(all: readonly Bunch[], scale: Scale): Bunch[] {
  const found: Bunch[] = [];
  for (const next of [...all].sort((a, b) => a.x - b.x)) {
    const last = found.at(-1);
    // A hair of slack, or what was moved exactly beside would be joined.
    if (last && half(last, scale) + half(next, scale) > next.x - last.x + 0.01) {
      const n = last.marks.length;
      const m = next.marks.length;
      // What is over keeps its place at today, whatever joins it; else the middle of all.
      if (isOver(next)) last.x = next.x;
      else if (!isOver(last)) last.x = (last.x * n + next.x * m) / (n + m);
      last.from = Math.min(last.from, next.from);
      last.to = Math.max(last.to, next.to);
      last.open ||= next.open;
      last.marks = [...last.marks, ...next.marks];
    } else found.push({ ...next });
  }
  return found;
}

const isOver = (bunch: Bunch) => bunch.marks.some((m) => m.state === 'over');

/** Whether what is over stands where work is handed out that day: the box then goes below it. */
export const covers = (bunch: Bunch, day: number, scale: Scale): boolean =>
  isOver(bunch) && Math.abs(bunch.x - day) < half(bunch, scale) + HANDED / 2 / scale.pixelsPerDay;

/** Width of a mark. */
export const GLYPH = 22;

/** Width of each mark of a line, so that all of them in one bunch stay within it. */
export const glyphFor = (marks: number, width: number): number =>
  width <= 0 ? GLYPH : Math.max(14, Math.min(GLYPH, Math.floor((width - 4) / Math.max(1, marks))));

/** Width of the box that stands for work handed out. */
const HANDED = 20;

const half = (bunch: Bunch, { glyph, pixelsPerDay }: Scale) => (bunch.marks.length * glyph + 4) / 2 / pixelsPerDay;

/** Where spreads begin whose likely day lies past the last day shown. */
export const tails = (marks: readonly Mark[], { days, today }: Scale): number[] =>
  marks
    .filter((m) => m.state !== 'over' && m.early !== null && (m.likely === null || m.likely >= days))
    .map((m) => Math.max(today, m.early! + 0.5));
