import { Button } from '@mui/material';
import type { TemplateReply } from '@diurna/contract/visit';
import { READING_KINDS, READINGS, type ReadingKind } from '@diurna/core/findings';
import { MANUAL_FIRST, TASK_GROUPS, TASKS, type TaskKind } from '@diurna/core/service';
import { GATES, knownSteps, templateFaults, type Gate, type Stance, type TemplateLine } from '@diurna/core/visit';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { api } from '../app/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay } from '../app/useBook.ts';
import { useDraft } from '../ui/useDraft.ts';
import { clockText, plural } from '../ui/format.ts';
import { Choice, Empty, Leaves, PageHead, Waiting, Wrong } from '../ui/parts.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { RULES_LEAVES } from './leaves.ts';
import './rules.css';

const GROUP_WORD = { service: 'Service', repair: 'Asked for by findings', season: 'Season' } as const;

/** The steps of every task, as cards are issued with them; the coordinator writes the yard's own. */
export function Templates() {
  const { data, error } = api.useTemplatesQuery();
  const [params, setParams] = useSearchParams();
  const picked = data?.find((t) => t.task === params.get('task')) ?? data?.[0];
  return (
    <>
      <PageHead title="Steps">How each task is done, step by step. {MANUAL_FIRST}</PageHead>
      <Leaves of={RULES_LEAVES} label="Rules" />
      <Wrong error={error} />
      {!data && !error && <Waiting />}
      {data && picked && (
        <div className="templates">
          <nav aria-label="Tasks" className="template-list">{TASK_GROUPS.map((g) => (
            <div key={g}><h3>{GROUP_WORD[g]}</h3>
              {data.filter((t) => TASKS[t.task].group === g).map((t) => (
                <button key={t.task} type="button" className={t.task === picked.task ? 'picked' : ''} aria-current={t.task === picked.task} onClick={() => { setParams({ task: t.task }); }}><TaskGlyph task={t.task} silent size={19} /> {TASKS[t.task].word}{t.origin === 'own' && <span className="faint"> own</span>}</button>
              ))}
            </div>
          ))}</nav>
          <One key={`${picked.task} ${picked.version}`} template={picked} />
        </div>
      )}
      {data?.length === 0 && <Empty title="No steps yet." />}
    </>
  );
}

function One({ template: t }: { template: TemplateReply }) {
  const maySteer = useMay('administrator', 'coordinator');
  const [draft, setDraft, clear] = useDraft<{ lines: TemplateLine[] } | null>(`template-${t.task}-${t.version}`, null);
  const [open, setOpen] = useState<number | null>(null);
  const [reason, setReason] = useState('');
  const [history, setHistory] = useState(false);
  const [edit, { isLoading, error }] = api.useEditTemplateMutation();
  const dispatch = useAppDispatch();
  const lines = draft?.lines ?? (t.lines as TemplateLine[]);
  const change = (next: TemplateLine[]) => { setDraft({ lines: next }); };
  const shares = lines.reduce((sum, l) => sum + l.share, 0);
  const faults = draft ? templateFaults(lines, t.shipped as TemplateLine[], knownSteps()) : [];
  const save = async () => {
    const answer = await edit({ task: t.task, version: t.version, lines, reason: reason.trim() });
    if (!answer.data) return;
    clear();
    setReason('');
    dispatch(say({ tone: 'done', text: `Cards issued from now on have these steps of ${TASKS[t.task].word.toLowerCase()}; open cards keep theirs.` }));
  };
  return (
    <section className="template" aria-label={`Steps of ${TASKS[t.task].word}`}>
      <h2><TaskGlyph task={t.task} silent /> {TASKS[t.task].word} <small className="faint">{t.origin === 'own' ? `the yard’s own, version ${t.version}${t.by ? `, by ${t.by.split(' ')[0]}` : ''}` : `as it comes with the book, version ${t.version}`}</small></h2>
      <p className="faint">About {TASKS[t.task].handsOn} min{TASKS[t.task].perCylinder ? ' a cylinder' : ''} of hands, shared out over the steps in force{TASKS[t.task].wait > 0 ? `; then ${TASKS[t.task].wait} min by itself` : ''}. {t.openCards > 0 && `${plural(t.openCards, 'open card keeps', 'open cards keep')} an older version. `}{t.reason && `Why it was changed: ${t.reason}`}</p>
      <ol className="template-lines">{lines.map((l, i) => (
        <li key={i} className={open === i ? 'open' : ''}>
          <div className="template-line">
            <span className="figure faint">{i + 1}</span>
            <div>
              <p><b>{l.text}</b>{l.detail && <span className="faint"> {l.detail}</span>}</p>
              <p className="small faint">{notesOf(l, lines, shares, TASKS[t.task].handsOn).join(' · ')}</p>
              {l.caution && <p className="small"><span className="minus">Caution:</span> {l.caution}</p>}
            </div>
            {maySteer && <span className="row-acts">
              <button type="button" className="link-button" aria-expanded={open === i} onClick={() => { setOpen(open === i ? null : i); }}>{open === i ? 'done' : 'edit'}</button>
              <button type="button" className="link-button" disabled={i === 0} aria-label={`Step ${i + 1} up`} onClick={() => { change(swap(lines, i, i - 1)); }}>up</button>
              <button type="button" className="link-button" disabled={i === lines.length - 1} aria-label={`Step ${i + 1} down`} onClick={() => { change(swap(lines, i, i + 1)); }}>down</button>
            </span>}
          </div>
          {open === i && <EditLine line={l} lines={lines} onChange={(next) => { change(lines.map((x, k) => (k === i ? next : x))); }} onRemove={() => { change(lines.filter((_, k) => k !== i)); setOpen(null); }} />}
          {faults.filter((f) => f.line === i).map((f) => <p key={f.text} className="minus" role="alert">{f.text}</p>)}
        </li>
      ))}</ol>
      {maySteer && (
        <>
          <div className="tools">
            <Button onClick={() => { change([...lines, { key: freshKey(lines), text: '', share: 2, after: lines.length > 0 ? [lines.at(-1)!.key] : [] }]); setOpen(lines.length); }}>Add a step</Button>
            {t.origin === 'own' && !draft && <Button onClick={() => { change([...t.shipped] as TemplateLine[]); }}>Take the book’s steps again</Button>}
            {draft && <Button onClick={() => { clear(); setOpen(null); }}>Leave it as it was</Button>}
          </div>
          {draft && (
            <form className="template-save" onSubmit={(e) => { e.preventDefault(); void save(); }}>
              <label className="choice"><span className="choice-label">Why it is changed</span><input className="plain-input" value={reason} maxLength={500} onChange={(e) => { setReason(e.target.value); }} /></label>
              <Button type="submit" variant="contained" color="primary" disabled={faults.length > 0 || reason.trim().length < 3 || isLoading}>Keep as version {t.version + 1}</Button>
              {faults.length > 0 && <p className="minus">{plural(faults.length, 'thing')} to put right first.</p>}
              <Wrong error={error} />
            </form>
          )}
        </>
      )}
      <button type="button" className="link-button" aria-expanded={history} onClick={() => { setHistory(!history); }}>Earlier versions</button>
      {history && <Versions task={t.task} />}
    </section>
  );
}

/** Switches a step can hang on, in the words of the yard; questions of school are called as they are there. */
const SWITCH_WORD: Record<string, string> = {
  oilBy: 'oil comes out by', unknownHistory: 'history unknown', unitOff: 'lower unit off', gearScrews: 'gear-case screws', fuelFilter: 'fuel filter', tiltBeforeLevel: 'large V engine', propNut: 'propeller nut', stroke: 'strokes', recoil: 'rope start',
};

/** The step another comes after, as a person knows it: its number here, or its task. */
function afterWord(id: string, lines: readonly TemplateLine[]): string {
  const started = id.endsWith(' started') ? ' has begun' : '';
  const name = id.replace(/ started$/, '');
  const own = lines.findIndex((l) => l.key === name || l.once === name);
  if (own >= 0) return `step ${own + 1}${started}`;
  const [task, key] = name.split('/');
  return key === undefined ? `“${name}”${started}` : `${TASKS[task as TaskKind].word.toLowerCase()} “${key}”${started}`;
}

function notesOf(l: TemplateLine, lines: readonly TemplateLine[], shares: number, hands: number): string[] {
  const wait = l.wait === 'task' ? 'then by itself, as the task' : l.wait ? `then ${l.wait} min by itself` : null;
  const when = Object.entries(l.when ?? {}).map(([k, v]) => {
    const word = SWITCH_WORD[k] ?? k;
    return v === true ? word : v === false ? `not: ${word}` : `${word}: ${Array.isArray(v) ? v.join(' or ') : v}`;
  });
  return [
    `${Math.round((10 * hands * l.share) / shares) / 10} min`, wait, l.stance && (l.stance === 'level' ? 'engine level' : 'engine tilted'), l.twoPeople && (l.twoPeople === 'always' ? 'two people' : 'two people on a heavy unit'), l.gate && `gate: ${l.gate}`,
    l.readings && l.readings.length > 0 ? `asks: ${l.readings.map((r) => READINGS[r].word.toLowerCase()).join(', ')}` : null, l.parts && 'shows the parts', when.length > 0 ? `only where ${when.join(', ')}` : null, l.after && l.after.length > 0 ? `after ${l.after.map((a) => afterWord(a, lines)).join(', ')}` : null,
  ].filter((x): x is string => typeof x === 'string' && x !== '');
}

const swap = (lines: readonly TemplateLine[], a: number, b: number) => lines.map((l, i) => (i === a ? lines[b]! : i === b ? lines[a]! : l));
function freshKey(lines: readonly TemplateLine[]): string {
  for (let n = lines.length + 1; ; n++) if (!lines.some((l) => l.key === `step-${n}`)) return `step-${n}`;
}

function EditLine({ line: l, lines, onChange, onRemove }: { line: TemplateLine; lines: readonly TemplateLine[]; onChange: (line: TemplateLine) => void; onRemove: () => void }) {
  const set = (part: Partial<TemplateLine>) => {
    const next: Record<string, unknown> = { ...l, ...part };
    for (const key of Object.keys(next)) if (next[key] === undefined || next[key] === '') Reflect.deleteProperty(next, key);
    onChange({ ...(next as unknown as TemplateLine), text: part.text ?? l.text });
  };
  return (
    <div className="form-grid template-edit">
      <label className="choice full"><span className="choice-label">What is to be done. {'{sump} {first} {rest} {case} {gap} {screws} {oil} {lube} {fillAt} {drainAt} {drainScrewNm} {filterNm} {plugNm} {gearScrewNm} {propNutNm}'} are filled in from the model</span><textarea className="plain-input" rows={2} maxLength={300} value={l.text} onChange={(e) => { set({ text: e.target.value }); }} /></label>
      <label className="choice full"><span className="choice-label">Tools and hints</span><input className="plain-input" maxLength={400} value={l.detail ?? ''} onChange={(e) => { set({ detail: e.target.value || undefined } as Partial<TemplateLine>); }} /></label>
      <label className="choice full"><span className="choice-label">Caution</span><input className="plain-input" maxLength={300} value={l.caution ?? ''} onChange={(e) => { set({ caution: e.target.value || undefined } as Partial<TemplateLine>); }} /></label>
      <Amount label="Share of the minutes" value={l.share} onChange={(share) => { if (share !== null) set({ share }); }} />
      <Amount label="Then by itself, min" value={typeof l.wait === 'number' ? l.wait : null} placeholder={l.wait === 'task' ? 'as the task' : '0'} onChange={(wait) => { set({ wait: wait ?? undefined } as Partial<TemplateLine>); }} />
      <Choice<Stance> label="The engine stands" value={l.stance ?? ''} onChange={(stance) => { set({ stance: stance || undefined } as Partial<TemplateLine>); }} options={[['', 'as it stands'], ['level', 'level'], ['tilted', 'tilted']]} />
      <Choice<'always' | 'heavy unit'> label="Two people" value={l.twoPeople ?? ''} onChange={(v) => { set({ twoPeople: v || undefined } as Partial<TemplateLine>); }} options={[['', 'no'], ['always', 'always'], ['heavy unit', 'on a heavy unit']]} />
      <Choice<Gate> label="Gate" value={l.gate ?? ''} onChange={(v) => { set({ gate: v || undefined } as Partial<TemplateLine>); }} options={[['', 'none'], ...GATES.map((g): [Gate, string] => [g, g])]} />
      <Choice<ReadingKind> label="Asks for one more reading" value="" onChange={(v) => { if (v) set({ readings: [...(l.readings ?? []), v] }); }} options={[['', 'choose'], ...READING_KINDS.filter((r) => r !== 'waste' && !l.readings?.includes(r)).map((r): [ReadingKind, string] => [r, READINGS[r].word])]} />
      {(l.readings ?? []).length > 0 && <p className="full">Asks: {l.readings!.map((r) => <button key={r} type="button" className="chip" onClick={() => { set({ readings: l.readings!.filter((x) => x !== r) }); }}>{READINGS[r].word} ×</button>)}</p>}
      <Choice<string> label="Comes after one more" value="" onChange={(v) => { if (v) set({ after: [...(l.after ?? []), v] }); }} options={[['', 'choose'], ...[...lines.filter((x) => x.key !== l.key).map((x): [string, string] => [x.key, x.text.slice(0, 50)]), ...[...knownSteps()].sort().map((k): [string, string] => [k, k])].filter(([k], i, all) => !l.after?.includes(k) && all.findIndex(([x]) => x === k) === i)]} />
      {(l.after ?? []).length > 0 && <p className="full">After: {l.after!.map((a) => <button key={a} type="button" className="chip" onClick={() => { set({ after: l.after!.filter((x) => x !== a) }); }}>{afterWord(a, lines)} ×</button>)}</p>}
      <p className="full"><label><input type="checkbox" className="tick" checked={l.parts ?? false} onChange={(e) => { set({ parts: e.target.checked || undefined } as Partial<TemplateLine>); }} /> shows the parts for the serial</label> <button type="button" className="link-button" onClick={onRemove}>Take this step out</button></p>
    </div>
  );
}

function Amount({ label, value, placeholder, onChange }: { label: string; value: number | null; placeholder?: string; onChange: (value: number | null) => void }) {
  const [text, setText] = useState(value === null ? '' : String(value));
  return (
    <label className="choice"><span className="choice-label">{label}</span>
      <input className="plain-input num figure" inputMode="decimal" value={text} placeholder={placeholder} onChange={(e) => {
        const clean = e.target.value.replace(',', '.').replace(/[^\d.]/g, '');
        setText(clean);
        onChange(clean === '' ? null : Number(clean));
      }} /></label>
  );
}

function Versions({ task }: { task: TaskKind }) {
  const { data } = api.useTemplateVersionsQuery(task);
  if (!data) return <Waiting />;
  return <ul className="plain-list">{data.map((v) => <li key={v.version}><details><summary>Version {v.version}, {v.origin === 'own' ? `${v.by?.split(' ')[0] ?? 'unknown'}: ${v.reason ?? ''}` : 'with the book'}, {clockText(v.at)}</summary><ol>{v.lines.map((l) => <li key={l.key}>{l.text}</li>)}</ol></details></li>)}</ul>;
}
