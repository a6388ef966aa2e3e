import { TASKS, type TaskKind } from '@diurna/core/service';
import type { ReactNode } from 'react';

/** Our own drawings on a 24 x 24 sheet, one for each kind of work. */
const DRAWINGS: Record<TaskKind, ReactNode> = {
  // A drop.
  'engine-oil': <path d="M12 3.2C8.6 8 6.4 11 6.4 14.4a5.6 5.6 0 0 0 11.2 0C17.6 11 15.4 8 12 3.2Z" />,
  // A spin-on canister: round top with its thread, a band, a domed foot.
  'oil-filter': (
    <>
      <path d="M5.5 8v8.500c0 2.600 2.900 4.500 6.500 4.500s6.500-1.900 6.500-4.500V8" />
      <ellipse cx="12" cy="8" rx="6.500" ry="2.600" />
      <path d="M10.200 7.400V3h3.600v4.400M5.500 12.500c0 1.400 2.900 2.600 6.500 2.600s6.500-1.200 6.500-2.600" />
    </>
  ),
  // A cog in its case, with the drain screw below.
  'gear-lube': (
    <>
      <path d="M4 12a8 8 0 0 1 16 0v3a4 4 0 0 1-4 4H8a4 4 0 0 1-4-4ZM10.500 19v2.500h3V19" />
      <circle cx="12" cy="11.500" r="2.400" />
      {[0, 60, 120, 180, 240, 300].map((angle) => <path key={angle} d="M12 9.100V7" transform={`rotate(${angle} 12 11.5)`} />)}
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
