import type { TableHTMLAttributes } from 'react';

/** A table, a line for each thing. What is wider than the page scrolls in a frame of its own, by keyboard too. */
export function Lines({ className, ...table }: TableHTMLAttributes<HTMLTableElement>) {
  return (
    <div className="wide" tabIndex={0} role="group" aria-label="Table, scrolls sideways">
      <table {...table} className={className === undefined ? 'lines' : `lines ${className}`} />
    </div>
  );
}
