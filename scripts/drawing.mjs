// Draws docs/architecture.svg from the code: the subjects of core and who uses whom, with who shows them above.
// `npm run drawing`
// @ts-check
import { readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const root = join(import.meta.dirname, '..');
/** @param {string} path @returns {string[]} */
const below = (path) =>
  readdirSync(join(root, path), { withFileTypes: true }).flatMap((e) =>
    ['node_modules', 'test', 'migrations'].includes(e.name)
      ? []
      : e.isDirectory()
        ? below(`${path}/${e.name}`)
        : /(?<!\.test|\.d)\.tsx?$/.test(e.name)
          ? [`${path}/${e.name}`]
          : [],
  );
const subjects = readdirSync(join(root, 'core'), { withFileTypes: true })
  .filter((e) => e.isDirectory() && e.name !== 'node_modules')
  .map((e) => e.name);
/** Which subjects the files of a folder import. @param {string} folder */
const usedBy = (folder) =>
  new Set(
    below(folder).flatMap((f) =>
      [
        ...readFileSync(join(root, f), 'utf8').matchAll(
          /from '(?:@diurna\/core\/|(?:\.\.\/)+)([\w-]+)(?:\/index\.ts)?'/g,
        ),
      ].map((m) => m[1] ?? ''),
    ),
  );
const uses = new Map(subjects.map((s) => [s, [...usedBy(`core/${s}`)].filter((u) => u !== s && subjects.includes(u))]));
/** How deep a subject lies: below all it is used by. @param {string} s @returns {number} */
const depth = (s) => 1 + Math.max(0, ...(uses.get(s) ?? []).map(depth));
const rows = Math.max(...subjects.map(depth));
const layers = ['web', 'server'].map((l) => ({ name: l, uses: usedBy(l) }));

const [W, H, BOX] = [1100, 90, { w: 118, h: 40 }];
/** @type {Map<string, { x: number, y: number }>} */
const at = new Map();
for (let row = 1; row <= rows; row++) {
  const own = subjects.filter((s) => depth(s) === row);
  own.forEach((s, i) => at.set(s, { x: ((i + 1) * W) / (own.length + 1), y: 150 + (rows - row) * H }));
}
const height = 150 + rows * H;
const line = (
  /** @type {number} */ x1,
  /** @type {number} */ y1,
  /** @type {number} */ x2,
  /** @type {number} */ y2,
  /** @type {string} */ color,
) =>
  `<path d="M${x1} ${y1} C ${x1} ${(y1 + y2) / 2}, ${x2} ${(y1 + y2) / 2}, ${x2} ${y2}" fill="none" stroke="${color}" stroke-width="1.2"/>`;
const box = (
  /** @type {string} */ name,
  /** @type {number} */ x,
  /** @type {number} */ y,
  /** @type {string} */ fill,
  w = BOX.w,
) =>
  `<rect x="${x - w / 2}" y="${y - BOX.h / 2}" width="${w}" height="${BOX.h}" rx="6" fill="${fill}" stroke="#14303A"/><text x="${x}" y="${y + 5}" text-anchor="middle">${name}</text>`;
const edges = [...uses].flatMap(([s, list]) =>
  list.map((u) => {
    const [a, b] = [at.get(s), at.get(u)];
    return a && b ? line(a.x, a.y + BOX.h / 2, b.x, b.y - BOX.h / 2, '#A8B4B7') : '';
  }),
);
const svg = `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${W} ${height}" font-family="sans-serif" font-size="15" fill="#14303A" role="img" aria-label="The subjects of core and who uses whom">
<rect width="${W}" height="${height}" fill="#FDFCF7"/>
${edges.join('\n')}
${layers.map(({ name, uses: u }, i) => box(`${name} (${subjects.filter((s) => u.has(s)).length} of ${subjects.length} subjects)`, W * (0.28 + i * 0.44), 50, '#DFDACA', 330)).join('\n')}
<text x="${W / 2}" y="105" text-anchor="middle" fill="#4A6068">contract: shapes and routes of each subject; all arrows point down</text>
${[...at].map(([s, { x, y }]) => box(s, x, y, '#D8E9E5')).join('\n')}
</svg>
`;
writeFileSync(join(root, 'docs/architecture.svg'), svg);
console.log(`docs/architecture.svg: ${subjects.length} subjects, ${edges.length} uses`);
