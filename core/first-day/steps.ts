import { plural } from '../units/index.ts';

/** What the book holds, as far as a yard that begins needs it. */
export interface BookCounts {
  bases: number;
  models: number;
  boats: number;
  /** Boats in use without an engine. */
  boatsBare: number;
  engines: number;
  /** Engines whose meter was never read. */
  unread: number;
  /** Engines without a meter. */
  meterless: number;
  technicians: number;
  /** Technicians who may take a lower unit off. */
  lowerUnits: number;
  /** Hires that have not ended. */
  hires: number;
  parts: number;
}

export interface FirstStep {
  key: 'base' | 'model' | 'boat' | 'reading' | 'person' | 'hire' | 'part';
  word: string;
  /** Why it matters. */
  why: string;
  /** Where it is done. */
  to: string;
  done: boolean;
  /** What is still missing, in words; null = nothing. */
  missing: string | null;
  /** Without it nothing falls due or can be planned. */
  needed: boolean;
}

type Key = FirstStep['key'];

const STEPS: readonly Omit<FirstStep, 'done' | 'missing'>[] = [
  {
    key: 'base',
    word: 'Where the boats lie',
    why: 'Days, working hours, the break and the lift are counted by the base.',
    to: '/fleet/bases',
    needed: true,
  },
  {
    key: 'model',
    word: 'Engine models',
    why: 'A model brings its programme: what is due after how many hours and months. Volumes and torques go onto the cards.',
    to: '/fleet/models/new',
    needed: true,
  },
  {
    key: 'boat',
    word: 'Boats with their engines',
    why: 'By form, or all at once from a file. Each engine hangs on a boat, with its serial.',
    to: '/fleet',
    needed: true,
  },
  {
    key: 'reading',
    word: 'What the meters show',
    why: 'Limits count in hours. Until a meter is read, what falls due is guessed from the calendar.',
    to: '/day/hours',
    needed: true,
  },
  {
    key: 'person',
    word: 'Who does the work',
    why: 'Plans need to know who works when, and who may take a lower unit off.',
    to: '/yard',
    needed: true,
  },
  {
    key: 'hire',
    word: 'When boats go out',
    why: 'Work is planned into the gaps between hires, and hours ahead are forecast from them.',
    to: '/fleet/hires',
    needed: false,
  },
  {
    key: 'part',
    word: 'Parts on the shelf',
    why: 'Cards say what to pick, plans wait for what is not there, and stores see what runs short.',
    to: '/fleet/files',
    needed: false,
  },
];

/** What is still missing of each step, in words; null = nothing. */
const MISSING: Record<Key, (c: BookCounts) => string | null> = {
  base: (c) => (c.bases === 0 ? 'no base yet' : null),
  model: (c) => (c.models === 0 ? 'no model yet' : null),
  boat: (c) => {
    if (c.boats === 0) return 'no boat yet';
    if (c.boatsBare > 0) return `${plural(c.boatsBare, 'boat')} without an engine`;
    return c.engines === 0 ? 'no engine yet' : null;
  },
  reading: (c) => {
    if (c.engines === 0) return 'engines first';
    if (c.unread > 0) return plural(c.unread, 'meter was never read', 'meters were never read');
    return c.meterless === c.engines ? 'no engine has a meter' : null;
  },
  person: (c) => {
    if (c.technicians === 0) return 'no technician yet';
    return c.lowerUnits === 0 ? 'nobody may take a lower unit off: pumps and seals find no place in a plan' : null;
  },
  hire: (c) => (c.hires === 0 ? 'no hire ahead: every boat counts as always there' : null),
  part: (c) => (c.parts === 0 ? 'no part yet' : null),
};

/** What a yard enters first, in the order in which each leads to the next, with what is still missing. */
export const firstSteps = (counts: BookCounts): FirstStep[] =>
  STEPS.map((s) => {
    const missing = MISSING[s.key](counts);
    return { ...s, missing, done: missing === null };
  });

/** Whether the book is still being set up: something is missing without which nothing falls due or can be planned. */
export const settingUp = (steps: readonly FirstStep[]): boolean => steps.some((s) => s.needed && !s.done);
