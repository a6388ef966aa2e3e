// What the tests of a project import from packages, bundled into a few files. Jest reads, checks and links every module
// anew for each test file: the page alone brings 2,000 of them, which took half of the time of its tests.
// @ts-check
import { context } from 'esbuild';
import { mkdirSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';

const root = join(import.meta.dirname, '..');
const TYPES = /^import type [^;]*;/gm;
const IMPORT = /(?:from|import)\s*\(?\s*'([^'.][^']*)'/g;

/**
 * The packages that files of workspaces import, by the names they are imported under.
 * @param {string[]} workspaces @returns {string[]}
 */
function imported(workspaces) {
  const names = workspaces.flatMap((workspace) =>
    readdirSync(join(root, workspace), { recursive: true, encoding: 'utf8' })
      .filter((file) => /\.tsx?$/.test(file) && !file.includes('node_modules'))
      .map((file) => readFileSync(join(root, workspace, file), 'utf8').replaceAll(TYPES, ''))
      .flatMap((text) => [...text.matchAll(IMPORT)].map(([, name]) => name)),
  );
  return [...new Set(names)].filter((name) => /^[@\w][\w./@-]*$/.test(name) && !name.startsWith('node:')).sort();
}

/**
 * Bundles the packages that workspaces import for their tests: those that `wanted` tells of, and `more`. The first of the
 * workspaces is where they are looked for.
 *
 * @param {{ workspaces: string[], platform: 'browser' | 'node', wanted: (name: string) => boolean, more?: string[] }} what
 * @returns {Promise<Record<string, string>>} where each name is found now, for Jest's `moduleNameMapper`
 */
export async function bundledForTests({ workspaces, platform, wanted, more = [] }) {
  const [workspace] = workspaces;
  const folder = join(root, '.cache/test-bundle', workspace, String(process.pid));
  process.once('exit', () => rmSync(folder, { recursive: true, force: true }));
  mkdirSync(folder, { recursive: true });
  const names = [...imported(workspaces).filter(wanted), ...more];
  const require = createRequire(join(root, workspace, 'package.json'));
  const file = (/** @type {string} */ name) => name.replaceAll(/[^\w-]+/g, '_');
  /** @type {Map<string, string>} by name, what stands for it */
  const stubs = new Map(names.map((name) => [name, `export * from '${name}';\nexport { default } from '${name}';`]));
  const bundle = await context({
    absWorkingDir: root,
    entryPoints: Object.fromEntries(names.map((name) => [file(name), `stub:${name}`])),
    outdir: folder,
    outExtension: { '.js': '.mjs' },
    bundle: true,
    splitting: true,
    format: 'esm',
    platform,
    target: 'es2022',
    define: { 'process.env.NODE_ENV': '"test"' },
    metafile: true,
    external: ['highs', 'pg', 'node:*'],
    logLevel: 'silent',
    plugins: [
      {
        name: 'stubs',
        setup(hooks) {
          hooks.onResolve({ filter: /^stub:/ }, ({ path }) => ({ path: path.slice(5), namespace: 'stub' }));
          hooks.onLoad({ filter: /.*/, namespace: 'stub' }, ({ path }) => ({
            contents: stubs.get(path) ?? '',
            resolveDir: join(root, workspace),
          }));
        },
      },
    ],
  });
  /** @type {import('esbuild').BuildFailure | null} */
  const failure = await bundle.rebuild().then(
    () => null,
    (error) => error,
  );
  // Those without a default export say so.
  for (const { location } of failure?.errors ?? []) {
    const name = location?.file.replace(/^stub:/, '') ?? '';
    if (stubs.has(name)) stubs.set(name, `export * from '${name}';`);
  }
  const { metafile } = await bundle.rebuild();
  // Those of the older kind say what they export only when they run.
  for (const name of names) {
    const made = Object.values(metafile.outputs).find((output) => output.entryPoint === `stub:${name}`);
    const only = made?.exports.length === 1 && made.exports[0] === 'default';
    if (only && Object.values(made.inputs).length > 0) stubs.set(name, unpacked(name, require(name)));
  }
  await bundle.rebuild();
  await bundle.dispose();
  return Object.fromEntries(names.map((name) => [`^${name}$`, join(folder, `${file(name)}.mjs`)]));
}

/** @param {string} name @param {Record<string, unknown>} exported */
function unpacked(name, exported) {
  const keys = Object.keys(exported).filter((key) => key !== 'default' && /^[A-Za-z_$][\w$]*$/.test(key));
  return `import all from '${name}';
export default all;
export const { ${keys.join(', ')} } = all;`;
}
