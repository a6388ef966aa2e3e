export const RECORD_LEAVES: [string, string][] = [
  ['/records', 'Service log'],
  ['/records/audit', 'Who changed what'],
];
