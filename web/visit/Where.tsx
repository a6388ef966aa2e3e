import { conditionWords, SWITCHES, type Condition } from '@diurna/core/visit';
import { useState } from 'react';
import { Choice } from '../ui/parts.tsx';
import { Chips } from './Chips.tsx';

/**
 * Where a step is done: how the model is built, what the yard answers. Values of one thing are told as either; things
 * as both.
 */
export function Where({
  when,
  onChange,
}: {
  when: Condition | undefined;
  onChange: (when: Condition | undefined) => void;
}) {
  const [on, setOn] = useState('');
  const picked = SWITCHES.find((s) => s.key === on);
  const valuesOf = (key: string) => {
    const w = when?.[key];
    return w === undefined ? [] : Array.isArray(w) ? w : [w];
  };
  const put = (key: string, values: readonly (string | number | boolean)[]) => {
    const next: Condition = { ...when };
    if (values.length === 0) Reflect.deleteProperty(next, key);
    else next[key] = values.length === 1 ? values[0]! : values.filter((v) => typeof v !== 'boolean');
    onChange(Object.keys(next).length > 0 ? next : undefined);
  };
  const left = picked?.values.filter((v) => !valuesOf(picked.key).includes(v.value)) ?? [];
  return (
    <>
      <Choice<string>
        label="Only where"
        value={on}
        onChange={setOn}
        options={[['', 'on every engine'], ...SWITCHES.map((s): [string, string] => [s.key, s.word])]}
      />
      {picked && (
        <Choice<string>
          label="is"
          value=""
          onChange={(v) => {
            const value = picked.values.find((x) => String(x.value) === v)?.value;
            if (value === undefined) return;
            // Yes and no of one thing together would be always.
            put(picked.key, typeof value === 'boolean' ? [value] : [...valuesOf(picked.key), value]);
            setOn('');
          }}
          options={[['', 'choose'], ...left.map((v): [string, string] => [String(v.value), v.word])]}
        />
      )}
      <Chips
        title="Only where"
        of={Object.keys(when ?? {})}
        word={(key) => conditionWords({ [key]: when![key]! })[0]!}
        drop={(key) => {
          put(key, []);
        }}
      />
    </>
  );
}
