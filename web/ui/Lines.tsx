import { useLayoutEffect, useRef, type TableHTMLAttributes } from 'react';

/**
 * A table, a line for each thing. What is wider than the page scrolls in a frame of its own, by keyboard too. One that
 * stands as cards on a phone has no heads there: each figure says what it is.
 */
export function Lines({ className, ...table }: TableHTMLAttributes<HTMLTableElement>) {
  const own = useRef<HTMLTableElement>(null);
  const cards = className?.includes('as-cards') ?? false;
  useLayoutEffect(() => {
    if (cards && own.current) nameFigures(own.current);
  });
  return (
    <div className="wide" tabIndex={0} role="group" aria-label="Table, scrolls sideways">
      <table {...table} ref={own} className={className === undefined ? 'lines' : `lines ${className}`} />
    </div>
  );
}

/** Writes the head of its column on each cell of figures, for the style sheet to show. */
function nameFigures(table: HTMLTableElement): void {
  const heads = [...(table.tHead?.rows[0]?.cells ?? [])].map((h) => h.textContent);
  for (const body of table.tBodies)
    for (const row of body.rows)
      for (const cell of row.cells)
        if (cell.localName === 'td' && cell.classList.contains('num')) cell.dataset.head = heads[cell.cellIndex] ?? '';
}
