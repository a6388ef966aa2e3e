/** What is listed, each with a way to take it out. */
export function Chips<T extends string>({
  title,
  of,
  word,
  drop,
}: {
  title: string;
  of: readonly T[];
  word: (x: T) => string;
  drop: (x: T) => void;
}) {
  if (of.length === 0) return null;
  return (
    <p className="full">
      {title}:{' '}
      {of.map((x) => (
        <button
          key={x}
          type="button"
          className="chip"
          aria-label={`${word(x)} ×: take it out`}
          onClick={() => {
            drop(x);
          }}>
          {word(x)} ×
        </button>
      ))}
    </p>
  );
}
