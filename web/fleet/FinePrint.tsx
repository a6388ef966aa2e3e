import { EARLY_PERCENT, SAND_PERCENT, TASKS, type TaskKind } from '@diurna/core/service';
import type { modelEdit } from '@diurna/contract/fleet';
import type { z } from 'zod';
import { Box } from '../ui/Box.tsx';

/** A rule as it is edited. */
export type Rule = z.input<typeof modelEdit>['rules'][number];

/** What of the rule's fine print is not as usual, in a few words. */
export function finePrintOf({ earlyPercent, latePercent, sandPercent, saltPercent }: Rule): string {
  return [
    earlyPercent != null && `rung from ${earlyPercent} % early`,
    latePercent != null && latePercent > 0 && `${latePercent} % late`,
    sandPercent != null && `sand ${sandPercent} %`,
    saltPercent != null && saltPercent < 100 && `salt ${saltPercent} %`,
  ]
    .filter(Boolean)
    .join(', ');
}

/** Tolerances of one rule, and what sand and salt make of it. */
export function FinePrint({
  task,
  rule,
  onChange,
}: {
  task: TaskKind;
  rule: Rule;
  onChange: (part: Partial<Rule>) => void;
}) {
  const row = (
    key: 'earlyPercent' | 'latePercent' | 'sandPercent' | 'saltPercent',
    usual: number,
    words: [string, string],
  ) => (
    <label className="fine-print">
      <span>{words[0]}</span>
      <Limit
        whole
        label={`${TASKS[task].word}: ${words[0]}`}
        value={rule[key] ?? null}
        placeholder={String(usual)}
        onChange={(value) => {
          onChange({ [key]: value });
        }}
      />
      <span className="faint">{words[1]}</span>
    </label>
  );
  return (
    <div>
      {row('earlyPercent', EARLY_PERCENT, [
        'Early',
        '% of the interval: so early a job still serves the rung ahead, when counted on a ladder',
      ])}
      {row('latePercent', 0, ['Late', '% of the interval: so far past the limit it is due, not over'])}
      {row('sandPercent', SAND_PERCENT[task] ?? 100, ['In sand and shallows', '% of its hours'])}
      {row('saltPercent', 100, ['In salt water', '% of its months'])}
    </div>
  );
}

/** A limit in hours or months; empty = it does not count. */
export function Limit({
  label,
  value,
  onChange,
  whole = false,
  placeholder,
}: {
  label: string;
  value: number | null;
  onChange: (value: number | null) => void;
  whole?: boolean;
  placeholder?: string;
}) {
  return (
    <Box
      figure
      short
      inputMode={whole ? 'numeric' : 'decimal'}
      aria-label={label}
      value={value ?? ''}
      placeholder={placeholder}
      onChange={(e) => {
        const text = e.target.value.replace(whole ? /\D/g : /[^\d.]/g, '');
        onChange(text === '' ? null : Number(text));
      }}
    />
  );
}
