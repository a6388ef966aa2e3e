import { routes, type RouteName } from '@diurna/contract';
import { useMe } from '../app/useBook.ts';

/** Pages of the room, each with what it reads first. */
const LEAVES: [to: string, word: string, reads: RouteName][] = [
  ['/records', 'Service log', 'listEntries'],
  ['/records/waste', 'Used oil and waste', 'listWaste'],
  ['/records/audit', 'Who changed what', 'audit'],
  ['/records/mail', 'Mail', 'listMail'],
  ['/records/background', 'Work behind the scenes', 'listBackground'],
  ['/records/last-day', 'The last day', 'lastDay'],
];

/** The pages of the room that are open to whoever is signed in. */
export function useRecordLeaves(): [to: string, word: string][] {
  const { role } = useMe();
  return LEAVES.filter(([, , reads]) => (routes[reads].roles as readonly string[]).includes(role)).map(([to, word]) => [
    to,
    word,
  ]);
}
