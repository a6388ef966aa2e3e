import { READING_KINDS, READINGS, type ReadingKind } from '@diurna/core/findings';
import { TASK_KINDS, TASKS, type TaskKind } from '@diurna/core/service';
import {
  GATES,
  isAccessTemplate,
  knownSteps,
  type Gate,
  type Stance,
  type TemplateKey,
  type TemplateLine,
} from '@diurna/core/visit';
import { Choice } from '../ui/parts.tsx';
import { Chips } from './Chips.tsx';
import { afterWord } from './template-words.ts';
import { Where } from './Where.tsx';

/** Changes some of a step; what becomes undefined or empty is taken out. */
export type SetStep = (part: { [K in keyof TemplateLine]?: TemplateLine[K] | undefined }) => void;

/** How the engine stands at the step, what gate it opens, what it asks. */
export function StepAsks({ line: l, set }: { line: TemplateLine; set: SetStep }) {
  return (
    <>
      <Choice<Stance>
        label="The engine stands"
        value={l.stance ?? ''}
        onChange={(stance) => {
          set({ stance: stance || undefined });
        }}
        options={[
          ['', 'as it stands'],
          ['level', 'level'],
          ['tilted', 'tilted'],
        ]}
      />
      <Choice<'warm'>
        label="The engine is"
        value={l.warm ? 'warm' : ''}
        onChange={(v) => {
          set({ warm: v === 'warm' || undefined });
        }}
        options={[
          ['', 'warm or cold'],
          ['warm', 'still warm from its run'],
        ]}
      />
      <Choice<Gate>
        label="Gate"
        value={l.gate ?? ''}
        onChange={(v) => {
          set({ gate: v || undefined });
        }}
        options={[['', 'none'], ...GATES.map((g): [Gate, string] => [g, g])]}
      />
      <Choice<ReadingKind>
        label="Asks for one more reading"
        value=""
        onChange={(v) => {
          if (v) set({ readings: [...(l.readings ?? []), v] });
        }}
        options={[
          ['', 'choose'],
          ...READING_KINDS.filter((r) => r !== 'waste' && !l.readings?.includes(r)).map((r): [ReadingKind, string] => [
            r,
            READINGS[r].word,
          ]),
        ]}
      />
      <Chips
        title="Asks"
        of={l.readings ?? []}
        word={(r) => READINGS[r].word}
        drop={(r) => {
          set({ readings: l.readings!.filter((x) => x !== r) });
        }}
      />
    </>
  );
}

/** When the step comes: after which others, on which engines, beside which tasks not. */
export function StepOrder({
  line: l,
  lines,
  of,
  set,
}: {
  line: TemplateLine;
  lines: readonly TemplateLine[];
  of: TemplateKey;
  set: SetStep;
}) {
  return (
    <>
      <Choice<string>
        label="Comes after one more"
        value=""
        onChange={(v) => {
          if (v) set({ after: [...(l.after ?? []), v] });
        }}
        options={[
          ['', 'choose'],
          ...[
            ...lines.filter((x) => x.key !== l.key).map((x): [string, string] => [x.key, x.text.slice(0, 50)]),
            ...[...knownSteps()].sort().map((k): [string, string] => [k, k]),
          ].filter(([k], i, all) => !l.after?.includes(k) && all.findIndex(([x]) => x === k) === i),
        ]}
      />
      <Chips
        title="After"
        of={l.after ?? []}
        word={(x) => afterWord(x, lines)}
        drop={(x) => {
          set({ after: l.after!.filter((y) => y !== x) });
        }}
      />
      <Where
        when={l.when}
        onChange={(when) => {
          set({ when });
        }}
      />
      {!isAccessTemplate(of) && (
        <Choice<TaskKind>
          label="Not beside one more task"
          value=""
          onChange={(v) => {
            if (v) set({ unless: [...(l.unless ?? []), v] });
          }}
          options={[
            ['', 'choose'],
            ...TASK_KINDS.filter((k) => k !== of && !l.unless?.includes(k)).map((k): [TaskKind, string] => [
              k,
              TASKS[k].word,
            ]),
          ]}
        />
      )}
      <Chips
        title="Left out beside"
        of={l.unless ?? []}
        word={(k) => TASKS[k].word.toLowerCase()}
        drop={(k) => {
          const rest = l.unless!.filter((x) => x !== k);
          set({ unless: rest.length > 0 ? rest : undefined });
        }}
      />
      {isAccessTemplate(of) && (
        <Choice<'closing'>
          label="Part of"
          value={l.closing ? 'closing' : ''}
          onChange={(v) => {
            set({ closing: v === 'closing' || undefined });
          }}
          options={[
            ['', 'opening'],
            ['closing', 'closing up'],
          ]}
        />
      )}
    </>
  );
}
