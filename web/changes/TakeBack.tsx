import { Button } from '@mui/material';
import { Link } from 'react-router';
import { problemOf } from '../app/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { plural } from '../ui/format.ts';
import { Wrong } from '../ui/parts.tsx';
import { changesApi } from './api.ts';

/** Takes a decision back: its cards stand again where they stood. What was worked on meanwhile is told. */
export function TakeBack({ changeId, quiet = false }: { changeId: number; quiet?: boolean }) {
  const [undo, { isLoading, error }] = changesApi.useUndoChangeMutation();
  const dispatch = useAppDispatch();
  const take = async () => {
    const answer = await undo(changeId);
    if (answer.data)
      dispatch(
        say({
          tone: 'done',
          text: `Taken back: ${plural(answer.data.cards, 'card')} ${answer.data.cards === 1 ? 'stands' : 'stand'} as before. Everybody it touches is told.`,
          changeId: answer.data.id,
        }),
      );
  };
  return (
    <>
      {quiet ? (
        <button type="button" className="link-button" disabled={isLoading} onClick={() => void take()}>
          Take it back
        </button>
      ) : (
        <Button size="small" disabled={isLoading} onClick={() => void take()}>
          Take it back
        </Button>
      )}
      <Wrong error={error} />
      {problemOf(error)?.type === 'worked' && <Link to={`/plan?back=${changeId}`}>Put the rest back in Plan</Link>}
    </>
  );
}
