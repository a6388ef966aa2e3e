import type { BoardReply } from '@diurna/contract/planner';
import type { PickedUp, PlannedVisit } from '@diurna/core/planner';
import type { ComponentProps } from 'react';
import { Picked } from './Picked.tsx';
import { PlanSide } from './PlanSide.tsx';
import { WhatIfs } from './WhatIfs.tsx';
import './plan-aside.css';

/** Beside the plan: why the visit that is picked up stands there, else what has no place and what would free it. */
export function PlanAside({
  board,
  thread,
  ready,
  settled,
  visits,
  shown,
  wanted,
  picked,
  pins,
  mayMove,
  setPicked,
  pin,
  leaveOut,
}: Omit<ComponentProps<typeof Picked>, 'picked'> &
  Pick<ComponentProps<typeof PlanSide>, 'ready' | 'settled' | 'wanted'> & {
    picked: PickedUp | null;
    /** The visits on the grid, which a plan on its way changes. */
    shown: PlannedVisit[];
  }) {
  return (
    <aside className="side" aria-label={picked ? 'Why here' : 'Not placed'}>
      {picked && (
        <Picked
          board={board}
          thread={thread}
          visits={visits}
          picked={picked}
          pins={pins}
          mayMove={mayMove}
          setPicked={setPicked}
          pin={pin}
          leaveOut={leaveOut}
        />
      )}
      {/* What stands takes its place; beside what stands nowhere the others are still to be seen. */}
      {picked?.from == null && (
        <>
          <PlanSide
            board={board}
            thread={thread}
            ready={ready}
            visits={shown}
            settled={settled}
            wanted={wanted}
            pick={(task) => {
              setPicked({ boat: String(boatOfTask(board, task)), from: null, tasks: [task] });
            }}
          />
          <WhatIfs board={board} visits={visits} />
          <p className="faint">
            Pick up a visit to see what every other place would cost, and why it stands where it does. By keyboard:
            arrows, Enter picks up and puts down, P pins, Delete leaves out, Esc puts back.
          </p>
        </>
      )}
    </aside>
  );
}

const boatOfTask = (board: BoardReply, task: string) =>
  board.problem.engines.find((e) => e.id === board.problem.tasks.find((t) => t.id === task)?.engine)?.boat;
