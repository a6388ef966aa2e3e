import { TASKS, type TaskKind } from '@diurna/core/service';
import type { ReactNode } from 'react';

/** Our own drawings on a 24 x 24 sheet, one for each kind of work. */
const DRAWINGS: Record<TaskKind, ReactNode> = {
  // A drop.
  'engine-oil': <path d="M12 3.2C8.6 8 6.4 11 6.4 14.4a5.6 5.6 0 0 0 11.2 0C17.6 11 15.4 8 12 3.2Z" />,
  // A ribbed canister with its cap.
  'oil-filter': (
    <>
      <path d="M7 8.5h10V20a1.2 1.2 0 0 1-1.2 1.2H8.2A1.2 1.2 0 0 1 7 20Z" />
      <path d="M5.6 5.6h12.8v2.9H5.6ZM9.6 5.6V3.2h4.8v2.4M10 12v5.8M14 12v5.8" />
    </>
  ),
  // A gear case: torpedo, skeg and shaft.
  'gear-lube': (
    <>
      <path d="M11 3h3v7h3.6a3 3 0 0 1 3 3 3 3 0 0 1-3 3H8.4c-2.4 0-4-1.2-4.8-3 .8-1.800 2.400-3 4.800-3H11Z" />
      <path d="M11 16l-1 5h4.500l1.500-5M20.600 13H23" />
    </>
  ),
  // A spark plug.
  'spark-plugs': <path d="M12 2.500v3M9.800 5.500h4.400v5.300H9.800ZM7.600 10.800h8.800v3.600H7.600ZM9.600 14.400h4.800v4.200H9.600ZM12 18.600v2M12 22.300h3.400v-2.700" />,
  // A wheel with six swept vanes.
  impeller: (
    <>
      <circle cx="12" cy="12" r="2.600" />
      {[0, 60, 120, 180, 240, 300].map((angle) => (
        <path key={angle} d="M12 9.400C12.200 7 13.600 4.800 16.200 3.800" transform={`rotate(${angle} 12 12)`} />
      ))}
    </>
  ),
};

interface Props {
  task: TaskKind;
  size?: number;
  /** Left out, the glyph speaks its word itself; true where the word stands beside it. */
  silent?: boolean;
}

export function TaskGlyph({ task, size = 22, silent = false }: Props) {
  const word = TASKS[task].word;
  return (
    <svg
      width={size} height={size} viewBox="0 0 24 24" fill="none" stroke="currentColor" strokeWidth={1.7}
      strokeLinejoin="round" strokeLinecap="round" className="glyph"
      {...(silent ? { 'aria-hidden': true } : { role: 'img', 'aria-label': word })}
    >
      {!silent && <title>{word}</title>}
      {DRAWINGS[task]}
    </svg>
  );
}
