import { Button } from '@mui/material';
import type { TemplateReply } from '@diurna/contract/visit';
import { READING_KINDS, READINGS, type ReadingKind } from '@diurna/core/findings';
import { ACCESS_MINUTES, MANUAL_FIRST, TASK_GROUPS, TASK_KINDS, TASKS, type TaskKind } from '@diurna/core/service';
import {
  ACCESS_TEMPLATES,
  conditionWords,
  GATES,
  isAccessTemplate,
  knownSteps,
  SWITCHES,
  templateFaults,
  templateWord,
  TORQUES,
  type Condition,
  type Gate,
  type Stance,
  type TemplateKey,
  type TemplateLine,
  type Torque,
} from '@diurna/core/visit';
import { useEffect, useState } from 'react';
import { useSearchParams } from 'react-router';
import { visitApi } from './api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay } from '../app/useBook.ts';
import { useDraft } from '../ui/useDraft.ts';
import { clockText, plural } from '../ui/format.ts';
import { Choice, Empty, Leaves, PageHead, Waiting, Wrong } from '../ui/parts.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { RULES_LEAVES } from '../rules/index.ts';
import '../ui/rules.css';

const GROUP_WORD = { service: 'Service', repair: 'Asked for by findings', season: 'Season' } as const;

/** The steps of every task, as cards are issued with them; the coordinator writes the yard's own. */
export function Templates() {
  const { data, error } = visitApi.useListTemplatesQuery();
  const [params, setParams] = useSearchParams();
  const picked = data?.find((t) => t.key === params.get('of')) ?? data?.[0];
  // The list is longer than the page: what is picked is in sight.
  useEffect(() => {
    document.querySelector('.template-list .picked')?.scrollIntoView({ block: 'nearest' });
  }, [picked?.key]);
  return (
    <>
      <PageHead title="Steps">How each task is done, step by step. {MANUAL_FIRST}</PageHead>
      <Leaves of={RULES_LEAVES} label="Rules" />
      <Wrong error={error} />
      {!data && !error && <Waiting />}
      {data && picked && (
        <div className="templates">
          <nav aria-label="Tasks" className="template-list">
            {TASK_GROUPS.map((g) => (
              <Group
                key={g}
                title={GROUP_WORD[g]}
                of={data.filter((t) => !isAccessTemplate(t.key) && TASKS[t.key].group === g)}
                picked={picked}
                pick={(key) => {
                  setParams({ of: key });
                }}
              />
            ))}
            <Group
              title="Opening, closing, every visit"
              of={ACCESS_TEMPLATES.flatMap((key) => data.find((t) => t.key === key) ?? [])}
              picked={picked}
              pick={(key) => {
                setParams({ of: key });
              }}
            />
          </nav>
          <One key={`${picked.key} ${picked.version}`} template={picked} />
        </div>
      )}
      {data?.length === 0 && <Empty title="No steps yet." />}
    </>
  );
}

function Group({
  title,
  of,
  picked,
  pick,
}: {
  title: string;
  of: readonly TemplateReply[];
  picked: TemplateReply;
  pick: (key: TemplateKey) => void;
}) {
  return (
    <div>
      <h3>{title}</h3>
      {of.map((t) => (
        <button
          key={t.key}
          type="button"
          className={t.key === picked.key ? 'picked' : ''}
          aria-current={t.key === picked.key}
          onClick={() => {
            pick(t.key);
          }}>
          {!isAccessTemplate(t.key) && <TaskGlyph task={t.key} silent size={19} />} {templateWord(t.key)}
          {t.origin === 'own' && <span className="faint"> own</span>}
        </button>
      ))}
    </div>
  );
}

/** What the minutes of a template are. */
function aboutMinutes(key: TemplateKey): string {
  if (key === 'visit')
    return 'Every visit begins and ends with these. Their minutes are fixed, and no step can be added or taken out: words, cautions and the second person are the yard’s.';
  if (isAccessTemplate(key))
    return `About ${ACCESS_MINUTES[key]} min to open and close, shared out over the steps in force; done once for an engine, however many tasks need it. Other steps hang on these: change their words, or add steps.`;
  const { handsOn, perCylinder, wait } = TASKS[key];
  return `About ${handsOn} min${perCylinder ? ' a cylinder' : ''} of hands, shared out over the steps in force${wait > 0 ? `; then ${wait} min by itself` : ''}.`;
}
const handsOf = (key: TemplateKey): number | null =>
  key === 'visit' ? null : isAccessTemplate(key) ? ACCESS_MINUTES[key] : TASKS[key].handsOn;

function One({ template: t }: { template: TemplateReply }) {
  const maySteer = useMay('administrator', 'coordinator');
  const [draft, setDraft, clear] = useDraft<{ lines: TemplateLine[] } | null>(`template-${t.key}-${t.version}`, null);
  const [open, setOpen] = useState<number | null>(null);
  const [reason, setReason] = useState('');
  const [history, setHistory] = useState(false);
  const [edit, { isLoading, error }] = visitApi.useEditTemplateMutation();
  const dispatch = useAppDispatch();
  const lines = draft?.lines ?? (t.lines as TemplateLine[]);
  const change = (next: TemplateLine[]) => {
    setDraft({ lines: next });
  };
  const shares = lines.reduce((sum, l) => sum + l.share, 0);
  const faults = draft ? templateFaults(lines, t.shipped as TemplateLine[], knownSteps(), t.key) : [];
  const save = async () => {
    const answer = await edit({ key: t.key, version: t.version, lines, reason: reason.trim() });
    if (!answer.data) return;
    clear();
    setReason('');
    dispatch(
      say({
        tone: 'done',
        text: `Cards issued from now on have these steps of ${templateWord(t.key).toLowerCase()}; open cards keep theirs.`,
      }),
    );
  };
  return (
    <section className="template" aria-label={`Steps of ${templateWord(t.key)}`}>
      <h2>
        {!isAccessTemplate(t.key) && <TaskGlyph task={t.key} silent />} {templateWord(t.key)}{' '}
        <small className="faint">
          {t.origin === 'own'
            ? `the yard’s own, version ${t.version}${t.by ? `, by ${t.by.split(' ')[0]}` : ''}`
            : `as it comes with the book, version ${t.version}`}
        </small>
      </h2>
      <p className="faint">
        {aboutMinutes(t.key)}{' '}
        {t.openCards > 0 && `${plural(t.openCards, 'open card keeps', 'open cards keep')} an older version. `}
        {t.reason && `Why it was changed: ${t.reason}`}
      </p>
      <ol className="template-lines">
        {lines.map((l, i) => (
          <li key={i} className={open === i ? 'open' : ''}>
            <div className="template-line">
              <span className="figure faint">{i + 1}</span>
              <div>
                <p>
                  <b>{l.text}</b>
                  {l.detail && <span className="faint"> {l.detail}</span>}
                </p>
                <p className="small faint">{notesOf(l, lines, shares, handsOf(t.key)).join(' · ')}</p>
                {l.caution && (
                  <p className="small">
                    <span className="minus">Caution:</span> {l.caution}
                  </p>
                )}
              </div>
              {maySteer && (
                <span className="row-acts">
                  <button
                    type="button"
                    className="link-button"
                    aria-expanded={open === i}
                    onClick={() => {
                      setOpen(open === i ? null : i);
                    }}>
                    {open === i ? 'done' : 'edit'}
                  </button>
                  {t.key !== 'visit' && (
                    <>
                      <button
                        type="button"
                        className="link-button"
                        disabled={i === 0}
                        aria-label={`Step ${i + 1} up`}
                        onClick={() => {
                          change(swap(lines, i, i - 1));
                        }}>
                        up
                      </button>
                      <button
                        type="button"
                        className="link-button"
                        disabled={i === lines.length - 1}
                        aria-label={`Step ${i + 1} down`}
                        onClick={() => {
                          change(swap(lines, i, i + 1));
                        }}>
                        down
                      </button>
                    </>
                  )}
                </span>
              )}
            </div>
            {open === i && (
              <EditLine
                line={l}
                lines={lines}
                of={t.key}
                fixed={isAccessTemplate(t.key) && t.shipped.some((x) => x.key === l.key)}
                onChange={(next) => {
                  change(lines.map((x, k) => (k === i ? next : x)));
                }}
                onRemove={() => {
                  change(lines.filter((_, k) => k !== i));
                  setOpen(null);
                }}
              />
            )}
            {faults
              .filter((f) => f.line === i)
              .map((f) => (
                <p key={f.text} className="minus" role="alert">
                  {f.text}
                </p>
              ))}
          </li>
        ))}
      </ol>
      {maySteer && (
        <>
          <div className="tools">
            {t.key !== 'visit' && (
              <Button
                onClick={() => {
                  change([
                    ...lines,
                    {
                      key: freshKey(lines),
                      text: '',
                      share: 2,
                      after: lines.length > 0 ? [lines.at(-1)!.key] : [],
                      ...(isAccessTemplate(t.key) && { closing: true }),
                    },
                  ]);
                  setOpen(lines.length);
                }}>
                Add a step
              </Button>
            )}
            {t.origin === 'own' && !draft && (
              <Button
                onClick={() => {
                  change([...t.shipped] as TemplateLine[]);
                }}>
                Take the book’s steps again
              </Button>
            )}
            {draft && (
              <Button
                onClick={() => {
                  clear();
                  setOpen(null);
                }}>
                Leave it as it was
              </Button>
            )}
          </div>
          {draft && (
            <form
              className="template-save"
              onSubmit={(e) => {
                e.preventDefault();
                void save();
              }}>
              <label className="choice">
                <span className="choice-label">Why it is changed</span>
                <input
                  className="plain-input"
                  value={reason}
                  maxLength={500}
                  onChange={(e) => {
                    setReason(e.target.value);
                  }}
                />
              </label>
              <Button
                type="submit"
                variant="contained"
                color="primary"
                disabled={faults.length > 0 || reason.trim().length < 3 || isLoading}>
                Keep as version {t.version + 1}
              </Button>
              {faults.length > 0 && <p className="minus">{plural(faults.length, 'thing')} to put right first.</p>}
              <Wrong error={error} />
            </form>
          )}
        </>
      )}
      <button
        type="button"
        className="link-button"
        aria-expanded={history}
        onClick={() => {
          setHistory(!history);
        }}>
        Earlier versions
      </button>
      {history && <Versions of={t.key} />}
    </section>
  );
}

/** The step another comes after, as a person knows it: its number here, or its task. */
function afterWord(id: string, lines: readonly TemplateLine[]): string {
  const started = id.endsWith(' started') ? ' has begun' : '';
  const name = id.replace(/ started$/, '');
  const own = lines.findIndex((l) => l.key === name || l.once === name);
  if (own >= 0) return `step ${own + 1}${started}`;
  const [task, key] = name.split('/');
  return key === undefined ? `“${name}”${started}` : `${TASKS[task as TaskKind].word.toLowerCase()} “${key}”${started}`;
}

function notesOf(l: TemplateLine, lines: readonly TemplateLine[], shares: number, hands: number | null): string[] {
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
    l.parts && 'shows the parts',
    when.length > 0 ? `only where: ${when.join(', ')}` : null,
    l.unless && l.unless.length > 0
      ? `not beside ${l.unless.map((u) => TASKS[u].word.toLowerCase()).join(', ')}`
      : null,
    l.once ? `once for the engine, as “${l.once}”` : null,
    l.after && l.after.length > 0 ? `after ${l.after.map((a) => afterWord(a, lines)).join(', ')}` : null,
  ].filter((x): x is string => typeof x === 'string' && x !== '');
}

const swap = (lines: readonly TemplateLine[], a: number, b: number) =>
  lines.map((l, i) => (i === a ? lines[b]! : i === b ? lines[a]! : l));
function freshKey(lines: readonly TemplateLine[]): string {
  for (let n = lines.length + 1; ; n++) if (!lines.some((l) => l.key === `step-${n}`)) return `step-${n}`;
}

/** @param fixed other steps hang on it: only words, minutes, caution and the second person are the yard's */
function EditLine({
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
  const set = (part: Partial<TemplateLine>) => {
    const next: Record<string, unknown> = { ...l, ...part };
    for (const key of Object.keys(next))
      if (next[key] === undefined || next[key] === '') Reflect.deleteProperty(next, key);
    onChange({ ...(next as unknown as TemplateLine), text: part.text ?? l.text });
  };
  return (
    <div className="form-grid template-edit">
      <label className="choice full">
        <span className="choice-label">
          What is to be done.{' '}
          {
            '{sump} {first} {rest} {case} {gap} {screws} {oil} {lube} {fillAt} {drainAt} {drainScrewNm} {filterNm} {plugNm} {gearScrewNm} {propNutNm}'
          }{' '}
          are filled in from the model
        </span>
        <textarea
          className="plain-input"
          rows={2}
          maxLength={300}
          value={l.text}
          onChange={(e) => {
            set({ text: e.target.value });
          }}
        />
      </label>
      <label className="choice full">
        <span className="choice-label">Tools and hints</span>
        <input
          className="plain-input"
          maxLength={400}
          value={l.detail ?? ''}
          onChange={(e) => {
            set({ detail: e.target.value || undefined } as Partial<TemplateLine>);
          }}
        />
      </label>
      <label className="choice full">
        <span className="choice-label">Caution</span>
        <input
          className="plain-input"
          maxLength={300}
          value={l.caution ?? ''}
          onChange={(e) => {
            set({ caution: e.target.value || undefined } as Partial<TemplateLine>);
          }}
        />
      </label>
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
          set({ wait: wait ?? undefined } as Partial<TemplateLine>);
        }}
      />
      <Choice<'always' | 'heavy unit'>
        label="Two people"
        value={l.twoPeople ?? ''}
        onChange={(v) => {
          set({ twoPeople: v || undefined } as Partial<TemplateLine>);
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
          set({ torque: v || undefined } as Partial<TemplateLine>);
        }}
        options={[['', 'none'], ...TORQUES.map((x): [Torque, string] => [x, TORQUE_WORD[x]])]}
      />
      {!fixed && (
        <>
          <Choice<Stance>
            label="The engine stands"
            value={l.stance ?? ''}
            onChange={(stance) => {
              set({ stance: stance || undefined } as Partial<TemplateLine>);
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
              set({ warm: v === 'warm' || undefined } as Partial<TemplateLine>);
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
              set({ gate: v || undefined } as Partial<TemplateLine>);
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
              ...READING_KINDS.filter((r) => r !== 'waste' && !l.readings?.includes(r)).map(
                (r): [ReadingKind, string] => [r, READINGS[r].word],
              ),
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
              set({ when } as Partial<TemplateLine>);
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
              set({ unless: rest.length > 0 ? rest : undefined } as Partial<TemplateLine>);
            }}
          />
          {isAccessTemplate(of) && (
            <Choice<'closing'>
              label="Part of"
              value={l.closing ? 'closing' : ''}
              onChange={(v) => {
                set({ closing: v === 'closing' || undefined } as Partial<TemplateLine>);
              }}
              options={[
                ['', 'opening'],
                ['closing', 'closing up'],
              ]}
            />
          )}
        </>
      )}
      <p className="full">
        <label>
          <input
            type="checkbox"
            className="tick"
            checked={l.parts ?? false}
            onChange={(e) => {
              set({ parts: e.target.checked || undefined } as Partial<TemplateLine>);
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

const TORQUE_WORD: Record<Torque, string> = {
  drainScrewNm: 'drain screw',
  filterNm: 'oil filter',
  plugNm: 'plugs',
  gearScrewNm: 'gear-case screws',
  propNutNm: 'propeller nut',
};

/** What is listed, each with a way to take it out. */
function Chips<T extends string>({
  title,
  of,
  word,
  drop,
}: {
  title: string;
  of: readonly T[];
  word: (x: T) => string;
  drop: (x: T) => void;
}) {
  if (of.length === 0) return null;
  return (
    <p className="full">
      {title}:{' '}
      {of.map((x) => (
        <button
          key={x}
          type="button"
          className="chip"
          aria-label={`${word(x)} ×: take it out`}
          onClick={() => {
            drop(x);
          }}>
          {word(x)} ×
        </button>
      ))}
    </p>
  );
}

/** Where a step is done: how the model is built, what the yard answers. Values of one thing are told as either; things as both. */
function Where({ when, onChange }: { when: Condition | undefined; onChange: (when: Condition | undefined) => void }) {
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
    <label className="choice">
      <span className="choice-label">{label}</span>
      <input
        className="plain-input num figure"
        inputMode="decimal"
        value={text}
        placeholder={placeholder}
        onChange={(e) => {
          const clean = e.target.value.replace(',', '.').replace(/[^\d.]/g, '');
          setText(clean);
          onChange(clean === '' ? null : Number(clean));
        }}
      />
    </label>
  );
}

function Versions({ of }: { of: TemplateKey }) {
  const { data } = visitApi.useTemplateVersionsQuery(of);
  if (!data) return <Waiting />;
  return (
    <ul className="plain-list">
      {data.map((v) => (
        <li key={v.version}>
          <details>
            <summary>
              Version {v.version},{' '}
              {v.origin === 'own' ? `${v.by?.split(' ')[0] ?? 'unknown'}: ${v.reason ?? ''}` : 'with the book'},{' '}
              {clockText(v.at)}
            </summary>
            <ol>
              {v.lines.map((l) => (
                <li key={l.key}>{l.text}</li>
              ))}
            </ol>
          </details>
        </li>
      ))}
    </ul>
  );
}
