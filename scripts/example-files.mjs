// Writes the example files of demo/files anew: the demo fleet as it stands on one fixed day.
// Run with: npx tsx scripts/example-files.mjs
// @ts-check
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { deskCalendar } from '../demo/hires.ts';
import { DEMO_ZONE, scenario } from '../demo/scenario.ts';

const DAY = '2026-05-14';
const { desk, ...files } = scenario(DAY);
const write = (/** @type {string} */ name, /** @type {string} */ text) => {
  writeFileSync(join(import.meta.dirname, '../demo/files', name), text);
};
for (const [kind, text] of Object.entries(files)) write(`${kind}.csv`, `${text}\r\n`);
write('larkspur.ics', deskCalendar(desk, DEMO_ZONE, DAY));
