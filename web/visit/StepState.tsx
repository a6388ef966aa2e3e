import { FACT_KEYS, FACTS, TURNS, type Fact, type TemplateLine, type Turns } from '@diurna/core/visit';
import { Fragment } from 'react';
import { Choice } from '../ui/parts.tsx';
import { Chips } from './Chips.tsx';
import type { SetStep } from './StepOrder.tsx';

const TURNS_WORD: Record<Turns, string> = {
  early: 'runs it, before anything is opened',
  late: 'runs it, once everything is closed',
  crank: 'cranks it with the plugs out',
};
const LISTS = [
  ['opens', 'Opens', 'Opens one more'],
  ['closes', 'Closes', 'Closes one more'],
] as const;

/** What a step does to the engine; of those that come with the book it stays, whatever their words become. */
export function StepState({ line: l, shipped, set }: { line: TemplateLine; shipped: boolean; set: SetStep }) {
  if (shipped) {
    const does = [
      ...(l.opens ?? []).map((f) => `opens: ${f}`),
      ...(l.closes ?? []).map((f) => `closes: ${f}`),
      ...(l.turns === undefined ? [] : [TURNS_WORD[l.turns]]),
    ];
    return does.length === 0 ? null : (
      <p className="full faint">What it does to the engine stays, whatever its words become: {does.join(', ')}.</p>
    );
  }
  return (
    <>
      {LISTS.map(([key, word, more]) => (
        <Fragment key={key}>
          <Choice<Fact>
            label={more}
            value=""
            onChange={(fact) => {
              if (fact) set({ [key]: [...(l[key] ?? []), fact] });
            }}
            options={[
              ['', 'choose'],
              ...FACT_KEYS.filter((f) => !l[key]?.includes(f)).map((f): [Fact, string] => [f, f]),
            ]}
          />
          <Chips
            title={word}
            of={l[key] ?? []}
            word={(f) => f}
            drop={(f) => {
              const rest = l[key]!.filter((x) => x !== f);
              set({ [key]: rest.length > 0 ? rest : undefined });
            }}
          />
        </Fragment>
      ))}
      <Choice<Turns>
        label="The engine runs"
        value={l.turns ?? ''}
        onChange={(v) => {
          set({ turns: v || undefined });
        }}
        options={[['', 'no, it stands still'], ...TURNS.map((t): [Turns, string] => [t, TURNS_WORD[t]])]}
      />
      {(l.opens ?? []).length > 0 && (
        <p className="full faint">Until it is closed: {l.opens!.map((f) => FACTS[f].open).join(', ')}.</p>
      )}
    </>
  );
}
