import { Button } from '@mui/material';
import type { TaskKind } from '@diurna/core/service';
import { useEffect, useState } from 'react';
import { Entry } from '../ui/parts.tsx';
import { problemOf } from '../app/api.ts';
import { jobsApi } from './api.ts';

/** Fewer letters are no reason. */
const LEAST_REASON = 3;

/** What is against work as it is asked for, what would free it, and the reason it is handed out for all the same. */
export function Against({
  reasons,
  insist = '',
  onInsist,
}: {
  reasons: readonly { bar: string; text: string; frees: string | null }[];
  insist?: string;
  /** Left out where the reason is asked for elsewhere. */
  onInsist?: (text: string) => void;
}) {
  if (reasons.length === 0) return null;
  return (
    <div className="wrong against" role="status">
      <p>
        <b>{reasons.length === 1 ? 'One thing is against it.' : `${reasons.length} things are against it.`}</b>
      </p>
      <ul>
        {reasons.map((r) => (
          <li key={`${r.bar} ${r.text}`}>
            {r.text} {r.frees !== null && <span className="faint">{r.frees}</span>}
          </li>
        ))}
      </ul>
      {onInsist && (
        <Entry full label="Why it is handed out all the same" value={insist} maxLength={300} onType={onInsist} />
      )}
    </div>
  );
}

interface Asked {
  boatId: number;
  tasks: readonly { engineId: number; task: TaskKind }[];
  technicianId: number | '' | undefined;
  day: string;
  /** The card it stands on. */
  jobId?: number;
}

/**
 * What is against work while it is being put together, and the reason somebody gives all the same.
 * @param skip nothing is asked for yet
 * @param error what the book answered last: refused for what is against it, it is looked at anew
 */
export function useAgainst({ boatId, tasks, technicianId, day, jobId }: Asked, skip: boolean, error?: unknown) {
  const [insist, setInsist] = useState('');
  const whole = technicianId !== '' && technicianId !== undefined && day !== '';
  const preview = jobsApi.usePreviewJobQuery(
    {
      boatId,
      tasks: [...tasks],
      ...(whole && { meant: { technicianId, day, ...(jobId !== undefined && { jobId }) } }),
    },
    { skip: skip || tasks.length === 0 },
  );
  const { refetch } = preview;
  const refused = !skip && tasks.length > 0 && problemOf(error)?.type === 'questioned';
  useEffect(() => {
    if (refused) void refetch();
  }, [refused, refetch]);
  const reasons = skip || tasks.length === 0 ? [] : (preview.currentData?.against ?? []);
  const given = insist.trim();
  return {
    preview,
    reasons,
    /** It was looked at, and nothing is against it, or somebody said why. */
    ready: !preview.isFetching && (reasons.length === 0 || given.length >= LEAST_REASON),
    /** What goes with the request. */
    said: reasons.length > 0 && given.length >= LEAST_REASON ? { insist: given } : {},
    insist,
    setInsist,
  };
}

/** After a refusal for what is against it: the same again, with the reason. Its words stand in the refusal. */
export function AllTheSame({ error, onGive }: { error: unknown; onGive: (reason: string) => void }) {
  const [text, setText] = useState('');
  if (problemOf(error)?.type !== 'questioned') return null;
  return (
    <div className="tools">
      <Entry full label="Why it is done all the same" value={text} maxLength={300} onType={setText} />
      <Button
        disabled={text.trim().length < LEAST_REASON}
        onClick={() => {
          onGive(text.trim());
        }}>
        Do it all the same
      </Button>
    </div>
  );
}
