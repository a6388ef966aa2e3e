export { BreakIn } from './BreakIn.tsx';
export { VisitPanel } from './VisitPanel.tsx';
