// Writes the example files of demo/files anew: the demo fleet as it stands on one fixed day.
// Run with: npx tsx scripts/example-files.mjs
// @ts-check
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { scenario } from '../demo/scenario.ts';

const files = scenario('2026-05-14');
for (const [kind, text] of Object.entries(files)) writeFileSync(join(import.meta.dirname, `../demo/files/${kind}.csv`), `${text}\r\n`);
