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
      {[0, 60, 120, 180, 240, 300].map((angle) => (
        <path key={angle} d="M12 9.100V7" transform={`rotate(${angle} 12 11.5)`} />
      ))}
    </>
  ),
  // A spark plug.
  'spark-plugs': (
    <path d="M12 2.500v3M9.800 5.500h4.400v5.300H9.800ZM7.600 10.800h8.800v3.600H7.600ZM9.600 14.400h4.800v4.200H9.600ZM12 18.600v2M12 22.300h3.400v-2.700" />
  ),
  // A wheel with six swept vanes.
  impeller: (
    <>
      <circle cx="12" cy="12" r="2.600" />
      {[0, 60, 120, 180, 240, 300].map((angle) => (
        <path key={angle} d="M12 9.400C12.200 7 13.600 4.800 16.200 3.800" transform={`rotate(${angle} 12 12)`} />
      ))}
    </>
  ),
  // A small canister between two hose ends.
  'fuel-filter': <path d="M2 12h4M18 12h4M6 7.500h12v9H6ZM10 7.500v9M14 7.500v9" />,
  // A bowl with a line between fuel and water.
  separator: (
    <path d="M6 3.500h12v4H6ZM7.500 7.500v7.500a4.500 4.500 0 0 0 9 0V7.500M7.500 14.500c1.500-1 3 1 4.500 0s3 1 4.500 0M12 19.500v2.500" />
  ),
  // A disc with its spring.
  thermostat: <path d="M4 9.500h16M12 9.500V4M9 4h6M8 9.500l8 2.500-8 2.500 8 2.500-8 2.500h8" />,
  // A plate eaten at one edge.
  anodes: <path d="M4 6h16v7l-2 1.500-1.500-1-2 3-2-1.500-2.500 3-1.500-2.500L6 17l-2-2ZM9 9.500h.01M15 9.500h.01" />,
  // A grease nipple with a drop of grease.
  grease: (
    <path d="M9 21v-6h6v6M10 15v-3.500h4V15M12 11.500V9M9.500 9h5M12 2.500c-1.200 1.700-1.700 2.500-1.700 3.300a1.700 1.700 0 0 0 3.400 0c0-.800-.500-1.600-1.700-3.300Z" />
  ),
  // Two blades on a shaft.
  'prop-shaft': (
    <path d="M2 12h8M14 12h8M12 10c-3-2-4-6-1.500-7.500S15 5 13.500 10.200M12 14c3 2 4 6 1.500 7.500S9 19 10.500 13.800M10 12a2 2 0 1 0 4 0 2 2 0 0 0-4 0Z" />
  ),
  // A gauge with its hand.
  compression: <path d="M4 15a8 8 0 1 1 16 0M12 15l4-5M4 15h2.500M17.500 15H20M12 7v2M9 21h6M12 17v4" />,
  // An eye.
  'look-over': (
    <path d="M2.500 12C5 7.500 8.300 5.500 12 5.500s7 2 9.500 6.500c-2.500 4.500-5.800 6.500-9.500 6.500s-7-2-9.500-6.500ZM9 12a3 3 0 1 0 6 0 3 3 0 0 0-6 0Z" />
  ),
  // A boat that comes back.
  'first-outing': <path d="M3 15h18l-2.500 5h-13ZM12 15V4M12 5l6 6h-6M9.500 8 6.500 5M6.500 8.200V5h3.200" />,
  // A dipstick with its two marks.
  'oil-level': <path d="M9 3h6M12 3v18M9.500 12h5M9.500 17h5M16.500 14.500h4M18.500 12.500v4" />,
  // A battery and a meter's hand over it.
  'battery-check': <path d="M4 10h16v10H4ZM7 10V7h3v3M14 10V7h3v3M8 17l4-4M12 13h-2.500M12 13v2.500" />,
  // A hand that turns on from the first hour.
  'running-in': <path d="M12 4a8 8 0 1 0 8 8M12 4v4M12 12l3.500-3.500M16 4.500h4v4" />,
  // A ring with a lip.
  'gear-seals': <path d="M4 12a8 8 0 1 0 16 0 8 8 0 0 0-16 0ZM8 12a4 4 0 1 0 8 0 4 4 0 0 0-8 0ZM12 4v4M12 16v4" />,
  // Two cogs that meet.
  'gear-inspection': (
    <path d="M5 9a3.500 3.500 0 1 0 7 0 3.500 3.500 0 0 0-7 0ZM8.500 3.500v2M8.500 12.500v2M3 9h2M12 9h2M12.500 16a3 3 0 1 0 6 0 3 3 0 0 0-6 0ZM15.500 11.500V13M15.500 19v1.500M18.500 16H20M11 16h1.500" />
  ),
  // A fuel drop and a spanner.
  'fuel-repair': (
    <path d="M7.500 3.500C5.500 6.500 4 8.500 4 10.800a3.500 3.500 0 0 0 7 0c0-2.300-1.500-4.300-3.500-7.300ZM13 21l5.500-5.500M17 12.500a3.500 3.500 0 0 0 4.500 4.500M17 12.500l2.500 2.500M21.500 17" />
  ),
  // A cylinder with air escaping.
  'leak-down': <path d="M6 5h8v14H6ZM6 10h8M10 10v4M17 7c2 0 2-2 4-2M17 12c2 0 2-2 4-2M17 17c2 0 2-2 4-2" />,
  // A lens over filings.
  'oil-trace': (
    <path d="M4 10a6 6 0 1 0 12 0 6 6 0 0 0-12 0ZM14.500 14.500 21 21M8 9l1.500 1.500M11.500 8l-.500 2M9 12.500h2" />
  ),
  // A gauge on a drop.
  'oil-pressure': (
    <path d="M4 11a8 8 0 1 1 16 0M12 11l4.500-3.500M4 11h2.500M17.500 11H20M12 14c-1.500 2-2.200 3-2.200 4.200a2.200 2.200 0 0 0 4.400 0c0-1.200-.700-2.200-2.200-4.200Z" />
  ),
  // A winding passage.
  passages: <path d="M4 4v6a3 3 0 0 0 6 0V8a3 3 0 0 1 6 0v8a3 3 0 0 0 4 2.800M10 20l-2-2 2-2M4 18h4" />,
  // Two plates and the wire between.
  bonding: <path d="M3 5h5v5H3ZM16 14h5v5h-5ZM8 7.500h4v9h4" />,
  // A tank with its cap.
  'tank-check': <path d="M3 9h18v10H3ZM7 9V6h4v3M3 15c2-1.200 4 1.200 6 0s4 1.200 6 0 4 1.200 6 0" />,
  // Water over a hose end.
  flush: (
    <path d="M4 6h8v4H4ZM12 8h4a4 4 0 0 1 4 4v1M20 16v1M17.500 18v1M20 20v1M6 14c1.500-1 3 1 4.500 0M5 18c1.500-1 3 1 4.500 0" />
  ),
  // A bottle with a measure.
  stabiliser: <path d="M9 3h6v4l2 2.500V21H7V9.500L9 7ZM7 13h4M7 17h4" />,
  // A can that sprays.
  fogging: <path d="M4 9h7v12H4ZM6 9V6h3v3M9 7h2M14 5h.01M14 8h.01M17 4h.01M17 7h.01M17 10h.01M20 6h.01M20 9h.01" />,
  // A bowl with its screw.
  bowls: <path d="M5 6h14v5a7 7 0 0 1-14 0ZM12 18v3M10 21h4M3 6h18" />,
  // A snow crystal.
  antifreeze: (
    <path d="M12 3v18M4.200 7.500l15.600 9M19.800 7.500l-15.600 9M9.500 4.500 12 6.500l2.500-2M9.500 19.500l2.500-2 2.500 2" />
  ),
  // A rod in its tube.
  'steering-rod': <path d="M3 10h11v4H3ZM14 12h5M19 12a1.500 1.500 0 1 0 3 0 1.500 1.500 0 0 0-3 0ZM6 10v4" />,
  // A jerrycan with its spout, and a level near the top.
  'second-dose': <path d="M5 8h10l4 4v10H5ZM8 8V4h5v4M15 8l4-3M7.500 12.500h9" />,
  // A sun coming up over the water.
  'spring-run': (
    <path d="M3 16.500c1.500-1 3-1 4.500 0s3 1 4.500 0 3-1 4.500 0 3 1 4.500 0M7 13a5 5 0 0 1 10 0M12 3v3M4 9l2 1.500M20 9l-2 1.500M6 21h12" />
  ),
  // A boat under its cover.
  hull: <path d="M3 13h18l-3 7H6ZM4 13c2-5 5-8 8-8s6 3 8 8M12 5v8M8 20v1.500M16 20v1.500" />,
  // A battery with its poles.
  battery: <path d="M3 8h18v11H3ZM6 8V5h3v3M15 8V5h3v3M6 13h4M14 13h4M16 11v4" />,
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
      width={size}
      height={size}
      viewBox="0 0 24 24"
      fill="none"
      stroke="currentColor"
      strokeWidth={1.7}
      strokeLinejoin="round"
      strokeLinecap="round"
      className="glyph"
      {...(silent ? { 'aria-hidden': true } : { role: 'img', 'aria-label': word })}>
      {!silent && <title>{word}</title>}
      {DRAWINGS[task]}
    </svg>
  );
}
