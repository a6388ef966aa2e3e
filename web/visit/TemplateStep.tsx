import { TORQUES, type Torque } from '@diurna/core/fleet';
import {
  shippedOf,
  TOOL_SIZE_KEYS,
  TOOL_SIZES,
  type TemplateKey,
  type TemplateLine,
  type ToolSize,
} from '@diurna/core/visit';
import { useState } from 'react';
import { Choice, Entry } from '../ui/parts.tsx';
import { StepAsks, StepOrder, type SetStep } from './StepOrder.tsx';
import { StepState } from './StepState.tsx';
import { TORQUE_WORD } from './template-words.ts';
import { Tick } from '../ui/Tick.tsx';
import { Box } from '../ui/Box.tsx';

/**
 * One step of a template under the pen.
 * @param fixed other steps hang on it: only words, minutes, caution and the second person are the yard's
 */
export function TemplateStep({
  line: l,
  lines,
  of,
  fixed,
  onChange,
  onRemove,
}: {
  line: TemplateLine;
  lines: readonly TemplateLine[];
  of: TemplateKey;
  fixed: boolean;
  onChange: (line: TemplateLine) => void;
  onRemove: () => void;
}) {
  const set: SetStep = (part) => {
    const next: Record<string, unknown> = { ...l, ...part };
    for (const key of Object.keys(next))
      if (next[key] === undefined || next[key] === '') Reflect.deleteProperty(next, key);
    onChange({ ...(next as unknown as TemplateLine), text: part.text ?? l.text });
  };
  return (
    <div className="form-grid template-edit">
      <Words line={l} set={set} />
      <Amount
        label="Share of the minutes"
        value={l.share}
        onChange={(share) => {
          if (share !== null) set({ share });
        }}
      />
      <Amount
        label="Then by itself, min"
        value={typeof l.wait === 'number' ? l.wait : null}
        placeholder={l.wait === 'task' ? 'as the task' : '0'}
        onChange={(wait) => {
          set({ wait: wait ?? undefined });
        }}
      />
      <Choice<'always' | 'heavy unit'>
        label="Two people"
        value={l.twoPeople ?? ''}
        onChange={(v) => {
          set({ twoPeople: v || undefined });
        }}
        options={[
          ['', 'no'],
          ['always', 'always'],
          ['heavy unit', 'on a heavy unit'],
        ]}
      />
      <Choice<Torque>
        label="Torque"
        value={l.torque ?? ''}
        onChange={(v) => {
          set({ torque: v || undefined });
        }}
        options={[['', 'none'], ...TORQUES.map((x): [Torque, string] => [x, TORQUE_WORD[x]])]}
      />
      <Choice<ToolSize>
        label="Tool in the model’s size"
        value={l.size ?? ''}
        onChange={(v) => {
          set({ size: v || undefined });
        }}
        options={[['', 'none'], ...TOOL_SIZE_KEYS.map((x): [ToolSize, string] => [x, TOOL_SIZES[x]])]}
      />
      <Entry
        label="Other tools, with commas between"
        maxLength={300}
        value={(l.tools ?? []).join(', ')}
        onType={(text) => {
          const tools = text.split(',').map((t) => t.trimStart());
          set({ tools: text.trim() === '' ? undefined : tools });
        }}
      />
      {!fixed && (
        <>
          <StepAsks line={l} set={set} />
          <StepOrder line={l} lines={lines} of={of} set={set} />
          <StepState line={l} shipped={shippedOf(of).some((s) => s.key === l.key)} set={set} />
        </>
      )}
      <p className="full">
        <label>
          <Tick
            on={l.parts ?? false}
            onTick={(on) => {
              set({ parts: on || undefined });
            }}
          />{' '}
          shows the parts for the serial
        </label>{' '}
        {fixed ? (
          <span className="faint">Other steps hang on this one: when it comes and what it asks stay.</span>
        ) : (
          <button type="button" className="link-button" onClick={onRemove}>
            Take this step out
          </button>
        )}
      </p>
    </div>
  );
}

/** What the step says: what is to be done, tools and hints, the caution. */
function Words({ line: l, set }: { line: TemplateLine; set: SetStep }) {
  return (
    <>
      <label className="choice full">
        <span className="choice-label">
          What is to be done.{' '}
          {
            '{sump} {first} {rest} {case} {gap} {screws} {oil} {lube} {fillAt} {drainAt} {drainScrewNm} {filterNm} {plugNm} {gearScrewNm} {propNutNm}'
          }{' '}
          are filled in from the model
        </span>
        <Box
          lines={2}
          maxLength={300}
          value={l.text}
          onChange={(e) => {
            set({ text: e.target.value });
          }}
        />
      </label>
      <label className="choice full">
        <span className="choice-label">Tools and hints</span>
        <Box
          maxLength={400}
          value={l.detail ?? ''}
          onChange={(e) => {
            set({ detail: e.target.value || undefined });
          }}
        />
      </label>
      <Entry
        full
        label="Caution"
        maxLength={300}
        value={l.caution ?? ''}
        onType={(text) => {
          set({ caution: text || undefined });
        }}
      />
    </>
  );
}

function Amount({
  label,
  value,
  placeholder,
  onChange,
}: {
  label: string;
  value: number | null;
  placeholder?: string;
  onChange: (value: number | null) => void;
}) {
  const [text, setText] = useState(value === null ? '' : String(value));
  return (
    <Entry
      kind="figure"
      label={label}
      value={text}
      placeholder={placeholder}
      onType={(text) => {
        const clean = text.replace(',', '.').replace(/[^\d.]/g, '');
        setText(clean);
        onChange(clean === '' ? null : Number(clean));
      }}
    />
  );
}
