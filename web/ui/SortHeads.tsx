import { TableSortLabel } from '@mui/material';

/** How the lines of a table stand: by which column, and whether the other way round. */
export interface Sorting<K extends string> {
  by: K;
  down: boolean;
}

/** The heads of a table whose lines can be put in order: a press takes the column, another turns it round. */
export function SortHeads<K extends string>({
  of,
  sorting,
  onSort,
}: {
  /** The columns; one without a key cannot be sorted by. */
  of: readonly { word: string; key?: K; num?: boolean }[];
  sorting: Sorting<K>;
  onSort: (next: Sorting<K>) => void;
}) {
  return (
    <thead>
      <tr>
        {of.map(({ word, key, num }) => {
          const here = key !== undefined && sorting.by === key;
          return (
            <th
              scope="col"
              key={word}
              className={num ? 'num' : undefined}
              aria-sort={here ? (sorting.down ? 'descending' : 'ascending') : undefined}>
              {key === undefined ? (
                word
              ) : (
                <TableSortLabel
                  sx={num ? { flexDirection: 'row-reverse' } : undefined}
                  active={here}
                  direction={here && sorting.down ? 'desc' : 'asc'}
                  onClick={() => {
                    onSort({ by: key, down: here && !sorting.down });
                  }}>
                  {word}
                </TableSortLabel>
              )}
            </th>
          );
        })}
      </tr>
    </thead>
  );
}
