export { type LiveCard } from './live-card.ts';
