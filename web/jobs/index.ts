export { type LiveCard } from './live-card.ts';
export { Against, AllTheSame, useAgainst } from './Against.tsx';
