import { Entry } from '../ui/parts.tsx';

/** A first and a last day; the last is never before the first. */
export function DaySpan({
  words: [from, until],
  span: [first, last],
  onChange,
}: {
  words: readonly [from: string, until: string];
  span: readonly [first: string, last: string];
  onChange: (span: readonly [first: string, last: string]) => void;
}) {
  return (
    <>
      <Entry
        kind="date"
        label={from}
        value={first}
        onType={(day) => {
          onChange([day, last < day ? day : last]);
        }}
      />
      <Entry
        kind="date"
        label={until}
        value={last}
        min={first}
        onType={(day) => {
          onChange([first, day < first ? first : day]);
        }}
      />
    </>
  );
}
