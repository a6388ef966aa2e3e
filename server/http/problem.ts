import type { Fault, Problem } from '@diurna/contract';
import { STATUS_CODES } from 'node:http';

/** An error meant for the person: a status and sentences that say what to do (RFC 9457). */
export class HttpProblem extends Error {
  readonly status: number;
  readonly faults: Fault[] | undefined;
  readonly type:
    | 'about:blank'
    | 'questioned'
    | 'short'
    | 'kept'
    | 'stale'
    | 'impossible'
    | 'second-factor'
    | 'already'
    | 'worked';
  /** After how many seconds to try again, where that is known. */
  readonly again: number | undefined;

  /**
   * @param type `questioned`: figures that may be confirmed with a reason; `short`: the shelf has too
   *             little, a person may go on and mark it where the book allows it; `kept`: open cards want it; `impossible`: a plan that
   *             breaks a rule; `second-factor`: the code of the authenticator is asked as well;
   *             `already`: done by an earlier sending whose answer is lost; `worked`: a decision whose
   *             cards were worked on or changed since.
   */
  constructor(
    status: number,
    detail: string,
    faults?: Fault[],
    type: HttpProblem['type'] = 'about:blank',
    again?: number,
  ) {
    super(detail);
    this.status = status;
    this.faults = faults;
    this.type = type;
    this.again = again;
  }

  body(instance?: string): Problem {
    return {
      type: this.type,
      title: STATUS_CODES[this.status] ?? 'Error',
      status: this.status,
      detail: this.message,
      ...(instance && { instance }),
      ...(this.faults && { faults: this.faults }),
    };
  }
}

export const notFound = (what: string) =>
  new HttpProblem(404, `There is no such ${what}. It may have been removed, or the link is old.`);

/** Two people at once: the later one is told, nothing is overwritten. */
export const stale = (what: string) =>
  new HttpProblem(
    409,
    `Someone else changed this ${what} while you had it open. Load it again, then make your change.`,
  );

/** One fault at one place. */
export const faulty = (path: string, text: string) => new HttpProblem(422, text, [{ path, text }]);

/** Unique and foreign keys in words; by the constraint's name. */
const CONSTRAINTS: Record<string, [path: string, text: string]> = {
  base_name: ['name', 'Another base has this name. Choose a different one.'],
  base_break: ['breakTo', 'The break does not fit between these two times. Make it shorter, or the stretch longer.'],
  boat_name: ['name', 'Another boat in the fleet has this name. Choose a different one, or retire the other first.'],
  engine_model_name: ['name', 'This maker already has a model of that name.'],
  engine_serial: ['serial', 'An engine of this model with this serial is already in the book.'],
  engine_position_once: ['position', 'That position on the boat is taken. Move or retire the engine there first.'],
  engine_new_has_day: ['inServiceOn', 'An engine bought new needs the day it went into service.'],
  person_username: ['username', 'Someone already signs in with this name. Choose a different one.'],
  gateway_name: ['name', 'Another box has this name. Choose a different one.'],
  part_number: ['number', 'This part number is already on the shelf list.'],
  supplier_name: ['name', 'A supplier of this name is written down already.'],
  fitment_once: ['fitments', 'The same fitment stands twice: same model, task and serials.'],
  job_task_once: ['tasks', 'One of these tasks is already on another open job. Load the list again.'],
  meter_days: ['day', 'The meter cannot come off before it was fitted.'],
  service_entry_cancelled_once: ['id', 'This entry is already cancelled.'],
};

/** The sentence for a constraint the database refused, or null when it is not one of ours. */
export function problemOfDatabase(error: unknown): HttpProblem | null {
  const cause = (error as { cause?: unknown }).cause ?? error;
  const { code, constraint } = cause as { code?: string; constraint?: string };
  if (constraint && CONSTRAINTS[constraint]) {
    const [path, text] = CONSTRAINTS[constraint];
    return new HttpProblem(code === '23505' ? 409 : 422, text, [{ path, text }]);
  }
  if (code === '23505') {
    return new HttpProblem(409, 'The same is in the book already. Load the page again and look.');
  }
  if (code === '23503') {
    return new HttpProblem(422, 'Something this names is no longer in the book. Load the page again.');
  }
  if (code === '23514' || code === '22003' || code === '22P02') {
    return new HttpProblem(422, 'A figure is outside of what the book can hold. Check what was typed.');
  }
  if (code === '40P01' || code === '40001') {
    return new HttpProblem(409, 'Two people wrote at the same moment. Nothing was lost; try again.');
  }
  if (code === '53100') {
    return new HttpProblem(507, 'The disk is full, nothing was written. Make room, then try again.');
  }
  return null;
}

/** Said where a boat was chosen that somebody has retired meanwhile. */
export const BOAT_GONE = 'This boat is not in the fleet any more. Choose another.';
/** Said where work is put on a day gone by. */
export const DAY_OVER = 'That day is over. Choose today or a later day.';
