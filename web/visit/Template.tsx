import { Button } from '@mui/material';
import type { TemplateReply } from '@diurna/contract/visit';
import {
  isAccessTemplate,
  knownSteps,
  linePlace,
  templateFaults,
  templateWord,
  type TemplateKey,
  type TemplateLine,
} from '@diurna/core/visit';
import { useState } from 'react';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay, useShort } from '../app/useBook.ts';
import { clockText, plural } from '../ui/format.ts';
import { Asked, Entry, Wrong } from '../ui/parts.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { useDraft } from '../ui/useDraft.ts';
import { visitApi } from './api.ts';
import { aboutMinutes, handsOf, notesOf } from './template-words.ts';
import { StepPictures } from './StepPictures.tsx';
import { TemplateStep } from './TemplateStep.tsx';

/** The steps of one task, and their drafts: changed, moved, added, kept with a reason. */
export function Template({ template: t }: { template: TemplateReply }) {
  const short = useShort();
  const maySteer = useMay('administrator', 'coordinator');
  const [draft, setDraft, clear] = useDraft<{ lines: TemplateLine[] } | null>(`template-${t.key}-${t.version}`, null);
  const [open, setOpen] = useState<number | null>(null);
  const [history, setHistory] = useState(false);
  const lines = draft?.lines ?? (t.lines as TemplateLine[]);
  const change = (next: TemplateLine[]) => {
    setDraft({ lines: next });
  };
  const shares = lines.reduce((sum, l) => sum + l.share, 0);
  const faults = draft ? templateFaults(lines, t.shipped as TemplateLine[], knownSteps(), t.key) : [];
  return (
    <section className="template" aria-label={`Steps of ${templateWord(t.key)}`}>
      <h2>
        {!isAccessTemplate(t.key) && <TaskGlyph task={t.key} silent />} {templateWord(t.key)}{' '}
        <small className="faint">
          {t.origin === 'own'
            ? `the yard’s own, version ${t.version}${t.by ? `, by ${short(t.by)}` : ''}`
            : `as it comes with the book, version ${t.version}`}
        </small>
      </h2>
      <p className="faint">
        {aboutMinutes(t.key)}{' '}
        {t.openCards > 0 && `${plural(t.openCards, 'open card keeps', 'open cards keep')} an older version. `}
        {t.reason && `Why it was changed: ${t.reason}`}
      </p>
      <ol className="template-lines" aria-label="Steps">
        {lines.map((l, i) => (
          <li key={i} className={open === i ? 'open' : ''}>
            <Line
              step={l}
              no={i}
              of={lines}
              template={t}
              notes={notesOf(l, lines, shares, handsOf(t.key))}
              open={open === i}
              onOpen={setOpen}
              onChange={change}
            />
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
          {draft && <Keep template={t} lines={lines} faults={faults.length} onKept={clear} />}
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

/** One step as it reads, with what can be done to it. */
function Line({
  step: l,
  no: i,
  of: lines,
  template: t,
  notes,
  open,
  onOpen,
  onChange,
}: {
  step: TemplateLine;
  /** Its place, counted from 0. */
  no: number;
  of: readonly TemplateLine[];
  template: TemplateReply;
  notes: readonly string[];
  open: boolean;
  onOpen: (line: number | null) => void;
  onChange: (lines: TemplateLine[]) => void;
}) {
  const maySteer = useMay('administrator', 'coordinator');
  const move = (to: number, word: string) => (
    <button
      type="button"
      className="link-button"
      disabled={to < 0 || to >= lines.length}
      aria-label={`Step ${i + 1} ${word}`}
      onClick={() => {
        onChange(swap(lines, i, to));
      }}>
      {word}
    </button>
  );
  return (
    <>
      <div className="template-line">
        <span className="figure faint">{i + 1}</span>
        <div>
          <p>
            <b>{l.text}</b>
            {l.detail && <span className="faint"> {l.detail}</span>}
          </p>
          <p className="small faint">{notes.join(' · ')}</p>
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
              aria-expanded={open}
              onClick={() => {
                onOpen(open ? null : i);
              }}>
              {open ? 'done' : 'edit'}
            </button>
            {t.key !== 'visit' && (
              <>
                {move(i - 1, 'up')}
                {move(i + 1, 'down')}
              </>
            )}
          </span>
        )}
      </div>
      {open && l.key !== '' && <StepPictures place={linePlace(t.key, l)} step={l.text} />}
      {open && (
        <TemplateStep
          line={l}
          lines={lines}
          of={t.key}
          fixed={isAccessTemplate(t.key) && t.shipped.some((x) => x.key === l.key)}
          onChange={(next) => {
            onChange(lines.map((x, k) => (k === i ? next : x)));
          }}
          onRemove={() => {
            onChange(lines.filter((_, k) => k !== i));
            onOpen(null);
          }}
        />
      )}
    </>
  );
}

/** Keeps a draft as the next version, with why it was changed. */
function Keep({
  template: t,
  lines,
  faults,
  onKept,
}: {
  template: TemplateReply;
  lines: TemplateLine[];
  faults: number;
  onKept: () => void;
}) {
  const [reason, setReason] = useState('');
  const [edit, { isLoading, error }] = visitApi.useEditTemplateMutation();
  const dispatch = useAppDispatch();
  const save = async () => {
    const answer = await edit({ key: t.key, version: t.version, lines, reason: reason.trim() });
    if (!answer.data) return;
    onKept();
    dispatch(
      say({
        tone: 'done',
        text: `Cards issued from now on have these steps of ${templateWord(t.key).toLowerCase()}; open cards keep theirs.`,
      }),
    );
  };
  return (
    <form
      className="template-save"
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}>
      <Entry label="Why it is changed" value={reason} maxLength={500} onType={setReason} />
      <Button
        type="submit"
        variant="contained"
        color="primary"
        disabled={faults > 0 || reason.trim().length < 3 || isLoading}>
        Keep as version {t.version + 1}
      </Button>
      {faults > 0 && <p className="minus">{plural(faults, 'thing')} to put right first.</p>}
      <Wrong error={error} />
    </form>
  );
}

const swap = (lines: readonly TemplateLine[], a: number, b: number) =>
  lines.map((l, i) => (i === a ? lines[b]! : i === b ? lines[a]! : l));
function freshKey(lines: readonly TemplateLine[]): string {
  for (let n = lines.length + 1; ; n++) if (!lines.some((l) => l.key === `step-${n}`)) return `step-${n}`;
}

function Versions({ of }: { of: TemplateKey }) {
  const short = useShort();
  const { data, error } = visitApi.useTemplateVersionsQuery(of);
  if (!data) return <Asked data={data} error={error} />;
  return (
    <ul className="plain-list">
      {data.map((v) => (
        <li key={v.version}>
          <details>
            <summary>
              Version {v.version},{' '}
              {v.origin === 'own' ? `${v.by ? short(v.by) : 'unknown'}: ${v.reason ?? ''}` : 'with the book'},{' '}
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
