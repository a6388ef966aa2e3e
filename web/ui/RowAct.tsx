/** What can be done with a line of a table, in a word; heard, it says with which. */
export function RowAct({ word = 'edit', of, onPress }: { word?: string; of: string; onPress: () => void }) {
  return (
    <button type="button" className="link-button" aria-label={of} onClick={onPress}>
      {word}
    </button>
  );
}
