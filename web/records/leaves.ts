export const RECORD_LEAVES: [string, string][] = [
  ['/records', 'Service log'],
  ['/records/waste', 'Used oil and waste'],
  ['/records/audit', 'Who changed what'],
];
