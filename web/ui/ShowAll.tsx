/** Opens the rest of a long list, and folds it again. */
export function ShowAll({
  all,
  rest,
  less = 'fewer',
  onChange,
}: {
  all: boolean;
  /** How many are not shown while it is folded. */
  rest: number;
  less?: string;
  onChange: (all: boolean) => void;
}) {
  return (
    <button
      type="button"
      className="link-button"
      aria-expanded={all}
      onClick={() => {
        onChange(!all);
      }}>
      {all ? less : `and ${rest} more`}
    </button>
  );
}
