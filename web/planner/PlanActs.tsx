import { Button } from '@mui/material';
import { useMay } from '../app/useBook.ts';
import { redone, undone, type PlanState } from './plan-state.ts';

/** What can be done with the plan on the table. */
export function PlanActs({
  state,
  running,
  blocked,
  empty,
  comparing,
  onCompare,
  onTurn,
  onPlan,
  onStop,
  onAccept,
  reviewing,
}: {
  state: PlanState;
  running: boolean;
  /** Not to be accepted now. */
  blocked: boolean;
  empty: boolean;
  comparing: boolean;
  onCompare: (on: boolean) => void;
  onTurn: (to: (old: PlanState) => PlanState) => void;
  onPlan: () => void;
  onStop: () => void;
  onAccept: () => void;
  /** What accepting does is on the table. */
  reviewing: boolean;
}) {
  const maySteer = useMay('administrator', 'coordinator');
  const edited = state.now !== state.standing;
  return (
    <div className="acts">
      <Button
        onClick={() => {
          onTurn(undone);
        }}
        disabled={state.past.length === 0 || running}
        title="Ctrl Z">
        Undo
      </Button>
      <Button
        onClick={() => {
          onTurn(redone);
        }}
        disabled={state.future.length === 0 || running}
        title="Ctrl Shift Z">
        Redo
      </Button>
      <Button
        onClick={() => {
          onCompare(!comparing);
        }}
        aria-expanded={comparing}>
        Compare
      </Button>
      {maySteer && running && (
        <Button variant="contained" onClick={onStop}>
          Stop, keep this
        </Button>
      )}
      {maySteer && !running && (
        <Button variant={edited ? 'outlined' : 'contained'} onClick={onPlan}>
          {empty ? 'Plan' : 'Plan again'}
        </Button>
      )}
      {maySteer && (
        <Button
          variant="contained"
          color="primary"
          disabled={!edited || running || blocked}
          aria-expanded={reviewing}
          onClick={onAccept}>
          Accept
        </Button>
      )}
    </div>
  );
}
