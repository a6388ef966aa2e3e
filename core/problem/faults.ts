/** What is wrong with a problem from outside, and where: `tasks[3].dayCost`. */
export interface ProblemFault {
  path: string;
  text: string;
}

/** What any problem from outside is held against, beside its shape. */
export interface ProblemCheck {
  faults: ProblemFault[];
  say: (path: string, text: string) => void;
  /** The names of a list, each of which may stand once. */
  names: (list: readonly { id: string }[], where: string) => Set<string>;
  /** A list that has a place for each day. */
  long: (list: readonly unknown[], path: string) => void;
  /** A name that stands elsewhere. */
  known: (id: string, among: ReadonlySet<string>, path: string, what: string) => void;
}

/** Begins a check. @param what what the days are of, in words: "plan" */
export function checkProblem(days: number, what: string): ProblemCheck {
  const faults: ProblemFault[] = [];
  const say = (path: string, text: string) => void faults.push({ path, text });
  return {
    faults,
    say,
    names(list, where) {
      const seen = new Set<string>();
      list.forEach(({ id }, i) => {
        if (seen.has(id)) say(`${where}[${i}].id`, `“${id}” stands twice`);
        seen.add(id);
      });
      return seen;
    },
    long(list, path) {
      if (list.length !== days) say(path, `has ${list.length} days, the ${what} ${days}`);
    },
    known(id, among, path, kind) {
      if (!among.has(id)) say(path, `there is no ${kind} “${id}”`);
    },
  };
}
