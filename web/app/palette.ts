/** Paper and ink by day, the same book by lamp, and full contrast for the dock in the sun. */
export const MODES = ['day', 'dark', 'sun'] as const;
export type Mode = (typeof MODES)[number];

export interface Palette {
  ink: string;
  /** Ink for second things: still 4.5 : 1 on paper. */
  faint: string;
  paper: string;
  /** A sheet lying on the page. */
  sheet: string;
  side: string;
  tab: string;
  rule: string;
  sea: string;
  seaWash: string;
  onSea: string;
  brass: string;
  brassWash: string;
  coral: string;
  coralWash: string;
}

export const PALETTES: Record<Mode, Palette> = {
  day: {
    ink: '#14303A',
    faint: '#4A6068',
    paper: '#FDFCF7',
    sheet: '#FFFFFF',
    side: '#EAE6DA',
    tab: '#DFDACA',
    rule: '#E7E3D6',
    sea: '#1D6F73',
    seaWash: '#D8E9E5',
    onSea: '#FFFFFF',
    brass: '#8A5E0C',
    brassWash: '#F6E8C8',
    coral: '#B23A22',
    coralWash: '#F8DDD5',
  },
  dark: {
    ink: '#EDEAE0',
    faint: '#A9B7BA',
    paper: '#10222A',
    sheet: '#172D36',
    side: '#0B1A20',
    tab: '#1B343E',
    rule: '#2A444E',
    sea: '#6CC5BF',
    seaWash: '#1B4448',
    onSea: '#0B1A20',
    brass: '#E6B75B',
    brassWash: '#45371A',
    coral: '#FF9A80',
    coralWash: '#4E2820',
  },
  sun: {
    ink: '#000000',
    faint: '#1F2B30',
    paper: '#FFFFFF',
    sheet: '#FFFFFF',
    side: '#E6E6E6',
    tab: '#D0D0D0',
    rule: '#7A7A7A',
    sea: '#00474B',
    seaWash: '#CFF2EE',
    onSea: '#FFFFFF',
    brass: '#5C3B00',
    brassWash: '#FFE29A',
    coral: '#8C1500',
    coralWash: '#FFD0C4',
  },
};

const KEY = 'diurna.mode';

/** The mode chosen on this device; without a choice, dark where the device asks for it. */
export function storedMode(): Mode {
  const kept = localStorage.getItem(KEY);
  if (MODES.includes(kept as Mode)) return kept as Mode;
  return matchMedia('(prefers-color-scheme: dark)').matches ? 'dark' : 'day';
}

export function keepMode(mode: Mode): void {
  localStorage.setItem(KEY, mode);
}

/** Sets the palette as custom properties, for the style sheet. */
export function applyPalette(mode: Mode): void {
  const root = document.documentElement;
  root.dataset.mode = mode;
  for (const [name, value] of Object.entries(PALETTES[mode])) {
    root.style.setProperty(`--${name.replaceAll(/[A-Z]/g, (c) => `-${c.toLowerCase()}`)}`, value as string);
  }
}
