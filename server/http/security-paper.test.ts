import { expect, test } from '@jest/globals';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';

const root = join(import.meta.dirname, '../..');
const paper = readFileSync(join(root, 'docs/security.md'), 'utf8');
/** Rows of the table: what is asked, and the test that keeps it. */
const rows = paper
  .split('\n')
  .filter((line) => line.startsWith('| ') && !line.startsWith('| ASVS'))
  .map((line) => line.split('|').map((cell) => cell.trim()));

test('every row of the table names a test that is there', () => {
  const lost = rows.flatMap(([, asvs, , , named = '']) => {
    const found = /^`([^`]+)`: (.+)$/.exec(named);
    if (!found) return [`${asvs}: names no test`];
    const [, file, title] = found;
    const text = readFileSync(join(root, file!), 'utf8');
    return text.includes(title!) ? [] : [`${asvs}: ${file} has no "${title}"`];
  });
  expect(lost).toEqual([]);
  expect(rows.length).toBeGreaterThan(35);
});
