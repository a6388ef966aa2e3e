export { type LiveCard } from './live-card.ts';
export { Several, type SeveralLine } from './Several.tsx';
export { Against, AllTheSame, useAgainst } from './Against.tsx';
export { dealOut } from './deal-out.ts';
