import { Button } from '@mui/material';
import { readingOf, READINGS, valueText } from '@diurna/core/findings';
import { TASKS } from '@diurna/core/service';
import { typedOf, type CardAct, type CardEntry } from '@diurna/core/visit';
import { type LiveCard } from './live-card.ts';
import { hourText } from '../ui/format.ts';

/** A typed field in words. */
function typedWord(live: LiveCard, field: string): string {
  const of = typedOf(field);
  if (of === null) return field;
  if (of.what === 'part') return `the use of ${live.card.parts.find((p) => p.partId === of.partId)?.name ?? 'a part'}`;
  const engine =
    live.card.engines.length > 1 ? ` of ${live.card.engines.find((e) => e.id === of.engineId)?.position ?? ''}` : '';
  return of.what === 'volume'
    ? `the ${TASKS[of.task].word.toLowerCase()}${engine}`
    : of.what === 'hours'
      ? `the hours${engine}`
      : `why the hours${engine} are right`;
}

function said(live: LiveCard, act: CardAct): string {
  switch (act.kind) {
    case 'tick':
      return `${act.done ? 'ticked' : 'took the tick back'}: ${live.byId.get(act.step)?.step.text ?? act.step}`;
    case 'read': {
      const of = readingOf(act.key);
      return `${of ? `${READINGS[of.kind].word}${of.part ? ` ${of.part}` : ''}` : act.key}: ${valueText(act.key, act.value)}`;
    }
    case 'task':
      return act.done ? 'ticked the task' : 'took the task’s tick back';
    case 'pause':
      return act.on ? 'paused the card' : 'went on';
    case 'decide':
      return act.take ? 'took the finding as proposed' : `decided otherwise: ${act.reason ?? ''}`;
    case 'type':
      return `typed ${typedWord(live, act.field)}: ${act.text || 'nothing'}`;
    case 'hold':
      return `held the engine: ${act.why}`;
    case 'remark':
      return `remark: ${act.text}`;
    case 'undecide':
      return 'took the decision back';
    case 'skip':
      return act.why === null ? 'takes the step up again' : `left the step out: ${act.why}`;
    default:
      return act.kind;
  }
}

/** Two people wrote about the same thing without knowing of each other: both are kept, one is said to count. */
export function Conflicts({
  live,
  mayDecide,
  write,
}: {
  live: LiveCard;
  mayDecide: boolean;
  write: (act: CardAct) => Promise<void>;
}) {
  const open = live.state.open;
  if (open.length === 0) return null;
  const other = (e: CardEntry) => live.card.entries.find((x) => x.seq === e.against);
  return (
    <section className="wrong" aria-label="Two entries contradict each other">
      {open.map((e) => {
        const first = other(e);
        return (
          <div key={e.id} className="conflict">
            <p>
              <b>Two entries contradict each other.</b> Both are kept; say which counts.
            </p>
            <ul className="plain-list">
              {first && (
                <li>
                  <b>{live.nameOf(first.by)}</b>, {hourText(first.at)}: {said(live, first.act)}
                </li>
              )}
              <li>
                <b>{live.nameOf(e.by)}</b>, {hourText(e.at)}, without signal then: {said(live, e.act)}
              </li>
            </ul>
            {mayDecide && (
              <div className="tools">
                <Button
                  variant="contained"
                  color="primary"
                  onClick={() => void write({ kind: 'settle', entry: e.id, take: true })}>
                  {live.nameOf(e.by)}’s counts
                </Button>
                <Button onClick={() => void write({ kind: 'settle', entry: e.id, take: false })}>
                  {first ? `${live.nameOf(first.by)}’s counts` : 'It does not count'}
                </Button>
              </div>
            )}
          </div>
        );
      })}
    </section>
  );
}
